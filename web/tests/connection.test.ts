/** Whether Nundine can be reached: who is told of it, and when. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { AGAIN, connection, listen, SILENCE } from "../src/api/connection";

/** A stream of events that a test speaks through. */
class Stream extends EventTarget {
  static all: Stream[] = [];
  onerror: (() => void) | null = null;
  closed = false;
  constructor(readonly address: string) {
    super();
    Stream.all.push(this);
  }
  close() {
    this.closed = true;
  }
  say(kind: string, id = "", data = "{}") {
    this.dispatchEvent(new MessageEvent(kind, { data, lastEventId: id }));
  }
}

const newest = () => Stream.all.at(-1)!;
const answers = (answer: unknown, ok = true) =>
  vi.stubGlobal(
    "fetch",
    vi.fn(async () => ({ ok, json: async () => answer })),
  );
const silent = () => vi.stubGlobal("fetch", vi.fn().mockRejectedValue(new TypeError("no network")));

const told = { back: vi.fn(), ended: vi.fn(), edit: vi.fn() };
let stop: () => void = () => {};
const begin = (week: string | null = "2026-W49") => {
  stop = listen(week, { edit: told.edit }, told.back, told.ended);
};

beforeEach(() => {
  vi.useFakeTimers();
  Stream.all = [];
  vi.stubGlobal("EventSource", Stream);
  answers({ name: "sven" });
});
afterEach(() => {
  stop();
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.clearAllMocks();
});

describe("a browser that listens", () => {
  it("names the week that it looks at, and no week where it looks at none", () => {
    begin();
    expect(newest().address).toContain("week=2026-W49");
    stop();
    begin(null);
    expect(newest().address).not.toContain("week");
  });
  it("hears what happens", () => {
    begin();
    newest().say("edit", "7", '{"edits": 3}');
    expect(told.edit).toHaveBeenCalledTimes(1);
    expect((told.edit.mock.calls[0]![0] as MessageEvent<string>).data).toBe('{"edits": 3}');
  });
  it("has no connection from the moment in which the stream breaks", () => {
    begin();
    newest().onerror!();
    expect(connection.lost()).toBe(true);
    expect(newest().closed).toBe(true);
  });
  it("tries again each second until there is an answer", async () => {
    begin();
    silent();
    newest().onerror!();
    await vi.advanceTimersByTimeAsync(3 * AGAIN + 10);
    expect(fetch).toHaveBeenCalledTimes(3);
    expect(Stream.all).toHaveLength(1);
    answers({ name: "sven" });
    await vi.advanceTimersByTimeAsync(AGAIN + 10);
    expect(Stream.all).toHaveLength(2);
  });
  it("has the connection back with a sign of life of the database, and not with a bare hello", async () => {
    begin();
    newest().onerror!();
    await vi.advanceTimersByTimeAsync(AGAIN + 10);
    newest().say("hello");
    expect(connection.lost()).toBe(true);
    expect(told.back).not.toHaveBeenCalled();
    newest().say("beat");
    expect(connection.lost()).toBe(false);
    expect(told.back).toHaveBeenCalledTimes(1);
  });
  it("asks for what it missed, from the last event that it heard", async () => {
    begin();
    newest().say("edit", "41");
    newest().say("edit", "42");
    newest().onerror!();
    await vi.advanceTimersByTimeAsync(AGAIN + 10);
    expect(newest().address).toContain("after=42");
  });
  it("that hears nothing asks whether Nundine is there, and stays connected if it is", async () => {
    begin();
    answers({ status: "well" });
    await vi.advanceTimersByTimeAsync(SILENCE + 500);
    expect(fetch).toHaveBeenCalledWith("/api/health", expect.anything());
    expect(connection.lost()).toBe(false);
    expect(newest().closed).toBe(false);
  });
  it("that hears nothing and gets no answer has no connection within three seconds", async () => {
    begin();
    silent();
    await vi.advanceTimersByTimeAsync(3000);
    expect(connection.lost()).toBe(true);
  });
  it("does not doubt a stream that gives signs of life", async () => {
    begin();
    for (let n = 0; n < 10; n++) {
      await vi.advanceTimersByTimeAsync(600);
      newest().say("beat");
    }
    expect(fetch).not.toHaveBeenCalled();
  });
  it("is told when its session has ended, and tries no more", async () => {
    begin();
    newest().say("ended");
    expect(told.ended).toHaveBeenCalledTimes(1);
    await vi.advanceTimersByTimeAsync(10 * AGAIN);
    expect(Stream.all).toHaveLength(1);
    expect(fetch).not.toHaveBeenCalled();
  });
  it("finds out after a break that its session has ended meanwhile", async () => {
    begin();
    answers(null);
    newest().onerror!();
    await vi.advanceTimersByTimeAsync(AGAIN + 10);
    expect(told.ended).toHaveBeenCalledTimes(1);
    expect(connection.lost()).toBe(false);
    expect(Stream.all).toHaveLength(1);
  });
  it("that goes away says nothing any more, whatever comes late", async () => {
    begin();
    newest().onerror!();
    stop();
    await vi.advanceTimersByTimeAsync(5 * AGAIN);
    expect(Stream.all).toHaveLength(1);
    expect(told.back).not.toHaveBeenCalled();
    expect(connection.lost()).toBe(false);
  });
});
