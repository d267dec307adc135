import { describe, expect, it } from "vitest";

import { beforeCell, beforeOf, needsCell, needsOf, NO_NEED } from "../src/features/orders/crew";
import { hoursOf } from "../src/kit/typedHours";

describe("crew needs", () => {
  it.each([
    "mech x2 level 2 with rope",
    "mech x2 level 2; elec x1 level 1",
    "rig x1 level 3 with rope_2; hand x4 level 1; weld x1 level 2",
  ])("%s is the same after it stood in rows", (cell) => {
    expect(needsCell(needsOf(cell))).toBe(cell);
  });

  it("say one person of any level where a file says a craft alone", () => {
    expect(needsOf("elec")).toEqual([{ craft: "elec", people: "1", level: "1", certificate: "" }]);
  });

  it("begin with an empty row, which is left out until a craft is chosen", () => {
    expect(needsOf("")).toEqual([NO_NEED]);
    expect(needsCell([NO_NEED, { ...NO_NEED, craft: "elec" }])).toBe("elec x1 level 1");
  });
});

describe("the order of tasks", () => {
  it.each(["10", "10; 20", "10+2.5; 20"])("%s is the same after it stood in rows", (cell) => {
    expect(beforeCell(beforeOf(cell))).toBe(cell);
  });

  it("knows no wait of nothing", () => {
    expect(beforeCell([{ task: "10", lag: "0" }])).toBe("10");
  });
});

describe("hours", () => {
  it.each([
    ["1.5", "1.5"],
    ["1,5", "1.5"],
    [".5", "0.5"],
    ["1:30", "1.5"],
    ["0:20", "0.3333"],
    ["90m", "1.5"],
    ["90 min", "1.5"],
    ["1h30", "1.5"],
    ["2 h", "2"],
    ["10:05", "10.0833"],
  ])("%s is read as %s", (typed, hours) => {
    expect(hoursOf(typed)).toBe(hours);
  });

  it.each(["", "x", "1:75", "1.5.2", "-1", "1:", "h"])("%j is refused", (typed) => {
    expect(hoursOf(typed)).toBeNull();
  });
});
