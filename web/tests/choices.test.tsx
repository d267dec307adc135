/** What people choose from and have chosen: days, weeks, who takes work, areas, rows of a list. */
import { act, renderHook } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import type { Overview, Shapes } from "../src/api/client";
import * as queries from "../src/api/queries";
import { takerOf, useTakers } from "../src/features/give/takers";
import { mondayBefore, monthLater, monthName } from "../src/features/preventive/weeks";
import { nextWeek } from "../src/features/week/nextWeek";
import { useAreas } from "../src/features/week/useAreas";
import { dayLater, mondayOf, weekBeside } from "../src/kit/words";
import { useChosen } from "../src/kit/table/chosen";

describe("weeks and months", () => {
  it("begin on the Monday on or before a day", () => {
    for (let n = 0; n < 7; n++) expect(mondayBefore(dayLater("2026-11-30", n))).toBe("2026-11-30");
    expect(mondayBefore("2027-01-01")).toBe("2026-12-28");
  });
  it("follow one another over the end of the year, and over a February of 29 days", () => {
    expect([monthLater("2026-12", 1), monthLater("2026-01", -1), monthLater("2028-02", 1)]).toEqual([
      "2027-01-01",
      "2025-12-01",
      "2028-03-01",
    ]);
    expect(mondayBefore("2028-02-29")).toBe("2028-02-28");
    expect([monthName("2026-12"), monthName("2028-02")]).toEqual(["December 2026", "February 2028"]);
  });
  it("have the name of the year in which their Thursday lies", () => {
    // ISO 8601: 2026 has 53 weeks, for it begins on a Thursday.
    expect([weekBeside("2026-W52", 1), weekBeside("2026-W53", 1), weekBeside("2027-W01", -1)]).toEqual([
      "2026-W53",
      "2027-W01",
      "2026-W53",
    ]);
    for (let n = -120; n <= 120; n++) {
      const week = weekBeside("2026-W49", n);
      expect(mondayOf(week)).toBe(dayLater("2026-11-30", 7 * n));
      expect(weekBeside(week, -n)).toBe("2026-W49");
    }
  });
  it("of the next one a job goes to a day, or where it fits first", () => {
    const days = Array.from({ length: 7 }, (_, n) => dayLater("2026-11-30", n));
    const offered = nextWeek({ days } as Overview);
    expect(offered[0]).toEqual({ key: "next ", label: "where it fits first" });
    expect(offered[1]).toEqual({ key: "next 2026-12-07", label: "Mon 7 Dec" });
    expect(offered).toHaveLength(8);
  });
});

describe("who can be given work", () => {
  const person = (key: string, name: string, crew: string) => ({ key, name, crew });
  it("are people, and each crew with how many it has", () => {
    const people = [
      person("anna", "Anna Berg", "Ropeway"),
      person("layla", "ليلى منصور", "Ropeway"),
      person("ben", "Ben Holm", ""),
      person("eva", "Eva Lind", "Electric"),
    ];
    vi.spyOn(queries, "useCrew").mockReturnValue({ data: { people } } as never);
    expect(renderHook(() => useTakers("2026-W49")).result.current).toEqual([
      { value: "person anna", label: "Anna Berg" },
      { value: "person layla", label: "ليلى منصور" },
      { value: "person ben", label: "Ben Holm" },
      { value: "person eva", label: "Eva Lind" },
      { value: "crew Electric", label: "Electric, crew of 1 person" },
      { value: "crew Ropeway", label: "Ropeway, crew of 2 people" },
    ]);
    vi.restoreAllMocks();
  });
  it("are none while the crew is not there yet", () => {
    vi.spyOn(queries, "useCrew").mockReturnValue({ data: undefined } as never);
    expect(renderHook(() => useTakers("2026-W49")).result.current).toEqual([]);
    vi.restoreAllMocks();
  });
  it("are told by what was chosen, names with blanks too", () => {
    expect(takerOf("person anna")).toEqual({ person: "anna", crew: null });
    expect(takerOf("crew Night shift 2")).toEqual({ person: null, crew: "Night shift 2" });
  });
});

describe("areas that somebody looks at", () => {
  const me = (areas: string[], name = "karl") => ({ name, areas }) as unknown as Shapes["Me"];
  const known = ["north", "south", "lake"];
  const shown = (who: Shapes["Me"], all = known) => renderHook(() => useAreas(who, all)).result;

  it("are those of the account until another choice is made", () => {
    expect(shown(me(["north"])).current.areas).toEqual(["north"]);
  });
  it("are all where all are chosen, and where none is", () => {
    expect(shown(me([])).current.areas).toEqual([]);
    expect(shown(me(["lake", "north", "south"])).current.areas).toEqual([]);
  });
  it("are kept in this browser for the account that chose them", () => {
    const first = shown(me(["north"]));
    act(() => first.current.choose(["south"]));
    expect(first.current.areas).toEqual(["south"]);
    expect(shown(me(["north"])).current.areas).toEqual(["south"]);
    expect(shown(me(["north"], "rene")).current.areas).toEqual(["north"]);
  });
  it("are not those that the site has no more, nor what somebody else left in the browser", () => {
    const first = shown(me([]));
    act(() => first.current.choose(["north", "old"]));
    expect(shown(me([])).current.areas).toEqual(["north"]);
    for (const broken of ["{", '"north"', "[1, null]"]) {
      localStorage.setItem("areas of karl", broken);
      expect(shown(me([])).current.areas).toEqual([]);
    }
  });
});

describe("chosen rows", () => {
  it("are chosen one by one and let go again", () => {
    const { result } = renderHook(() => useChosen());
    act(() => result.current.toggle("WO-1"));
    act(() => result.current.toggle("WO-2"));
    act(() => result.current.toggle("WO-1"));
    expect([...result.current.keys]).toEqual(["WO-2"]);
    expect([result.current.has("WO-1"), result.current.has("WO-2")]).toEqual([false, true]);
  });
  it("stay chosen when more are added, over pages", () => {
    const { result } = renderHook(() => useChosen());
    act(() => result.current.add(["WO-1", "WO-2"]));
    act(() => result.current.add(["WO-2", "WO-3"]));
    expect([...result.current.keys]).toEqual(["WO-1", "WO-2", "WO-3"]);
    act(() => result.current.clear());
    expect(result.current.keys.size).toBe(0);
  });
  it("are the same thing while nothing changes, so that nothing is drawn anew", () => {
    const { result, rerender } = renderHook(() => useChosen());
    const before = result.current;
    rerender();
    act(() => result.current.clear());
    expect(result.current).toBe(before);
  });
});
