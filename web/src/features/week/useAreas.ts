import { useCallback, useState } from "react";

import type { Shapes } from "../../api/client";

/**
 * The areas that somebody looks at, kept in this browser: those of the account until another choice is made;
 * none = all.
 */
export function useAreas(me: Shapes["Me"], known: string[]) {
  const place = `areas of ${me.name}`;
  const [chosen, setChosen] = useState<string[]>(() => read(place) ?? me.areas);
  const areas = known.every((a) => chosen.includes(a)) ? [] : chosen.filter((a) => known.includes(a));
  const choose = useCallback(
    (next: string[]) => {
      localStorage.setItem(place, JSON.stringify(next));
      setChosen(next);
    },
    [place],
  );
  return { areas, choose };
}

function read(place: string): string[] | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(place) ?? "null");
    return Array.isArray(kept) ? kept.filter((a): a is string => typeof a === "string") : null;
  } catch {
    return null;
  }
}
