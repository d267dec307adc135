import { describe, expect, it } from "vitest";

import { costOf, networkOf, peopleOf, workOf } from "../src/features/orders/network";

const task = (number: string, hours: string, after = "", needs = "mech x1") => ({
  task: number,
  hours,
  after,
  needs,
});

describe("work of a task", () => {
  it("is its elapsed hours by all people that its crew needs name", () => {
    const two = task("10", "1.5", "", "mech x2 level 2; elec");
    expect(peopleOf(two)).toBe(3);
    expect(workOf(two)).toBe(4.5);
    expect(workOf(task("10", "", "", ""))).toBe(0);
  });
});

describe("the network of tasks", () => {
  it("takes as long as its longest way, waits counted", () => {
    const found = networkOf([
      task("10", "1"),
      task("20", "4", "10"),
      task("30", "2", "10+2.5"),
      task("40", "0.5", "20; 30"),
    ]);
    expect(found).toMatchObject({ hours: 6, critical: ["10", "30", "40"], circle: [] });
  });

  it("takes as long as the longest task where none follows another", () => {
    expect(networkOf([task("10", "1"), task("20", "3")])).toMatchObject({
      hours: 3,
      critical: ["20"],
      circle: [],
    });
  });

  it("names the tasks that wait for one another", () => {
    const found = networkOf([
      task("10", "1"),
      task("20", "1", "10; 40"),
      task("30", "1", "20"),
      task("40", "1", "30"),
    ]);
    expect([...found.circle].sort()).toEqual(["20", "30", "40"]);
    expect(found.hours).toBe(0);
  });

  it("does not mind a task before that is not there, nor no tasks at all", () => {
    expect(networkOf([task("10", "2", "5")]).hours).toBe(2);
    expect(networkOf([])).toMatchObject({ hours: 0, critical: [], circle: [] });
  });

  it("adds up a chain of 400 tasks", () => {
    const chain = Array.from({ length: 400 }, (_, n) =>
      task(String(10 * (n + 1)), "0.5", n ? String(10 * n) : ""),
    );
    expect(networkOf(chain).hours).toBe(200);
  });
});

it("a task costs its hours by the people of each craft and what an hour of it costs", () => {
  const rates = new Map([
    ["mech", 84],
    ["elec", 88.5],
  ]);
  expect(costOf({ hours: "1.5", needs: "mech x2; elec" }, rates)).toBe(25_200 + 13_275);
  expect(costOf({ hours: "2", needs: "nobody x2" }, rates)).toBe(0);
});
