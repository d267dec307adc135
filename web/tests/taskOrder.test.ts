import { expect, test } from "vitest";

import {
  doubled,
  everywhere,
  insertedAfter,
  moved,
  numberAfter,
  renumbered,
} from "../src/features/orders/taskOrder";

const tasks = [
  { task: "10", title: "A", after: "", needs: "mech x1", asset_state: "stopped" },
  { task: "20", title: "B", after: "10", needs: "elec x1", asset_state: "any" },
  { task: "30", title: "C", after: "20+1.5", needs: "mech x1", asset_state: "any" },
];
const numbers = (of: { task?: string }[]) => of.map((t) => t.task);

test("a task put in between gets a number between and takes its place in the order", () => {
  const now = insertedAfter(tasks, 0, { task: "", title: "" });
  expect(numbers(now)).toEqual(["10", "15", "20", "30"]);
  expect(now.map((t) => t.after)).toEqual(["", "10", "15", "20+1.5"]);
  expect(now[1]).toMatchObject({ needs: "mech x1", asset_state: "stopped" });
});

test("where there is no room between two numbers it goes after all", () => {
  expect(numberAfter([{ task: "10" }, { task: "11" }], 0)).toBe("21");
});

test("a doubled task says the same under a number of its own", () => {
  const now = doubled(tasks, 2);
  expect(now[3]).toMatchObject({ task: "40", title: "C", after: "20+1.5" });
});

test("moving a task keeps numbers in order and what follows what", () => {
  const now = moved(tasks, 2, -1);
  expect(now.map((t) => [t.task, t.title])).toEqual([
    ["10", "A"],
    ["20", "C"],
    ["30", "B"],
  ]);
  expect(now.map((t) => t.after)).toEqual(["", "30+1.5", "10"]);
  expect(moved(tasks, 0, -1)).toBe(tasks);
});

test("numbering anew keeps what follows what", () => {
  const odd = [
    { task: "7", after: "" },
    { task: "x", after: "7" },
  ];
  expect(renumbered(odd)).toEqual([
    { task: "10", after: "" },
    { task: "20", after: "10" },
  ]);
});

test("what one task takes for the whole job stands in all, once, beside what they take themselves", () => {
  const now = everywhere(
    [{ ...tasks[0]!, tools: "crane" }, tasks[1]!, { ...tasks[2]!, tools: "crane; jack" }],
    0,
  );
  expect(now.map((t) => t.needs)).toEqual(["mech x1", "elec x1 level 1; mech x1 level 1", "mech x1 level 1"]);
  expect(now.map((t) => t.tools)).toEqual(["crane", "crane", "crane; jack"]);
});
