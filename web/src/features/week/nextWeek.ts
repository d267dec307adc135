import type { Overview } from "../../api/client";
import { dayLater, dayName } from "../../kit/words";

/**
 * Where a job can go in the week after this one, as entries of a menu; their keys are `next ` and the day.
 */
export function nextWeek(now: Overview): { key: string; label: string }[] {
  const days = now.days.map((d) => dayLater(d, 7));
  return [
    { key: "next ", label: "where it fits first" },
    ...days.map((d) => ({ key: `next ${d}`, label: dayName(d) })),
  ];
}
