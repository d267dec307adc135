import { expect, test } from "vitest";

import { checksCell, entriesOf, lacks, NOTHING, pasted, plain } from "../src/features/orders/checklist";
import { outsideCell, outsideOf } from "../src/features/orders/outside";
import { cellOf, linesOf } from "../src/features/orders/lines";

test("entries of a checklist are read into rows and written back equal", () => {
  const cell = "Seals tight; Oil level [mm 12..18]; Pressure [bar ..6]; Remarks [text]; Noise {none, !loud}";
  const [tick, oil, pressure, remarks, noise] = entriesOf(cell);
  expect(tick).toMatchObject({ what: "Seals tight", answer: "tick" });
  expect(oil).toMatchObject({ what: "Oil level", answer: "number", unit: "mm", low: "12", high: "18" });
  expect(pressure).toMatchObject({ unit: "bar", low: "", high: "6" });
  expect(remarks).toMatchObject({ what: "Remarks", answer: "text" });
  expect(noise).toMatchObject({ what: "Noise", choices: "none, loud", bad: ["loud"] });
  expect(checksCell(entriesOf(cell))).toBe(cell);
});

test("an entry says what it still lacks, and one without words is not kept", () => {
  const of = (more: object) => ({ ...NOTHING, what: "Noise", ...more });
  expect(lacks(of({ answer: "choice", choices: "loud" }))).toMatch(/two different/);
  expect(lacks(of({ answer: "choice", choices: "loud, loud" }))).toMatch(/two different/);
  expect(lacks(of({ answer: "number", low: "9", high: "10" }))).toBeNull();
  expect(lacks(of({ answer: "number", low: "10", high: "9" }))).toMatch(/lies above/);
  expect(checksCell([NOTHING, of({})])).toBe("Noise");
});

test("several lines that are pasted become as many entries; signs of the file are not typed", () => {
  expect(pasted("Seals tight\r\nOil level [mm 12..18]\n\n").map((e) => e.answer)).toEqual(["tick", "number"]);
  expect(plain("Bolts [M12]; nuts")).toBe("Bolts (M12), nuts");
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
