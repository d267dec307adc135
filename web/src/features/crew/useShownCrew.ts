/** People and open seats over the days that are shown, of this week and of the one beside it. */
import type { Shapes } from "../../api/client";
import { useCrew } from "../../api/queries";
import type { WeekView } from "../week/context";

export function useShownCrew(view: WeekView): { crew: Shapes["Crew"] | undefined; error: Error | null } {
  const { week, beside, shown } = view;
  const here = useCrew(week);
  const after = useCrew(beside?.week ?? week, beside !== null);
  if (!here.data || (beside && !after.data))
    return { crew: undefined, error: here.error ?? (beside ? after.error : null) };
  if (!beside) return { crew: here.data, error: null };
  const people = new Map<string, Shapes["PersonRow"]>();
  for (const p of [...here.data.people, ...after.data!.people])
    people.set(p.key, { ...p, days: [...(people.get(p.key)?.days ?? []), ...p.days] });
  return {
    error: null,
    crew: {
      crafts: here.data.crafts,
      people: [...people.values()].map((p) => ({ ...p, days: daysOf(p, shown) })),
      open_seats: [...here.data.open_seats, ...after.data!.open_seats].filter((s) => shown.includes(s.day)),
    },
  };
}

/** The person's days that are shown, in their order; one of which nothing is known has no shift. */
function daysOf(person: Shapes["PersonRow"], shown: string[]): Shapes["PersonDay"][] {
  return shown.map(
    (day) =>
      person.days.find((d) => d.day === day) ?? {
        day,
        shifts: [],
        work: [],
        hours: 0,
        free: 0,
        absence: null,
        by_hand: [],
        conflicts: [],
      },
  );
}
