import type { Shapes } from "../../api/client";

type Day = Shapes["PersonDay"];
const HOUR = 36e5;

/** Hours from the first to the last of what is left of a day's shifts. */
export function hoursLeft(day: Day): number {
  return day.shifts.length
    ? (Math.max(...day.shifts.map((s) => Date.parse(s.end))) -
        Math.min(...day.shifts.map((s) => Date.parse(s.start)))) /
        HOUR
    : 0;
}

/**
 * Hours away that lie in or beside the hours that are left of a day, each with its reason; no shift is longer
 * than `longest` hours.
 */
export function absencesOf(day: Day, longest: number): { start: number; end: number; why: string }[] {
  if (!day.shifts.length) return [];
  const [first, last] = [
    Math.min(...day.shifts.map((s) => Date.parse(s.start))),
    Math.max(...day.shifts.map((s) => Date.parse(s.end))),
  ];
  return day.by_hand
    .filter((h) => h.what === "absence")
    .map((h) => ({
      start: Math.max(Date.parse(h.start), last - longest * HOUR),
      end: Math.min(Date.parse(h.end), first + longest * HOUR),
      why: h.note ?? "away",
    }))
    .filter((a) => a.end > a.start && a.start <= last && a.end >= first);
}

/** All reasons for which somebody is away on a day, each once: `sick and training`. */
export function reasonsOf(day: Day): string {
  return [...new Set(day.by_hand.filter((h) => h.what === "absence").map((h) => h.note ?? "away"))].join(
    " and ",
  );
}
