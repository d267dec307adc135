/** Cells that hold several things: what stands in rows reads back as the same cell. */
import { describe, expect, it } from "vitest";

import { outsideCell, outsideOf } from "../src/features/orders/outside";
import { partsCell, partsOf } from "../src/features/orders/partCell";
import { cellOf, linesOf } from "../src/features/orders/lines";
import {
  gridCell,
  gridOf,
  NEW_RUNG,
  rungsCell,
  rungsOf,
  UNITS,
  type RungRow,
} from "../src/features/preventive/rungs";

describe("parts that a task needs", () => {
  it.each([
    "BE-1002 x2 from main",
    'BE-1002 x2 from main; SE-1015 x1 may; "rags" x3',
    '"grease, two tubes" x0.5 from upper store may',
  ])("%s is the same after it stood in rows", (cell) => {
    expect(partsCell(partsOf(cell))).toBe(cell);
  });
  it("are one each where a file does not say how many", () => {
    expect(partsOf("BE-1002")).toEqual([{ part: "BE-1002", text: "", quantity: "1", store: "", may: false }]);
  });
  it("are told in words where they have no number", () => {
    expect(partsOf('"old rags" x3 may')).toEqual([
      { part: "", text: "old rags", quantity: "3", store: "", may: true },
    ]);
  });
  it("are one of each while a quantity is being typed", () => {
    expect(partsCell([{ part: "BE-1002", text: "", quantity: "", store: "", may: false }])).toBe(
      "BE-1002 x1",
    );
  });
  it("are none in an empty cell", () => {
    expect(partsOf("")).toEqual([]);
    expect(partsCell([])).toBe("");
  });
});

describe("people of other firms", () => {
  it.each(["Seilbau Ost x2 at 95", "Kran Huber x1", "Seilbau Ost x2 at 95.5; Kran Huber x1 at 180"])(
    "%s are the same after they stood in rows",
    (cell) => {
      expect(outsideCell(outsideOf(cell))).toBe(cell);
    },
  );
  it("are one person where nothing is said, and none where no contract is named", () => {
    expect(outsideOf("Seilbau Ost")).toEqual([{ contract: "Seilbau Ost", people: "1", rate: "" }]);
    expect(outsideCell([{ contract: "  ", people: "4", rate: "90" }])).toBe("");
  });
  it("keep a figure in the name of a contract", () => {
    expect(outsideOf("Contract 12 x3")).toEqual([{ contract: "Contract 12", people: "3", rate: "" }]);
  });
});

describe("texts of a cell as lines", () => {
  it("stand a line each, and a semicolon that somebody types does not tear one", () => {
    expect(linesOf("one; two;three")).toBe("one\ntwo\nthree");
    expect(cellOf("one\ntwo; and a half\n")).toBe("one; two, and a half; ");
  });
});

describe("rungs of a preventive plan", () => {
  const row = (more: Partial<RungRow>): RungRow => ({ ...NEW_RUNG, every: "", unit: "", ...more });
  it.each([
    "monthly: 1 month",
    "weekly: 2 weeks on mon",
    "service: 1 year or 500 h",
    "monthly: 1 month; service: 1 year or 500 h; overhaul: shutdown autumn +2",
    "early: shutdown spring -3",
    "wheels: 1200.5 km",
  ])("%s are the same after they stood in rows", (cell) => {
    expect(rungsCell(rungsOf(cell))).toBe(cell);
  });
  it("hang on the calendar, a meter or a shutdown, or on what comes first of them", () => {
    expect(rungsOf("service: 500 h or 1 year")).toEqual([
      row({ name: "service", every: "1", unit: "year", count: "500", counted: "h" }),
    ]);
    expect(rungsOf("overhaul: shutdown autumn +2")).toEqual([
      row({ name: "overhaul", series: "autumn", offset: "+2" }),
    ]);
  });
  it("say one or many of each unit as people do", () => {
    for (const unit of UNITS)
      for (const every of ["1", "2", "13"])
        expect(rungsCell([row({ name: "r", every, unit })])).toBe(
          `r: ${every} ${unit}${every === "1" ? "" : "s"}`,
        );
  });
  it("leave a day of nothing out of what hangs on a shutdown", () => {
    expect(rungsCell([row({ name: "r", series: "autumn", offset: "0" })])).toBe("r: shutdown autumn");
    expect(rungsCell([row({ name: "r", series: "autumn", offset: "2" })])).toBe("r: shutdown autumn +2");
  });
  it("are the same through rows in all their kinds together", () => {
    for (let n = 0; n < 64; n++) {
      const rows = [
        row({
          name: `rung ${n}`,
          ...(n & 1 ? { every: String(1 + (n % 7)), unit: UNITS[n % 4]!, on: n & 8 ? "tue, thu" : "" } : {}),
          ...(n & 2 ? { count: String(50 * (n + 1)), counted: n & 16 ? "h" : "starts" } : {}),
          ...(n & 4 || !(n & 3) ? { series: "autumn", offset: n & 32 ? "-4" : "" } : {}),
        }),
      ];
      expect(rungsOf(rungsCell(rows))).toEqual(rows);
    }
  });
});

describe("tasks of rungs", () => {
  it("are the same after they stood in a grid", () => {
    const cell = "10=monthly, yearly; 20=yearly";
    expect(gridOf(cell)).toEqual(
      new Map([
        ["10", ["monthly", "yearly"]],
        ["20", ["yearly"]],
      ]),
    );
    expect(gridCell(gridOf(cell))).toBe(cell);
  });
  it("that belong to all rungs are not named", () => {
    expect(gridCell(new Map([["10", []]]))).toBe("");
    expect(gridOf("")).toEqual(new Map());
    expect(gridOf("; =monthly; 10")).toEqual(new Map());
  });
});
