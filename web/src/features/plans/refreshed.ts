/** A WO's tasks as its plan has them now: what was begun, done or skipped stays as it is. */
import type { Cells } from "../orders/useOrders";

export function refreshed(own: Cells[], planned: Cells[]): Cells[] {
  const kept = own.filter((t) => (t.state || "to do") !== "to do");
  const numbers = new Set(kept.map((t) => t.task));
  const fresh = planned
    .filter((t) => !numbers.has(t.task))
    .map((t) => ({ ...(own.find((o) => o.task === t.task) ?? {}), ...t }));
  return [...kept, ...fresh].sort((a, b) => Number(a.task) - Number(b.task));
}
