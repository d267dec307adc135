/** Who can be given work: people, and crews as a whole. */
import type { Shapes } from "../../api/client";
import { useCrew } from "../../api/queries";
import { count } from "../../kit/words";

export type Taker = Pick<Shapes["GivingForm"], "person" | "crew">;

export function useTakers(week: string): { value: string; label: string }[] {
  const people = useCrew(week).data?.people ?? [];
  const crews = new Map<string, number>();
  for (const p of people) if (p.crew) crews.set(p.crew, (crews.get(p.crew) ?? 0) + 1);
  return [
    ...people.map((p) => ({ value: `person ${p.key}`, label: p.name })),
    ...[...crews].sort().map(([crew, n]) => ({
      value: `crew ${crew}`,
      label: `${crew}, crew of ${count(n, "person", "people")}`,
    })),
  ];
}

export function takerOf(value: string): Taker {
  return value.startsWith("person ")
    ? { person: value.slice(7), crew: null }
    : { person: null, crew: value.slice(5) };
}
