/** The news of our own edit is not asked about again; what others did meanwhile is never missed. */
import { describe, expect, it } from "vitest";

import { answerComes, sendingBegins, sendingEnds } from "../src/features/week/underWay";

describe("news of an edit of ours", () => {
  it("is asked about when nothing is being sent, as from another window of ours", () => {
    expect(answerComes("2026-W49", 5)).toBe(false);
  });
  it("waits for the answer that brings the week", () => {
    sendingBegins("2026-W49");
    expect(answerComes("2026-W49", 6)).toBe(true);
    expect(answerComes("2026-W50", 6)).toBe(false);
    expect(sendingEnds("2026-W49", 6)).toBe(false);
    expect(answerComes("2026-W49", 7)).toBe(false);
  });
  it("newer than the answer is asked about once the last answer is there", () => {
    sendingBegins("2026-W49");
    sendingBegins("2026-W49");
    answerComes("2026-W49", 9);
    expect(sendingEnds("2026-W49", 7)).toBe(false);
    expect(sendingEnds("2026-W49", 8)).toBe(true);
  });
});
