/** What stands below one another in a list: rows, and before each group its head. */
import type { Shapes } from "../../api/client";

type Group = Shapes["Group"];
export type Item = { row: number } | { group: Group };

export interface Items {
  count: number;
  at: (n: number) => Item;
  /** Where a row stands, as far as its group is open. */
  of: (row: number) => number;
}

export const groupKey = (g: Group) => g.value ?? "";

/** Without groups an item is a row; closed groups show their head alone. */
export function itemsOf(total: number, groups: Group[] | null, closed: ReadonlySet<string>): Items {
  if (!groups) return { count: total, at: (n) => ({ row: n }), of: (row) => row };
  const starts: { item: number; row: number; group: Group; open: boolean }[] = [];
  let item = 0;
  let row = 0;
  for (const group of groups) {
    const open = !closed.has(groupKey(group));
    starts.push({ item, row, group, open });
    item += 1 + (open ? group.count : 0);
    row += group.count;
  }
  const last = (by: "item" | "row", n: number) => {
    let [low, high] = [0, starts.length - 1];
    while (low < high) {
      const mid = (low + high + 1) >> 1;
      if (starts[mid]![by] <= n) low = mid;
      else high = mid - 1;
    }
    return starts[low]!;
  };
  return {
    count: item,
    at: (n) => {
      const s = last("item", n);
      return n === s.item ? { group: s.group } : { row: s.row + n - s.item - 1 };
    },
    of: (n) => {
      const s = last("row", n);
      return s.open ? s.item + 1 + n - s.row : s.item;
    },
  };
}
