/** What somebody typed into a form, put on top of the record as others left it. */
import type { Cells } from "./useOrders";

export interface Typed {
  order: Cells;
  tasks: Cells[];
}

/**
 * Fields that were typed stay as typed, all others are as they are now; tasks that were added or taken off
 * stay so.
 */
export function merged(start: Typed, typed: Typed, now: Typed): Typed {
  const kept = typed.tasks.filter((t) => !byNumber(start.tasks, t.task) || byNumber(now.tasks, t.task));
  const theirs = now.tasks.filter((t) => !byNumber(start.tasks, t.task) && !byNumber(typed.tasks, t.task));
  return {
    order: onTop(start.order, typed.order, now.order),
    tasks: [
      ...kept.map((t) => onTop(byNumber(start.tasks, t.task) ?? {}, t, byNumber(now.tasks, t.task) ?? t)),
      ...theirs,
    ],
  };
}

function byNumber(tasks: Cells[], number: string): Cells | undefined {
  return tasks.find((t) => t.task === number);
}

function onTop(start: Cells, typed: Cells, now: Cells): Cells {
  const out: Cells = { ...now };
  for (const [name, value] of Object.entries(typed)) if (value !== (start[name] ?? "")) out[name] = value;
  return out;
}
