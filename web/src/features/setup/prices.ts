/** What makes a week hard to work, and what each of its prices buys. */
type Name = "waiting_per_hour" | "waiting_cap_hours" | "handover" | "area_change" | "away_per_hour";

export const PRICES: { name: Name; label: string; unit: string; most: number; why: string }[] = [
  {
    name: "waiting_per_hour",
    label: "A job that waits",
    unit: "points an hour",
    most: 1000,
    why:
      "For each hour in which nobody works on an opened job. Buys jobs that are done in one go, " +
      "and assets that are back sooner.",
  },
  {
    name: "waiting_cap_hours",
    label: "Waiting counts for",
    unit: "hours at most",
    most: 168,
    why: "A longer gap costs no more than this: a job that lies open over a weekend is as bad as it gets.",
  },
  {
    name: "handover",
    label: "A handover",
    unit: "points each",
    most: 10000,
    why:
      "When entirely other people of the same craft go on. Buys people who finish what they began: " +
      "above some 16 hours of waiting they come back tomorrow, below the next shift takes over.",
  },
  {
    name: "area_change",
    label: "A change of area",
    unit: "points each",
    most: 10000,
    why: "When somebody goes to another area within a shift. Buys days in one valley.",
  },
  {
    name: "away_per_hour",
    label: "An hour away",
    unit: "points an hour",
    most: 1000,
    why: "For each hour that somebody works outside the area of the shift. Buys work near home.",
  },
];
