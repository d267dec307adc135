/**
 * The network of a WO's tasks: how long it takes from the first to the last, by which way, and whether its
 * order goes in a circle.
 */
import { beforeOf, needsOf } from "./crew";
import { outsideOf } from "./outside";
import type { Cells } from "./useOrders";

/** Elapsed hours of a task; 0 where none are said. */
export const hoursOfTask = (t: Cells): number => Number(t.hours) || 0;

/** How many people a task takes: those of all its crew needs that name a craft. */
export function peopleOf(t: Cells): number {
  return needsOf(t.needs ?? "").reduce((all, n) => all + (n.craft ? Number(n.people) || 1 : 0), 0);
}

/** Work hours of a task: elapsed hours by people. */
export const workOf = (t: Cells): number => hoursOfTask(t) * peopleOf(t);

/** Cents that a task costs: its elapsed hours by the people of each craft and what an hour of it costs. */
export function costOf(t: Cells, rates: Map<string, number>): number {
  const hours = hoursOfTask(t);
  const own = needsOf(t.needs ?? "").map((n) => (Number(n.people) || 1) * (rates.get(n.craft) ?? 0));
  const outside = outsideOf(t.outside ?? "").map((o) => Number(o.people) * Number(o.rate));
  return [...own, ...outside].reduce((all, anHour) => all + Math.round(hours * anHour * 100), 0);
}

export interface Network {
  /** Elapsed hours from the first to the last task, waits counted; 0 where the order goes in a circle. */
  hours: number;
  /** Numbers of the tasks on the longest way, in their order. */
  critical: string[];
  /** Numbers of tasks that wait for one another in a circle. */
  circle: string[];
  /**
   * By number the hour at which a task can begin, from the first on; empty where the order goes in a circle.
   */
  starts: Map<string, number>;
}

/**
 * The longest way through the tasks: each begins when all that it follows are done and have been waited for.
 */
export function networkOf(tasks: Cells[]): Network {
  const by = new Map(tasks.map((t) => [t.task ?? "", t]));
  const ends = new Map<string, number>();
  const from = new Map<string, string | null>();
  const under: string[] = [];
  let circle: string[] = [];
  const endOf = (number: string): number => {
    const known = ends.get(number);
    if (known !== undefined) return known;
    if (under.includes(number)) {
      circle = under.slice(under.indexOf(number));
      return 0;
    }
    under.push(number);
    const task = by.get(number)!;
    let start = 0;
    let way: string | null = null;
    for (const b of beforeOf(task.after ?? "")) {
      if (!by.has(b.task)) continue;
      const ready = endOf(b.task) + (Number(b.lag) || 0);
      if (ready > start || way === null) [start, way] = [Math.max(start, ready), b.task];
    }
    under.pop();
    ends.set(number, start + hoursOfTask(task));
    from.set(number, way);
    return ends.get(number)!;
  };
  for (const t of tasks) endOf(t.task ?? "");
  if (circle.length) return { hours: 0, critical: [], circle, starts: new Map() };
  const last = [...ends.entries()].reduce<[string, number] | null>(
    (a, b) => (!a || b[1] > a[1] ? b : a),
    null,
  );
  const critical: string[] = [];
  for (let at = last?.[0] ?? null; at !== null; at = from.get(at) ?? null) critical.unshift(at);
  const starts = new Map(
    tasks.map((t) => [t.task ?? "", (ends.get(t.task ?? "") ?? 0) - hoursOfTask(t)] as const),
  );
  return { hours: last?.[1] ?? 0, critical, circle: [], starts };
}
