/** What others do to a week, as a browser hears of it. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, screen } from "@testing-library/react";
import { App } from "antd";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { http, type Overview, type Shapes } from "../src/api/client";
import type { Handlers } from "../src/api/connection";
import { keys } from "../src/api/queries";
import * as live from "../src/app/useLive";
import { useEvents } from "../src/features/week/useEvents";

const WEEK = "2026-W49";
const me = { name: "sven", full_name: "Sven Aalto" } as Shapes["Me"];
let heard: Handlers = {};
const hear = (kind: string, body: object) =>
  act(async () => heard[kind]!(new MessageEvent(kind, { data: JSON.stringify(body) })));

const begin = () => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  client.setQueryData(keys.part(WEEK, "overview"), { week: WEEK, edits: 7 } as Overview);
  const asked = vi.spyOn(client, "invalidateQueries");
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>
      <App>{children}</App>
    </QueryClientProvider>
  );
  renderHook(() => useEvents(WEEK, me), { wrapper });
  return { client, asked };
};

beforeEach(() => {
  vi.spyOn(live, "useLive").mockImplementation((_, handlers) => void (heard = handlers));
  vi.spyOn(http, "GET").mockResolvedValue({ data: null, response: { ok: true } } as never);
});
afterEach(() => vi.restoreAllMocks());

describe("an edit of the week", () => {
  it("that somebody else made is told with their name, and the week is read anew", async () => {
    const { asked } = begin();
    await hear("edit", { edits: 8, label: "Move WO-1 to Tue 1 Dec", by: "Mila Novak" });
    expect(await screen.findByText("Mila Novak: Move WO-1 to Tue 1 Dec")).toBeTruthy();
    expect(asked).toHaveBeenCalled();
  });
  it("that is known already changes nothing", async () => {
    const { asked } = begin();
    await hear("edit", { edits: 7, label: "Pin WO-2", by: "Mila Novak" });
    await hear("edit", { edits: 3, label: "Pin WO-2", by: "Mila Novak" });
    expect(asked).not.toHaveBeenCalled();
    expect(screen.queryByText(/Pin WO-2/)).toBeNull();
  });
  it("of one's own in another tab is read, and not told as somebody's", async () => {
    const { asked } = begin();
    await hear("edit", { edits: 8, label: "Pin WO-3", by: "Sven Aalto" });
    expect(asked).toHaveBeenCalled();
    expect(screen.queryByText(/Pin WO-3/)).toBeNull();
  });
});

describe("a build", () => {
  const held = { id: 9, state: "waiting", waits_for: "a proof", progress: [{ seconds: 1, value: 10 }] };
  it("that is watched gets its next point, and waits no longer", async () => {
    const { client, asked } = begin();
    client.setQueryData(keys.part(WEEK, "build"), held);
    await hear("build", { run: 9, state: "running", seconds: 2, value: 12 });
    const now = client.getQueryData<Shapes["BuildShape"]>(keys.part(WEEK, "build"))!;
    expect([now.state, now.waits_for]).toEqual(["running", null]);
    expect(now.progress.map((p) => p.value)).toEqual([10, 12]);
    expect(asked).not.toHaveBeenCalled();
  });
  it("of somebody else, or that has ended, is asked for", async () => {
    const { client, asked } = begin();
    client.setQueryData(keys.part(WEEK, "build"), held);
    await hear("build", { run: 10, state: "running", seconds: 2, value: 12 });
    await hear("build", { run: 9, state: "ready" });
    expect(asked.mock.calls.map(([what]) => what!.queryKey)).toEqual([
      keys.part(WEEK, "build"),
      keys.part(WEEK, "build"),
    ]);
  });
});

describe("other news", () => {
  it.each([
    ["bound", keys.part(WEEK, "overview")],
    ["asks", keys.part(WEEK, "asks")],
    ["tidiness", keys.part(WEEK, "tidiness")],
    ["records", keys.week(WEEK)],
  ])("of %s make that be asked for anew, and nothing else", async (kind, key) => {
    const { asked } = begin();
    await hear(kind, {});
    expect(asked.mock.calls.map(([what]) => what!.queryKey)).toEqual([key]);
  });
});
