import type { Shapes } from "../../api/client";
import { at, zoned } from "../../kit/words";
import { absencesOf } from "./absences";

const HOUR = 36e5;

/**
 * One clock for all rows of a day, so that people on one task stand under each other: the hours that the day
 * needs, else 06:00 to 06:00.
 */
export function dayClock(
  days: Shapes["PersonDay"][],
  seats: Shapes["SeatItem"][],
  day: string,
  zone: string,
  longest: number,
): { first: number; length: number } {
  const work = [...days.flatMap((d) => d.work), ...seats].filter((w) => w.start && w.end);
  const parts = [...days.flatMap((d) => d.shifts), ...work].map(
    (s) => [Date.parse(s.start!), Date.parse(s.end!)] as const,
  );
  const away = days.flatMap((d) => absencesOf(d, longest)).map((a) => [a.start, a.end] as const);
  const all = [...parts, ...away];
  const six = Date.parse(zoned(day, "06:00", zone));
  if (!all.length) return { first: six, length: 24 };
  const first = Math.floor(Math.min(...all.map(([a]) => a)) / HOUR) * HOUR;
  return { first, length: Math.ceil((Math.max(...all.map(([, b]) => b)) - first) / HOUR) };
}

const STEPS = [1, 2, 3, 4, 6];

/**
 * Marks of the ruler over one of several days: each hour, or every second or third one where many are to be
 * told.
 */
export function hourMarks(
  { first, length }: { first: number; length: number },
  day: string,
  zone: string,
  days = 1,
): { at: number; label: string }[] {
  const step = STEPS.find((h) => length / h <= 14 / days) ?? 12;
  return Array.from({ length: Math.floor(length / step) }, (_, n) => ({
    at: (100 * n * step) / length,
    label: at(new Date(first + n * step * HOUR).toISOString(), day, zone).replace(/:00$/, ""),
  }));
}
