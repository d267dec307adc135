/** What was changed in Set-up and is not saved yet, line by line. */
import { describe, expect, it } from "vitest";

import type { Shapes } from "../src/api/client";
import { changedLines } from "../src/features/setup/changedLines";
import { KEPT, WEIGHTS } from "../src/features/setup/parameters";
import { PRICES } from "../src/features/setup/prices";

type Parameters = Shapes["Parameters"];

const now = {
  seconds: 20,
  weights: Object.fromEntries([...WEIGHTS, ...PRICES].map((w, n) => [w.name, n + 1])),
  ways: [{ area: "north", other: "south", minutes: 25 }],
  crafts: [
    { key: "mech", name: "Mechanic", held_back: 0.1, rate: 80 },
    { key: "elec", name: "Electrician", held_back: 0, rate: 90 },
  ],
  sheets_to: ["anna", "ben"],
  currency: "CHF",
  approvals: [{ over: 1000, by: "administrator" }],
  reasons: [{ key: "parts", text: "No parts" }],
  keep_days: { events: 2, plans: 30, sheets: 90 },
} as unknown as Parameters;
const changed = (more: object) => changedLines(now, { ...now, ...more } as Parameters);

describe("lines of what was changed", () => {
  it("are none where nothing was", () => {
    expect(changedLines(now, structuredClone(now))).toEqual([]);
  });
  it("say what a figure was and is", () => {
    expect(changed({ seconds: 45 })).toEqual([{ name: "Seconds to search", was: "20", is: "45" }]);
  });
  it("are one for each weight and each price, shares as per cent", () => {
    for (const w of [...WEIGHTS, ...PRICES]) {
      const times = "share" in w && w.share ? 100 : 1;
      const was = now.weights[w.name];
      expect(changed({ weights: { ...now.weights, [w.name]: was + 0.5 } })).toEqual([
        { name: w.label, was: String(times * was), is: String(times * (was + 0.5)) },
      ]);
    }
  });
  it("name the craft whose hours are held back or cost something else", () => {
    const crafts = [
      { ...now.crafts[0]!, held_back: 0.25 },
      { ...now.crafts[1]!, rate: 95.5 },
    ];
    expect(changed({ crafts })).toEqual([
      { name: "Held back of Mechanic, %", was: "10", is: "25" },
      { name: "An hour of Electrician", was: "90", is: "95.5" },
    ]);
  });
  it("say that tables were changed, without their figures", () => {
    expect(changed({ ways: [] })).toEqual([{ name: "Ways between areas", was: null, is: null }]);
    expect(changed({ approvals: [], reasons: [] }).map((l) => l.name)).toEqual([
      "Approval of buying",
      "Why work is not done",
    ]);
  });
  it("name to whom sheets go, the currency, and for how long things are kept", () => {
    expect(changed({ sheets_to: ["ben"] })).toEqual([
      { name: "Preventive sheets go to", was: "anna, ben", is: "ben" },
    ]);
    expect(changed({ currency: "EUR" })).toEqual([{ name: "Currency", was: "CHF", is: "EUR" }]);
    for (const k of KEPT) {
      const keep_days = { ...now.keep_days, [k.name]: now.keep_days[k.name] + 1 };
      expect(changed({ keep_days }).map((l) => l.name)).toEqual([`${k.label} kept, days`]);
    }
  });
});

describe("what Set-up asks for", () => {
  it("says of each figure what it does, under a name of its own", () => {
    const all = [...WEIGHTS, ...PRICES, ...KEPT];
    expect(all.every((one) => one.why.endsWith(".") && one.why.length > 30)).toBe(true);
    expect(new Set(all.map((one) => one.label)).size).toBe(all.length);
    expect(new Set(all.map((one) => one.name)).size).toBe(all.length);
  });
});
