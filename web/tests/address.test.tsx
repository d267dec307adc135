/** What is looked at stands in the address, and comes back with it. */
import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { sameView, sameViewOfAnotherWeek, useKept, writeAddress } from "../src/app/address";

const go = (address: string) => history.replaceState(null, "", address);
beforeEach(() => {
  vi.useFakeTimers();
  go("/week/2026-W49/crew");
});
afterEach(() => {
  writeAddress();
  vi.useRealTimers();
});

describe("what is kept in the address", () => {
  it("is read from it, or is the fallback where it says nothing", () => {
    go("/week/2026-W49/crew?person=anna~2026-12-01");
    expect(renderHook(() => useKept("person")).result.current[0]).toBe("anna~2026-12-01");
    expect(renderHook(() => useKept("span", "7")).result.current[0]).toBe("7");
  });
  it("shows at once and is written a moment later, once for many changes", () => {
    const { result } = renderHook(() => useKept("find"));
    const written = vi.spyOn(history, "replaceState");
    for (const text of ["b", "br", "brake"]) act(() => result.current[1](text));
    expect(result.current[0]).toBe("brake");
    expect(location.search).toBe("");
    vi.advanceTimersByTime(300);
    expect(location.search).toBe("?find=brake");
    expect(written).toHaveBeenCalledTimes(1);
    written.mockRestore();
  });
  it("is known to who asks before it was written", () => {
    const { result } = renderHook(() => useKept("job"));
    act(() => result.current[1]("WO-2310"));
    expect(renderHook(() => useKept("job")).result.current[0]).toBe("WO-2310");
  });
  it("leaves the address where it is nothing or the fallback", () => {
    go("/week/2026-W49/crew?span=3&job=WO-1");
    const span = renderHook(() => useKept("span", "7")).result;
    const job = renderHook(() => useKept("job")).result;
    act(() => span.current[1]("7"));
    act(() => job.current[1](""));
    expect(sameView()).toBe("");
  });
  it("holds any signs that people type", () => {
    const { result } = renderHook(() => useKept("find"));
    const typed = "Müller & Söhne = 50 % + ? # ليلى";
    act(() => result.current[1](typed));
    writeAddress();
    expect(renderHook(() => useKept("find")).result.current[0]).toBe(typed);
  });
});

describe("going on with the same view", () => {
  it("takes what was typed a moment ago along", () => {
    const { result } = renderHook(() => useKept("find"));
    act(() => result.current[1]("brake"));
    expect(sameView()).toBe("?find=brake");
  });
  it("in another week leaves behind what belongs to days of this one", () => {
    go("/week/2026-W49/crew?areas=north&person=anna&day=2026-12-01&from=2026-12-03&job=WO-1");
    expect(sameViewOfAnotherWeek()).toBe("?areas=north");
    expect(sameViewOfAnotherWeek({ job: "WO-2" })).toBe("?areas=north&job=WO-2");
    go("/week/2026-W49/crew?day=2026-12-01");
    expect(sameViewOfAnotherWeek()).toBe("");
  });
});
