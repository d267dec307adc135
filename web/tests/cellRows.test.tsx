/** Rows that are filled in for one cell of a form. */
import { act, renderHook } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it } from "vitest";

import { needsCell, needsOf, NO_NEED } from "../src/features/orders/crew";
import { useCellRows } from "../src/kit/useCellRows";

function form(first: string) {
  const changes: string[] = [];
  const shown = renderHook(() => {
    const [cell, setCell] = useState(first);
    const change = (to: string) => {
      changes.push(to);
      setCell(to);
    };
    return { cell, setCell, ...useCellRows(cell, needsOf, needsCell, change) };
  });
  return { now: () => shown.result.current, changes };
}

describe("rows of a cell", () => {
  it("write the cell when one of them says something else", () => {
    const { now, changes } = form("mech x2 level 1");
    act(() => now().put(0, { people: "3" }));
    expect(now().cell).toBe("mech x3 level 1");
    expect(changes).toEqual(["mech x3 level 1"]);
  });
  it("stay where one more says nothing yet, and leave the cell as it is", () => {
    const { now, changes } = form("mech");
    act(() => now().write([...now().rows, NO_NEED]));
    expect(now().rows).toHaveLength(2);
    expect(changes).toEqual([]);
  });
  it("take over what comes into the cell from elsewhere", () => {
    const { now } = form("mech");
    act(() => now().put(0, { people: "2" }));
    act(() => now().setCell("elec x1 level 3"));
    expect(now().rows.map((r) => [r.craft, r.level])).toEqual([["elec", "3"]]);
  });
  it("go one by one", () => {
    const { now } = form("mech; elec");
    act(() => now().take(0));
    expect(now().cell).toBe("elec x1 level 1");
  });
});
