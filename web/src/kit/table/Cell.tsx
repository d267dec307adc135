import type { ReactNode } from "react";

import type { Column, ListRow } from "../../api/lists";
import { clock, dayOfAnyYear, figure, localDay, money } from "../words";

/** A cell in words, as it is copied. */
export function cellText(column: Column, row: ListRow, zone: string): string {
  const value = row.cells[column.name] as unknown;
  if (value === null || value === undefined || value === "") return "";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return value.map((v) => labelOf(column, String(v))).join(", ");
  if (typeof value === "object")
    return Object.entries(value as Record<string, number>)
      .map(([k, v]) => `${labelOf(column, k)} ${figure(v)}`)
      .join(", ");
  if (column.kind === "moment")
    return `${dayOfAnyYear(localDay(String(value), zone))} ${clock(String(value), zone)}`;
  if (column.kind === "day") return dayOfAnyYear(String(value));
  if (typeof value === "number") return figure(value);
  return labelOf(column, String(value));
}

function labelOf(column: Column, value: string): string {
  return column.choices.find((c) => c.value === value)?.label ?? value;
}

const WITH_CLOCK = 140;

/** A cell where the list says nothing special of it. */
export function Cell({ column, row, zone }: { column: Column; row: ListRow; zone: string }): ReactNode {
  const value = row.cells[column.name] as unknown;
  const text = cellText(column, row, zone);
  if (!text) return <span className="soft">–</span>;
  if (column.kind === "money") return money(Math.round(100 * Number(value)), "");
  if (column.kind === "moment" && column.width < WITH_CLOCK)
    return <span title={text}>{dayOfAnyYear(localDay(String(value), zone))}</span>;
  return text;
}
