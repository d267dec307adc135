/** Background work that somebody waits for. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { http, type Shapes } from "../src/api/client";
import { endOf, howFar } from "../src/api/watching";

type Run = Shapes["RunShape"];
const run = (state: string, more: object = {}) =>
  ({ id: 7, kind: "export", state, share: null, waits_for: null, error: null, ...more }) as unknown as Run;
const answers = (...told: Run[]) => {
  const get = vi.spyOn(http, "GET");
  for (const one of told)
    get.mockResolvedValueOnce({ data: one, response: { ok: true, status: 200 } } as never);
  return get;
};
const atOnce = async <T>(work: Promise<T>): Promise<T | Error> => {
  const caught = work.catch((bad: Error) => bad);
  await vi.advanceTimersByTimeAsync(5000);
  return caught;
};

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  vi.restoreAllMocks();
  vi.useRealTimers();
});

describe("waiting for a run", () => {
  it("ends at once where it is done already, and asks nobody", async () => {
    const get = answers();
    expect(await atOnce(endOf(run("done")))).toEqual(run("done"));
    expect(get).not.toHaveBeenCalled();
  });
  it("asks until it has ended, and tells how it stands meanwhile", async () => {
    const told: string[] = [];
    answers(run("running", { share: 0.25 }), run("running", { share: 0.75 }), run("done"));
    const found = await atOnce(endOf(run("waiting"), (now) => told.push(howFar(now))));
    expect(found).toEqual(run("done"));
    expect(told).toEqual(["waits for the worker", "25 %", "75 %"]);
  });
  it("says why it failed, and that nothing was changed where somebody stopped it", async () => {
    expect(await atOnce(endOf(run("failed", { error: "The disk is full." })))).toEqual(
      new Error("The disk is full."),
    );
    expect(await atOnce(endOf(run("failed")))).toEqual(new Error("It failed. Try again."));
    answers(run("stopped"));
    expect(await atOnce(endOf(run("running")))).toEqual(new Error("It was stopped; nothing was changed."));
  });
});

describe("how far a run is", () => {
  it("is its share, or what it waits for, or that it is under way", () => {
    expect(howFar(run("waiting", { waits_for: "a build of 2026-W49" }))).toBe("a build of 2026-W49");
    expect(howFar(run("running"))).toBe("under way");
    expect(howFar(run("running", { share: 0.999 }))).toBe("100 %");
  });
});
