/**
 * What stands in a list: rows below the heads of their groups; columns as far as there is room; filters in
 * words.
 */
import { describe, expect, it } from "vitest";

import { pagesAround, type Column } from "../src/api/lists";
import { itemsOf } from "../src/kit/table/items";
import { fitting } from "../src/kit/table/shown";
import { filterWords } from "../src/kit/table/words";

const group = (value: string, count: number) => ({ value, label: value, count, sums: {} });
const column = (name: string, width: number, weight: number): Column => ({
  name,
  label: name,
  kind: "text",
  hows: ["contains", "is"],
  choices: [],
  can_sort: true,
  can_group: false,
  total: false,
  width,
  weight,
  shown: true,
  hint: "",
});

describe("pages of a long list", () => {
  it("are asked for before their rows come into sight, downwards and upwards", () => {
    expect(pagesAround(0, 30, 50_000)).toEqual([0, 0]);
    expect(pagesAround(25, 55, 50_000)).toEqual([0, 1]);
    expect(pagesAround(160, 190, 50_000)).toEqual([1, 2]);
    expect(pagesAround(230, 248, 50_000)).toEqual([1, 2]);
  });
  it("end where the list ends, and begin where it begins", () => {
    expect(pagesAround(49_980, 49_999, 50_000)).toEqual([499, 499]);
    expect(pagesAround(150, 179, 180)).toEqual([1, 1]);
    expect(pagesAround(0, 0, 0)).toEqual([0, 0]);
  });
});

describe("items of a list", () => {
  it("are its rows where it has no groups", () => {
    const items = itemsOf(5, null, new Set());
    expect(items.count).toBe(5);
    expect(items.at(3)).toEqual({ row: 3 });
  });
  it("are heads, each before the rows of its group", () => {
    const items = itemsOf(5, [group("a", 2), group("b", 3)], new Set());
    const told = Array.from({ length: items.count }, (_, n) => items.at(n)).map((i) =>
      "row" in i ? i.row : i.group.label,
    );
    expect(told).toEqual(["a", 0, 1, "b", 2, 3, 4]);
    expect([0, 1, 2, 3, 4].map(items.of)).toEqual([1, 2, 4, 5, 6]);
  });
  it("leave out the rows of a group that is closed", () => {
    const items = itemsOf(5, [group("a", 2), group("b", 3)], new Set(["a"]));
    expect(items.count).toBe(5);
    expect(items.at(1)).toEqual({ group: group("b", 3) });
    expect(items.at(2)).toEqual({ row: 2 });
    expect(items.of(1)).toBe(0);
  });
});

describe("columns", () => {
  const all = [
    column("number", 80, 1),
    column("title", 200, 1),
    column("kind", 100, 4),
    column("due", 100, 2),
  ];
  it("give way by their weight where there is little room", () => {
    expect(fitting(all, {}, 400).columns.map((c) => c.name)).toEqual(["number", "title", "due"]);
    expect(fitting(all, {}, 300).columns.map((c) => c.name)).toEqual(["number", "title"]);
  });
  it("fill the room that there is, the widest one taking what is left", () => {
    const fit = fitting(all, {}, 600);
    expect(fit.widths).toEqual([80, 320, 100, 100]);
  });
  it("give headings that would be cut what they need of room to spare, before the widest takes it", () => {
    const cut = { ...column("left", 60, 1), label: "Left to order" };
    const fit = fitting([cut, column("title", 200, 1)], {}, 360);
    expect(fit.widths).toEqual([126, 234]);
    expect(fitting([cut, column("title", 200, 1)], {}, 270).widths).toEqual([70, 200]);
    expect(fitting([cut, column("title", 200, 1)], { left: 60 }, 360).widths).toEqual([60, 300]);
  });
  it("keep the width that somebody gave them", () => {
    expect(fitting(all, { number: 120 }, 520).widths[0]).toBe(120);
  });
});

describe("a filter in words", () => {
  it("says what is asked of the column", () => {
    expect(
      filterWords(column("Title", 1, 1), { column: "Title", how: "contains", values: ["rope", "grip"] }),
    ).toBe("Title contains rope or grip");
    const due = { ...column("Due", 1, 1), kind: "day" as const };
    expect(filterWords(due, { column: "Due", how: "between", values: ["", "2026-12-01"] })).toBe(
      "Due until Tue 1 Dec",
    );
    expect(filterWords(due, { column: "Due", how: "between", values: ["today", "today+7"] })).toBe(
      "Due today to today+7",
    );
    expect(filterWords(due, { column: "Due", how: "empty", values: [] })).toBe("Due is empty");
  });
});
