/** Days, clocks and moments as people type them; what can not be read is null, never something else. */
const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
const WEEKDAY = /^(mon|tue|wed|thu|fri|sat|sun)[a-z]*[.,]?\s+/i;

export const DAY_WORDS = "write it like 3 Dec, tue, +3, w50 or 2026-12-03";
export const CLOCK_WORDS = "write it like 06:15";
export const MOMENT_WORDS = "write it like 3 Dec 06:15, tue 6:30 or +3 18:00";

/** `06:15`, typed as 6:15, 0615, 6.15 or 6. */
export function clockOf(typed: string): string | null {
  const found = /^(\d{1,2})[:.]?(\d{2})?$/.exec(typed.trim());
  const [hour, minute] = [Number(found?.[1]), Number(found?.[2] ?? 0)];
  return found && hour < 24 && minute < 60 ? `${two(hour)}:${two(minute)}` : null;
}

/**
 * `2026-12-03`, typed like 3 Dec, Thu 3 December 2026, 3.12., 3.12.2026 or 2026-12-03. Without a year it is
 * the day nearest to `near`. Seen from `today`: +3 and -1 are days from it, tue is the next Tuesday, w50 the
 * Monday of that week.
 */
export function dayOf(typed: string, near: string, today = near): string | null {
  const seen = fromToday(typed.trim().toLowerCase(), today.slice(0, 10));
  if (seen) return seen;
  const text = typed.trim().replace(WEEKDAY, "");
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  if (iso) return real(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const dotted = /^(\d{1,2})\.\s?(\d{1,2})\.?\s?(\d{4})?$/.exec(text);
  if (dotted) return nearest(Number(dotted[2]), Number(dotted[1]), dotted[3], near);
  const named = /^(\d{1,2})\.?\s*([a-z]{3,9})\.?,?\s*(\d{4})?$/i.exec(text);
  if (!named) return null;
  const month = MONTHS.indexOf(named[2]!.slice(0, 3).toLowerCase()) + 1;
  return month ? nearest(month, Number(named[1]), named[3], near) : null;
}

/**
 * `2026-12-03T06:15`: a day and a clock; a clock alone keeps the day of `near`, a day alone takes the clock
 * `alone`.
 */
export function momentOf(typed: string, near: string, alone: string, today = near): string | null {
  const text = typed.trim();
  const clock = clockOf(text);
  if (clock) return near ? `${near.slice(0, 10)}T${clock}` : null;
  const day = dayOf(text, near, today);
  if (day) return `${day}T${alone}`;
  const both = /^(.+?)[\sT,]+(\d{1,2}(?:[:.]?\d{2})?)$/.exec(text);
  const [on, at] = [both && dayOf(both[1]!, near, today), both && clockOf(both[2]!)];
  return on && at ? `${on}T${at}` : null;
}

const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];

function fromToday(text: string, today: string): string | null {
  const later = /^[+-]\d{1,3}$/.exec(text);
  if (later) return plus(today, Number(text));
  if (text === "today") return today;
  if (text === "tomorrow") return plus(today, 1);
  const weekday = text.length >= 2 ? DAYS.findIndex((d) => FULL[d]!.startsWith(text)) : -1;
  if (weekday >= 0) return plus(today, (weekday - place(today) + 7) % 7);
  const week = /^w(\d{1,2})$/.exec(text);
  if (!week) return null;
  const year = Number(today.slice(0, 4));
  const mondays = [year - 1, year, year + 1]
    .map((y) => mondayOf(y, Number(week[1])))
    .filter((d) => d !== null);
  const far = (d: string) => Math.abs(Date.parse(d) - Date.parse(today));
  return mondays.sort((a, b) => far(a) - far(b))[0] ?? null;
}

const FULL: Record<string, string> = {
  mon: "monday",
  tue: "tuesday",
  wed: "wednesday",
  thu: "thursday",
  fri: "friday",
  sat: "saturday",
  sun: "sunday",
};

/** 0 for Monday to 6 for Sunday. */
function place(day: string): number {
  return (new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7;
}

function plus(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}

/**
 * The Monday of an ISO week; null where the year has no such week. Week 1 is the one with 4 January (ISO
 * 8601).
 */
function mondayOf(year: number, week: number): string | null {
  const first = plus(`${year}-01-04`, -place(`${year}-01-04`));
  const monday = plus(first, 7 * (week - 1));
  return week >= 1 && plus(monday, 3).startsWith(String(year)) ? monday : null;
}

function two(n: number): string {
  return String(n).padStart(2, "0");
}

function real(year: number, month: number, day: number): string | null {
  const at = new Date(Date.UTC(year, month - 1, day));
  const there = at.getUTCFullYear() === year && at.getUTCMonth() === month - 1 && at.getUTCDate() === day;
  return there && year >= 1970 && year <= 2199 ? `${year}-${two(month)}-${two(day)}` : null;
}

function nearest(month: number, day: number, year: string | undefined, near: string): string | null {
  if (year) return real(Number(year), month, day);
  const around = Number(near.slice(0, 4));
  const days = [around - 1, around, around + 1].map((y) => real(y, month, day)).filter((d) => d !== null);
  const far = (d: string) => Math.abs(Date.parse(d) - Date.parse(near.slice(0, 10)));
  return days.sort((a, b) => far(a) - far(b))[0] ?? null;
}
