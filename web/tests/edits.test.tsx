/** Edits of a week: one after another, each with what the one before left; a refusal loses nothing. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, screen, waitFor } from "@testing-library/react";
import { App } from "antd";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { http, type AnyEdit, type Overview } from "../src/api/client";
import { keys } from "../src/api/queries";
import { useEdits } from "../src/features/week/useEdits";

const WEEK = "2026-W49";
const days = Array.from({ length: 7 }, (_, n) => `2026-12-0${n + 1}`);
const week = (edits: number) => ({ week: WEEK, edits, days }) as unknown as Overview;
const done = (edits: number, more: object = {}) => ({
  data: { label: `Edit ${edits}`, notes: [], arisen: [], week: week(edits), ...more },
  response: { ok: true, status: 200 },
});
const refused = (status: number, code: string, title: string) => ({
  error: { code, title },
  response: { ok: false, status },
});
const put = (job: string): AnyEdit => ({ kind: "put", jobs: [job], day: "2026-12-01" });

const begin = (reported = vi.fn()) => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  client.setQueryData(keys.part(WEEK, "overview"), week(3));
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>
      <App>
        <MemoryRouter>{children}</MemoryRouter>
      </App>
    </QueryClientProvider>
  );
  const { result } = renderHook(() => useEdits(WEEK, reported), { wrapper });
  return { client, edits: result, reported };
};
const answers = (...given: object[]) => {
  const post = vi.spyOn(http, "POST");
  for (const one of given) post.mockResolvedValueOnce(one as never);
  return post;
};
const bodies = (post: ReturnType<typeof answers>) =>
  post.mock.calls.map((call) => (call[1] as { body: { seen: number; along?: boolean } }).body);

beforeEach(
  () => void vi.spyOn(http, "GET").mockResolvedValue({ data: null, response: { ok: true } } as never),
);
afterEach(() => {
  vi.restoreAllMocks();
});

describe("an edit", () => {
  it("is sent with the newest edit that was seen, and its answer is the week", async () => {
    const { client, edits } = begin();
    const post = answers(done(4));
    await act(async () => expect(await edits.current.edit(put("WO-1"))).toBe(true));
    expect(bodies(post)[0]).toEqual({ edit: put("WO-1"), seen: 3 });
    expect(client.getQueryData<Overview>(keys.part(WEEK, "overview"))!.edits).toBe(4);
    expect(await screen.findByText("Edit 4")).toBeTruthy();
  });
  it("waits for the one before it, and is no stranger to it", async () => {
    const { edits } = begin();
    let first: (answer: object) => void = () => {};
    const post = vi
      .spyOn(http, "POST")
      .mockReturnValueOnce(new Promise((come) => (first = come)) as never)
      .mockResolvedValueOnce(done(5) as never);
    let both: Promise<boolean[]> = Promise.resolve([]);
    await act(async () => {
      both = Promise.all([edits.current.edit(put("WO-1")), edits.current.edit(put("WO-2"))]);
    });
    expect(post).toHaveBeenCalledTimes(1);
    expect(edits.current.busy).toBe(true);
    await act(async () => {
      first(done(4));
      await both;
    });
    expect(bodies(post).map((b) => b.seen)).toEqual([3, 4]);
    expect(edits.current.busy).toBe(false);
  });
  it("is sent though the one before it was refused", async () => {
    const { edits } = begin();
    const post = answers(refused(422, "placed", "WO-1 is in the week already."), done(4));
    await act(async () => {
      const both = [edits.current.edit(put("WO-1")), edits.current.edit(put("WO-2"))];
      expect(await Promise.all(both)).toEqual([false, true]);
    });
    expect(bodies(post).map((b) => b.seen)).toEqual([3, 3]);
  });
  it("that is refused says why in the server's words", async () => {
    const { client, edits } = begin();
    answers(refused(422, "placed", "WO-1 is in the week already."));
    await act(async () => expect(await edits.current.edit(put("WO-1"))).toBe(false));
    expect(await screen.findByText("Nothing was changed")).toBeTruthy();
    expect(screen.getByText("WO-1 is in the week already.")).toBeTruthy();
    expect(client.getQueryData<Overview>(keys.part(WEEK, "overview"))!.edits).toBe(3);
  });
  it("of what others changed says who was there", async () => {
    const { edits } = begin();
    answers(refused(409, "changed", "Mila Novak changed this meanwhile."));
    await act(async () => expect(await edits.current.edit(put("WO-1"))).toBe(false));
    expect(await screen.findByText("Somebody else was here")).toBeTruthy();
    expect(screen.getByText("Mila Novak changed this meanwhile.")).toBeTruthy();
  });
  it("that could not do all names what is left, and stays to be read", async () => {
    const { edits } = begin();
    answers(done(4, { notes: ["WO-2: nobody is there who could do it"] }));
    await act(async () => void (await edits.current.edit(put("WO-1"))));
    expect(await screen.findByText("What is left, and why:")).toBeTruthy();
    expect(screen.getByText("WO-2: nobody is there who could do it")).toBeTruthy();
  });
  it("that makes loose ends names them", async () => {
    const { edits } = begin();
    answers(done(4, { arisen: ["this leaves WO-2310 open for 40 h"] }));
    await act(async () => void (await edits.current.edit(put("WO-1"))));
    expect(await screen.findByText("this leaves WO-2310 open for 40 h")).toBeTruthy();
  });
  it("into another week offers to open that", async () => {
    const { edits } = begin();
    answers(done(4), done(5));
    const away = (day: string | null) => ({ kind: "next week", jobs: ["WO-1"], day }) as AnyEdit;
    await act(async () => void (await edits.current.edit(away("2026-12-09"))));
    expect(await screen.findByText("Open 2026-W50")).toBeTruthy();
    await act(async () => void (await edits.current.edit(away("2026-11-25"))));
    await waitFor(() => expect(screen.getByText("Open 2026-W48")).toBeTruthy());
  });
});

describe("a report", () => {
  const said = (to: "done" | "under way") => ({ tasks: [["WO-1", "20"] as [string, string]], to });
  it("tells which tasks are done, and nothing of those that have begun", async () => {
    const { edits, reported } = begin();
    answers(done(4), done(5));
    await act(async () => void (await edits.current.report(said("under way"))));
    expect(reported).not.toHaveBeenCalled();
    await act(async () => void (await edits.current.report(said("done"))));
    expect(reported).toHaveBeenCalledWith([["WO-1", "20"]]);
  });
  it("of a task whose earlier ones are open offers to take them along", async () => {
    const { edits, reported } = begin();
    const post = answers(refused(422, "order", "Task 10 comes before."), done(4));
    await act(async () => expect(await edits.current.report(said("done"))).toBe(false));
    const along = await screen.findByRole("button", { name: "Take them along" });
    expect(reported).not.toHaveBeenCalled();
    await act(async () => along.click());
    await waitFor(() => expect(reported).toHaveBeenCalledWith([["WO-1", "20"]]));
    expect(bodies(post).map((b) => b.along)).toEqual([false, true]);
  });
});
