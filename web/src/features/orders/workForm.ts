/**
 * A form of a record with its tasks, as WOs and job plans have them: what is typed, what was refused, what
 * others changed meanwhile.
 */
import { useState } from "react";

import { Problem } from "../../api/client";
import type { FieldDiffers } from "../../kit/Differs";
import { merged, type Typed } from "./merge";
import type { Cells } from "./useOrders";

export type Start = Typed & { revision: number | null };

interface Wanted {
  start: Start;
  /** It says something already that is kept nowhere. */
  begun?: boolean;
  close: (made?: string) => void;
  /** The record as it is now, whatever the form holds. */
  fresh: () => Promise<Start>;
}

export function useWorkForm({ start, begun, close, fresh }: Wanted) {
  const [base, setBase] = useState(start);
  const [order, setOrder] = useState<Cells>(start.order);
  const [tasks, setTasks] = useState<Cells[]>(start.tasks);
  const [differs, setDiffers] = useState<FieldDiffers[] | null>(null);
  const [wrong, setWrong] = useState<{ text: string; field: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const changed = begun || JSON.stringify([order, tasks]) !== JSON.stringify([base.order, base.tasks]);
  /** Send something; the form closes, or says what stands in the way and keeps what was typed. */
  const act = async (work: () => Promise<string | void>) => {
    setBusy(true);
    setWrong(null);
    setDiffers(null);
    try {
      close((await work()) || undefined);
    } catch (bad) {
      const lines = bad instanceof Problem ? (bad.facts.differs as FieldDiffers[] | undefined) : undefined;
      if (lines) setDiffers(lines);
      else setWrong({ text: (bad as Error).message, field: bad instanceof Problem ? bad.field : "" });
      setBusy(false);
    }
  };
  /** What was typed, on top of what others left. */
  const onTop = async () => {
    const now = await fresh();
    const both = merged(base, { order, tasks }, now);
    setBase(now);
    setOrder(both.order);
    setTasks(both.tasks);
    setDiffers(null);
  };
  const set = (name: string, value: string) => setOrder((now) => ({ ...now, [name]: value }));
  return {
    base,
    order,
    tasks,
    set,
    setAll: (cells: Cells) => setOrder((now) => ({ ...now, ...cells })),
    setTasks,
    wrong,
    differs,
    busy,
    changed,
    act,
    onTop,
  };
}
