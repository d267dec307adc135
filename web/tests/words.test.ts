/** Figures, days and moments as people read and type them. */
import { describe, expect, it } from "vitest";

import {
  at,
  clock,
  count,
  dayName,
  dayOfAnyYear,
  writeAround,
  figure,
  from,
  hours,
  letsIn,
  localDay,
  localMoment,
  money,
  percent,
  sum,
  thousands,
  tone,
  weekBeside,
  weekName,
  when,
  write,
  zoned,
} from "../src/kit/words";

const ZURICH = "Europe/Zurich";
const QUARTERS = Array.from(
  { length: 96 },
  (_, n) => `${String(Math.floor(n / 4)).padStart(2, "0")}:${String((n % 4) * 15).padStart(2, "0")}`,
);

describe("one's own way of writing", () => {
  const usual = { decimals: ".", days: "named", weeks: "iso" } as const;
  it("has another sign before decimals, other days and weeks, and the weekday first in any", () => {
    write({ decimals: ",", days: "dotted", weeks: "slashed" });
    expect([hours(7.5), percent(0.125), dayName("2026-12-01"), dayName("2026-12-01", false)]).toEqual([
      "7,5 h",
      "12,5 %",
      "Tue 1.12.",
      "Tue 1.",
    ]);
    expect([money(145854, "CHF"), sum(18841.98)]).toEqual(["CHF 1 458,54", "18 841,98"]);
    expect(weekName("2026-W07")).toBe("7/2026");
    write({ decimals: ".", days: "iso", weeks: "short" });
    expect([dayName("2026-12-01"), weekName("2026-W07")]).toEqual(["Tue 2026-12-01", "W07"]);
    write(usual);
    expect([dayName("2026-12-01"), weekName("2026-W07"), figure(7.5)]).toEqual([
      "Tue 1 Dec",
      "2026-W07",
      "7.5",
    ]);
  });
});

describe("figures", () => {
  it("show hours without trailing zeros", () => {
    expect([7.5, 8, 0.25, 7.249999].map(hours)).toEqual(["7.5 h", "8 h", "0.25 h", "7.25 h"]);
    expect(figure(-1.5)).toBe("-1.5");
  });
  it("part thousands by a space and round to whole points", () => {
    expect([0, 999, 1000, 128372.6, 1234567].map(thousands)).toEqual([
      "0",
      "999",
      "1 000",
      "128 373",
      "1 234 567",
    ]);
  });
  it("show amounts with two decimals, and of sums only the long ones parted", () => {
    expect([money(30, ""), money(-123456, "")]).toEqual(["0.30", "−1 234.56"]);
    expect([sum(3739.75), sum(354775), sum(-20000.5)]).toEqual(["3739.75", "354 775", "-20 000.5"]);
    expect([sum(12345.999), sum(-99999.996), sum(10000.004)]).toEqual(["12 346", "-100 000", "10 000"]);
  });
  it("give a share as a percentage with its digits", () => {
    expect([percent(0.9486), percent(1, 0), percent(0)]).toEqual(["94.9 %", "100 %", "0.0 %"]);
  });
  it("tell what a change lets in, also where dearer work takes fewer hours", () => {
    expect([letsIn(6, 206), letsIn(-6.5, 1224), letsIn(0, 30)]).toEqual([
      "lets in 6 h of work, 206 points",
      "brings 1 224 points with 6.5 h less work",
      "brings 30 points with as many hours",
    ]);
  });
  it("count one thing as one and others as many", () => {
    expect([count(1, "job"), count(0, "job"), count(2, "person", "people")]).toEqual([
      "1 job",
      "0 jobs",
      "2 people",
    ]);
  });
});

describe("days and weeks", () => {
  it("name a day by weekday, day and month, a 29 February too", () => {
    writeAround("2026-11-30");
    expect([dayOfAnyYear("2026-12-01"), dayOfAnyYear("2027-11-28")]).toEqual([
      "Tue 1 Dec",
      "Sun 28 Nov 2027",
    ]);
    expect([dayName("2026-12-01"), dayName("2028-02-29"), dayName("2026-11-30", false)]).toEqual([
      "Tue 1 Dec",
      "Tue 29 Feb",
      "Mon 30",
    ]);
  });
  it("step from week to week over years of 52 and of 53 weeks", () => {
    // ISO 8601: 2020 and 2026 have 53 weeks
    expect(weekBeside("2026-W53", 1)).toBe("2027-W01");
    expect(weekBeside("2026-W01", -1)).toBe("2025-W52");
    expect(weekBeside("2021-W01", -1)).toBe("2020-W53");
  });
  it("come back to where they began, however far", () => {
    for (const week of ["2026-W01", "2026-W53", "2024-W09", "2027-W52"])
      for (const by of [1, 7, 52, 53, 260]) expect(weekBeside(weekBeside(week, by), -by)).toBe(week);
  });
});

describe("moments", () => {
  it("are read in the site's zone, whatever the browser's", () => {
    expect(clock("2026-11-30T23:30:00Z", ZURICH)).toBe("00:30");
    expect(localDay("2026-11-30T23:30:00Z", ZURICH)).toBe("2026-12-01");
    expect(clock("2026-11-30T23:30:00Z", "America/St_Johns")).toBe("20:00");
  });
  it("are said to be open without both ends", () => {
    expect(from(null, null, "2026-12-01", ZURICH)).toBe("time open");
    expect(from("2026-12-01T05:00:00Z", "2026-12-01T07:15:00Z", "2026-12-01", ZURICH)).toBe("06:00–08:15");
  });
  it("say the calendar's day of hours after midnight beside the shift's day", () => {
    const night = "2026-12-01",
      late = "2026-12-01T21:45:00Z",
      small = "2026-12-02T00:15:00Z";
    expect([at(late, night, ZURICH), at(small, night, ZURICH)]).toEqual(["22:45", "Wed 01:15"]);
    expect(from(late, small, night, ZURICH)).toBe("22:45–Wed 01:15");
    expect(from(small, "2026-12-02T02:00:00Z", night, ZURICH)).toBe("Wed 01:15–03:00");
    expect(when(night, small, "2026-12-02T02:00:00Z", ZURICH)).toBe("Tue 1 Dec night, Wed 01:15–03:00");
    expect(when("2026-12-02", small, "2026-12-02T02:00:00Z", ZURICH)).toBe("Wed 2 Dec, 01:15–03:00");
    expect(when(night, null, null, ZURICH)).toBe("Tue 1 Dec, time open");
  });
  // 2026-03-29 02:00 -> 03:00 and 2026-10-25 03:00 -> 02:00: the rules of the European Union as the tz
  // database has them
  it.each(["2026-03-28", "2026-03-29", "2026-10-24", "2026-10-25", "2026-12-01"])(
    "typed on %s come back as they were typed, each quarter of an hour that there is",
    (day) => {
      const skipped = day === "2026-03-29" ? /^02:/ : /^$/;
      for (const time of QUARTERS.filter((t) => !skipped.test(t)))
        expect(localMoment(zoned(day, time, ZURICH), ZURICH)).toBe(`${day}T${time}`);
    },
  );
  it("before the clocks go back are an hour sooner than after", () => {
    expect(zoned("2026-10-25", "01:30", ZURICH)).toBe("2026-10-24T23:30:00.000Z");
    expect(zoned("2026-10-25", "03:30", ZURICH)).toBe("2026-10-25T02:30:00.000Z");
  });
  it("an hour that does not exist is taken as the hour after it", () => {
    expect(zoned("2026-03-29", "02:30", ZURICH)).toBe("2026-03-29T01:30:00.000Z");
  });
});

describe("the ink of a job", () => {
  it("is that of must-work before that of its kind", () => {
    expect(tone({ must: true, kind: "preventive" })).toBe("must");
    expect(tone({ must: false, kind: "statutory" })).toBe("preventive");
    expect(tone({ must: false, kind: "corrective" })).toBe("other");
  });
});
