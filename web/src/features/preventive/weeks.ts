import { dayLater } from "../../kit/words";

/** The Monday of a day's week. */
export function mondayBefore(day: string): string {
  return dayLater(day, -((new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7));
}

/** The first day of a month so many months later, from `2026-12`. */
export function monthLater(month: string, by: number): string {
  const [year, nth] = month.split("-").map(Number);
  return new Date(Date.UTC(year!, nth! - 1 + by, 1)).toISOString().slice(0, 10);
}

const MONTHS = "January February March April May June July August September October November December".split(
  " ",
);

/** `December 2026`, from `2026-12`. */
export function monthName(month: string): string {
  return `${MONTHS[Number(month.slice(5)) - 1]} ${month.slice(0, 4)}`;
}
