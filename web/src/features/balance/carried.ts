/** Jobs on their way from one tank to another, dragged or moved by key. */
import type { AnyEdit, Key } from "../../api/client";
import { weekOfDay, type WeekView } from "../week/context";

export interface Carried {
  week: string;
  jobs: string[];
  keys: Key[];
}

export function written(carried: Carried): string {
  return JSON.stringify(carried);
}

export function readCarried(text: string): Carried | null {
  return text.startsWith('{"week"') ? (JSON.parse(text) as Carried) : null;
}

/** Put what is carried on a day: a move in its week, or into the week beside it. */
export function carryTo(view: WeekView, carried: Carried, day: string): Promise<boolean> {
  const from = view.beside?.week === carried.week ? view.beside : view;
  const there = weekOfDay(view, day);
  const edit: AnyEdit =
    from.week === there.week
      ? { kind: "move", keys: carried.keys, day, whole: true }
      : { kind: "next week", jobs: carried.jobs, day };
  return from.edit(edit);
}
