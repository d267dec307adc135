/** A forecast as the page reads it. */
import { describe, expect, it } from "vitest";

import { withLines } from "../src/features/preventive/usePreventive";

const brake = {
  plan: "PP-1",
  title: "Brake test",
  kind: "statutory",
  asset: "L1",
  asset_name: "Larch",
  area: "north",
  crew: "",
};

describe("withLines", () => {
  it("gives every day a line with its service and work, by day", () => {
    const { lines } = withLines({
      first: "2026-11-23",
      last: "2027-05-23",
      services: [brake],
      works: [
        { rungs: ["monthly"], hours: { mech: 3 } },
        { rungs: ["yearly", "monthly"], hours: { mech: 8 } },
      ],
      falls: [
        {
          service: 0,
          work: 0,
          day: "2027-01-01",
          order: null,
          request: null,
          state: "to come",
          can_raise: true,
        },
        {
          service: 0,
          work: 0,
          day: "2026-12-01",
          order: "WO-7",
          request: null,
          state: "raised",
          can_raise: false,
        },
      ],
      later: [{ service: 0, work: 1, days: ["2027-02-01"] }],
      crafts: [],
      shifts: [],
    });
    expect(
      lines.map((l) => [l.day, l.state, l.order, l.can_raise, l.rungs[0], l.hours.mech, l.title]),
    ).toEqual([
      ["2026-12-01", "raised", "WO-7", false, "monthly", 3, "Brake test"],
      ["2027-01-01", "to come", null, true, "monthly", 3, "Brake test"],
      ["2027-02-01", "to come", null, false, "yearly", 8, "Brake test"],
    ]);
  });
});
