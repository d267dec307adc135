import { expect, test } from "vitest";

import { asRead } from "../src/features/orders/checklist";
import { outsideCell, outsideOf } from "../src/features/orders/outside";
import { cellOf, linesOf } from "../src/features/orders/lines";

test("an entry of a checklist says how it is answered", () => {
  expect(asRead("Seals tight")).toEqual({ what: "Seals tight", how: "ticked" });
  expect(asRead("Oil level [mm 12..18]")).toEqual({ what: "Oil level", how: "a number, 12 to 18 mm" });
  expect(asRead("Pressure [bar ..6]")).toEqual({ what: "Pressure", how: "a number, at most 6 bar" });
  expect(asRead("Remarks [text]")).toEqual({ what: "Remarks", how: "in words" });
  expect(asRead("Noise {none, !loud}")).toEqual({
    what: "Noise",
    how: "none or loud; loud out of limits",
  });
});

test("an entry that can not be read is told apart", () => {
  for (const bad of ["[mm 1..2]", "Noise {loud}", "Oil [1 mm]", "Oil ] level"])
    expect(asRead(bad)).toBeNull();
});

test("people of other firms read back as they were written", () => {
  const cell = "Seilbau Ost x2 at 95; Kran x1";
  expect(outsideOf(cell)).toEqual([
    { contract: "Seilbau Ost", people: "2", rate: "95" },
    { contract: "Kran", people: "1", rate: "" },
  ]);
  expect(outsideCell(outsideOf(cell))).toBe(cell);
  expect(outsideCell([{ contract: " ", people: "1", rate: "5" }])).toBe("");
});

test("lines that are typed become a cell and are shown as they were typed", () => {
  const typed = "Seals tight\nOil level [mm 12..18]\n";
  expect(linesOf(cellOf(typed))).toBe(typed);
});
