/** A day of a crew: the clock that its rows share, hours away, marks of rulers; also where clocks change. */
import { describe, expect, it } from "vitest";

import type { Shapes } from "../src/api/client";
import { hourTicks } from "../src/features/agree/hourTicks";
import { absencesOf, hoursLeft, reasonsOf } from "../src/features/crew/absences";
import { dayClock, hourMarks } from "../src/features/crew/dayClock";
import { zoned } from "../src/kit/words";

type Day = Shapes["PersonDay"];
type Hour = { start: string; end: string };

const ZURICH = "Europe/Zurich";
const HOUR = 36e5;
const TUE = "2026-12-01";
const hour = (day: string, time: string) => zoned(day, time, ZURICH);
const span = (from: string, to: string, day = TUE, until = day): Hour => ({
  start: hour(day, from),
  end: hour(until, to),
});
const day = (shifts: Hour[], work: (Hour | { start: null; end: null })[] = [], byHand: object[] = []) =>
  ({ day: TUE, shifts, work, by_hand: byHand }) as unknown as Day;
const away = (from: string, to: string, note: string | null = "sick") => ({
  what: "absence",
  note,
  ...span(from, to),
});
const clockOf = (days: Day[], on = TUE, longest = 12) => dayClock(days, [], on, ZURICH, longest);

describe("the clock of a day", () => {
  it("goes from six to six where nobody is there", () => {
    expect(clockOf([day([])])).toEqual({ first: Date.parse(hour(TUE, "06:00")), length: 24 });
  });
  it("goes over all shifts and all work, from one full hour to another", () => {
    const found = clockOf([day([span("06:15", "14:45")]), day([span("13:30", "22:00")])]);
    expect(found).toEqual({ first: Date.parse(hour(TUE, "06:00")), length: 16 });
    const early = clockOf([
      day([span("06:00", "14:00")], [span("04:40", "06:00"), { start: null, end: null }]),
    ]);
    expect(early).toEqual({ first: Date.parse(hour(TUE, "04:00")), length: 10 });
  });
  it("holds open seats and hours away as well", () => {
    const seats = [span("20:00", "23:30")] as unknown as Shapes["SeatItem"][];
    expect(dayClock([day([span("06:00", "14:00")])], seats, TUE, ZURICH, 12).length).toBe(18);
    const ill = day([span("10:00", "14:00")], [], [away("06:00", "10:00")]);
    expect(clockOf([ill])).toEqual({ first: Date.parse(hour(TUE, "06:00")), length: 8 });
  });
  it.each([
    ["2026-10-24", "2026-10-25", 9],
    ["2026-03-28", "2026-03-29", 7],
    ["2026-11-30", "2026-12-01", 8],
  ])("of the night from %s to %s has %i hours", (saturday, sunday, length) => {
    // Directive 2000/84/EC: the clock changes on the last Sundays of March and October.
    const night = span("22:00", "06:00", saturday, sunday);
    const found = clockOf([day([night])], saturday);
    expect(found).toEqual({ first: Date.parse(night.start), length });
    const marks = hourMarks(found, saturday, ZURICH);
    expect(marks).toHaveLength(length);
    expect(marks[0]).toEqual({ at: 0, label: "22" });
    expect(marks.at(-1)!.label).toMatch(/05$/);
  });
});

describe("marks of a ruler", () => {
  const eight = { first: Date.parse(hour(TUE, "06:00")), length: 8 };
  it("are each hour over one day, and fewer where several days share the width", () => {
    expect(hourMarks(eight, TUE, ZURICH).map((m) => m.label)).toEqual([
      "06",
      "07",
      "08",
      "09",
      "10",
      "11",
      "12",
      "13",
    ]);
    expect(hourMarks(eight, TUE, ZURICH, 3).map((m) => m.label)).toEqual(["06", "08", "10", "12"]);
  });
  it("lie at their share of the width, and are never more than fit", () => {
    for (const length of [1, 5, 8, 14, 16, 24, 30])
      for (const days of [1, 3]) {
        const marks = hourMarks({ ...eight, length }, TUE, ZURICH, days);
        expect(marks.length).toBeLessThanOrEqual(14 / days + 1);
        const ats = marks.map((m) => m.at);
        expect(ats).toEqual([...ats].sort((a, b) => a - b));
        expect(ats.every((at) => at >= 0 && at < 100)).toBe(true);
      }
  });
  it("of an asset's hours leave midnight to the name of the day", () => {
    expect(hourTicks([TUE], ZURICH).map((t) => t.label)).toEqual(
      Array.from({ length: 23 }, (_, n) => String(n + 1).padStart(2, "0")),
    );
    const week = Array.from({ length: 7 }, (_, n) => `2026-12-0${n + 1}`);
    expect(hourTicks(week, ZURICH).map((t) => t.label)).toEqual(week.map(() => "12"));
    expect(hourTicks(week.slice(0, 3), ZURICH)).toHaveLength(21);
  });
  it("of an asset's hours lie where the clock shows them, also on the day of a clock change", () => {
    const noon = (on: string) => hourTicks([on], ZURICH).find((t) => t.label === "12")!.moment;
    const before = Date.parse(hour("2026-10-25", "00:00"));
    expect((noon("2026-10-25") - before) / HOUR).toBe(13);
    expect((noon("2026-03-29") - Date.parse(hour("2026-03-29", "00:00"))) / HOUR).toBe(11);
  });
});

describe("hours away", () => {
  it("lie in or beside what is left of the shift, each with its reason", () => {
    const found = absencesOf(day([span("10:00", "14:00")], [], [away("06:00", "10:00", null)]), 12);
    expect(found).toEqual([
      { start: Date.parse(hour(TUE, "06:00")), end: Date.parse(hour(TUE, "10:00")), why: "away" },
    ]);
  });
  it("reach no further than a shift is long", () => {
    const weeks = {
      what: "absence",
      note: "leave",
      start: hour("2026-11-20", "00:00"),
      end: hour(TUE, "10:00"),
    };
    const found = absencesOf(day([span("10:00", "14:00")], [], [weeks]), 8);
    expect(found).toEqual([
      { start: Date.parse(hour(TUE, "06:00")), end: Date.parse(hour(TUE, "10:00")), why: "leave" },
    ]);
  });
  it("are not told where no shift is left, nor of other things that were set by hand", () => {
    expect(absencesOf(day([], [], [away("06:00", "10:00")]), 12)).toEqual([]);
    const extra = { what: "overtime", note: null, ...span("14:00", "18:00") };
    expect(absencesOf(day([span("06:00", "14:00")], [], [extra]), 12)).toEqual([]);
  });
  it("name each reason once", () => {
    const both = [away("06:00", "07:00"), away("12:00", "14:00"), away("08:00", "09:00", "training")];
    expect(reasonsOf(day([], [], both))).toBe("sick and training");
    expect(reasonsOf(day([]))).toBe("");
  });
  it("leave the hours from the first to the last of what is there", () => {
    expect(hoursLeft(day([span("06:00", "10:00"), span("12:00", "14:00")]))).toBe(8);
    expect(hoursLeft(day([]))).toBe(0);
  });
});
