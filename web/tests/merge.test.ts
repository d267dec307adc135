import { expect, test } from "vitest";

import { merged } from "../src/features/orders/merge";

const start = {
  order: { title: "Oil", due: "" },
  tasks: [
    { task: "10", hours: "2" },
    { task: "20", hours: "1" },
  ],
};

test("what was typed stays, what others changed beside it is taken over", () => {
  const typed = { order: { title: "Oil the sheave", due: "" }, tasks: start.tasks };
  const now = { order: { title: "Oil", due: "2026-12-01" }, tasks: start.tasks };
  expect(merged(start, typed, now).order).toEqual({ title: "Oil the sheave", due: "2026-12-01" });
});

test("of a field that both changed, what was typed stays", () => {
  const typed = { order: { title: "Mine", due: "" }, tasks: start.tasks };
  expect(merged(start, typed, { order: { title: "Theirs", due: "" }, tasks: start.tasks }).order.title).toBe(
    "Mine",
  );
});

test("tasks that were added or taken off here stay so, and those that others added come in", () => {
  const typed = {
    order: start.order,
    tasks: [
      { task: "10", hours: "3" },
      { task: "30", hours: "5" },
    ],
  };
  const now = { order: start.order, tasks: [...start.tasks, { task: "40", hours: "4" }] };
  expect(merged(start, typed, now).tasks).toEqual([
    { task: "10", hours: "3" },
    { task: "30", hours: "5" },
    { task: "40", hours: "4" },
  ]);
});
