import { expect, test } from "vitest";

import { refreshed } from "../src/features/plans/refreshed";

const own = [
  { task: "10", title: "Old", hours: "1", state: "done" },
  { task: "20", title: "Mine", hours: "5", state: "to do" },
  { task: "30", title: "Gone from the plan", hours: "1", state: "to do" },
];
const planned = [
  { task: "10", title: "New", hours: "2" },
  { task: "20", title: "Planned", hours: "3" },
  { task: "40", title: "Added", hours: "1" },
];

test("what was done stays, what is open is as the plan has it, what the plan lacks goes", () => {
  expect(refreshed(own, planned)).toEqual([
    own[0],
    { task: "20", title: "Planned", hours: "3", state: "to do" },
    planned[2],
  ]);
});
