/**
 * The rungs of a plan in a cell, the lowest first: `monthly: 1 month; service: 500 h or 1 year; overhaul:
 * shutdown autumn +2`.
 */
export interface RungRow {
  name: string;
  every: string;
  /** Empty where the calendar does not decide. */
  unit: string;
  on: string;
  /** So many of a meter's units; empty where no meter decides. */
  count: string;
  counted: string;
  /** The series of shutdowns that it hangs on, and days from the first of each. */
  series: string;
  offset: string;
}
export const UNITS = ["day", "week", "month", "year"];
export const NEW_RUNG: RungRow = {
  name: "",
  every: "1",
  unit: "month",
  on: "",
  count: "",
  counted: "",
  series: "",
  offset: "",
};
const BY_CALENDAR = /^(\d*)\s*(day|week|month|year)s?(?:\s+on\s+(.*))?$/i;
const BY_SHUTDOWN = /^shutdown\s+(.+?)(?:\s+([+-]\d+))?$/i;
const BY_METER = /^([\d.]+)\s+(\S+)$/;

export function rungsOf(cell: string): RungRow[] {
  return cell
    .split(";")
    .map((part) => /^([^:]*):\s*(.*)$/.exec(part.trim()))
    .filter((found) => found !== null)
    .map(([, name, clauses]) => {
      const row: RungRow = { ...NEW_RUNG, name: name!, every: "", unit: "" };
      for (const clause of clauses!.split(/\s+or\s+/)) {
        const calendar = BY_CALENDAR.exec(clause);
        const shutdown = BY_SHUTDOWN.exec(clause);
        const meter = BY_METER.exec(clause);
        if (calendar) Object.assign(row, { every: calendar[1], unit: calendar[2], on: calendar[3] ?? "" });
        else if (shutdown) Object.assign(row, { series: shutdown[1], offset: shutdown[2] ?? "" });
        else if (meter) Object.assign(row, { count: meter[1], counted: meter[2] });
      }
      return row;
    });
}

export function rungsCell(rows: RungRow[]): string {
  return rows
    .map((r) => {
      const many = Number(r.every) > 1 ? "s" : "";
      const clauses = [
        r.unit && `${r.every} ${r.unit}${many}${r.on.trim() ? ` on ${r.on.trim()}` : ""}`,
        r.counted && `${r.count} ${r.counted}`,
        r.series && `shutdown ${r.series}${Number(r.offset) ? ` ${signedDays(r.offset)}` : ""}`,
      ];
      return `${r.name.trim()}: ${clauses.filter(Boolean).join(" or ")}`;
    })
    .join("; ");
}

const signedDays = (days: string) => (Number(days) > 0 ? `+${Number(days)}` : String(Number(days)));

/**
 * Which rungs each task belongs to, in a cell: `10=monthly, yearly; 20=yearly`; a task that is not named
 * belongs to all.
 */
export function gridOf(cell: string): Map<string, string[]> {
  return new Map(
    cell
      .split(";")
      .map((part) => part.split("="))
      .filter((pair) => pair.length === 2 && pair[0]!.trim())
      .map(([task, rungs]) => [task!.trim(), rungs!.split(",").map((r) => r.trim())] as const),
  );
}

export function gridCell(grid: Map<string, string[]>): string {
  return [...grid]
    .filter(([, rungs]) => rungs.length)
    .map(([task, rungs]) => `${task}=${rungs.join(", ")}`)
    .join("; ");
}
