import type { Shapes } from "../../api/client";

type Day = Shapes["PersonDay"];
const HOUR = 36e5;

/** Hours away that lie in or beside the hours that are left of a day, each with its reason. */
export function absencesOf(day: Day): { start: number; end: number; why: string }[] {
  if (!day.shifts.length) return [];
  const [first, last] = [Math.min(...day.shifts.map((s) => Date.parse(s.start))), Math.max(...day.shifts.map((s) => Date.parse(s.end)))];
  return day.by_hand
    .filter((h) => h.what === "absence")
    .map((h) => ({ start: Math.max(Date.parse(h.start), last - 16 * HOUR), end: Math.min(Date.parse(h.end), first + 16 * HOUR), why: h.note ?? "away" }))
    .filter((a) => a.end > a.start && a.start <= last && a.end >= first);
}

/** All reasons for which somebody is away on a day, each once: `sick and training`. */
export function reasonsOf(day: Day): string {
  return [...new Set(day.by_hand.filter((h) => h.what === "absence").map((h) => h.note ?? "away"))].join(" and ");
}
