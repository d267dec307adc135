/**
 * Tasks put in between, doubled, moved and numbered anew; what follows what stays true. What one takes, for
 * the whole job.
 */
import { beforeCell, beforeOf, needsCell, needsOf, type Need } from "./crew";
import type { Cells } from "./useOrders";

export const TASK: Cells = {
  task: "10",
  title: "",
  hours: "",
  needs: "",
  after: "",
  asset_state: "any",
  splittable: "no",
};
const STEP = 10;
const numberOf = (t: Cells | undefined) => Number(t?.task) || 0;

/**
 * The number of a task that comes after the n-th: between it and the next where there is room, else after
 * all.
 */
export function numberAfter(tasks: Cells[], n: number): string {
  const here = numberOf(tasks[n]);
  const next = tasks.map(numberOf).filter((k) => k > here);
  const most = Math.max(0, ...tasks.map(numberOf));
  if (!next.length) return String(most + STEP);
  const between = Math.floor((here + Math.min(...next)) / 2);
  return String(between > here ? between : most + STEP);
}

/**
 * An empty task after the n-th, with its crew; it follows the n-th, and what followed that alone follows it.
 */
export function insertedAfter(tasks: Cells[], n: number, blank: Cells): Cells[] {
  const here = tasks[n]!;
  const made = {
    ...blank,
    task: numberAfter(tasks, n),
    after: here.task ?? "",
    needs: here.needs ?? "",
    asset_state: here.asset_state ?? "any",
  };
  const next = tasks[n + 1];
  const rest = tasks.slice(n + 1);
  if (next && next.after === here.task) rest[0] = { ...next, after: made.task };
  return [...tasks.slice(0, n + 1), made, ...rest];
}

/** The n-th task once more, after it. */
export function doubled(tasks: Cells[], n: number): Cells[] {
  const twin = { ...tasks[n]!, task: numberAfter(tasks, n), state: "" };
  return [...tasks.slice(0, n + 1), twin, ...tasks.slice(n + 1)];
}

/**
 * The n-th task before or after its neighbour; numbers stay with the places, so that the list stays in their
 * order.
 */
export function moved(tasks: Cells[], n: number, by: 1 | -1): Cells[] {
  const to = n + by;
  if (to < 0 || to >= tasks.length) return tasks;
  const out = [...tasks];
  [out[n], out[to]] = [out[to]!, out[n]!];
  const names = new Map([
    [tasks[n]!.task ?? "", tasks[to]!.task ?? ""],
    [tasks[to]!.task ?? "", tasks[n]!.task ?? ""],
  ]);
  return renamed(out, names);
}

/** All tasks numbered 10, 20, 30 in their order. */
export function renumbered(tasks: Cells[]): Cells[] {
  return renamed(tasks, new Map(tasks.map((t, n) => [t.task ?? "", String((n + 1) * STEP)])));
}

/**
 * All tasks with what the n-th takes beside what they take themselves: its people and tools, for the whole
 * job.
 */
export function everywhere(tasks: Cells[], n: number): Cells[] {
  const of = tasks[n]!;
  return tasks.map((t, k) =>
    k === n
      ? t
      : {
          ...t,
          needs: withNeeds(t.needs ?? "", needsOf(of.needs ?? "")),
          tools: withNames(t.tools ?? "", of.tools ?? ""),
        },
  );
}

const alike = (a: Need, b: Need) =>
  a.craft === b.craft && a.level === b.level && a.certificate === b.certificate;

function withNeeds(cell: string, more: Need[]): string {
  const its = needsOf(cell);
  return needsCell([...its, ...more.filter((need) => !its.some((one) => alike(one, need)))]);
}

function withNames(cell: string, more: string): string {
  const names = (of: string) => of.split(";").map((name) => name.trim());
  return [...new Set([...names(cell), ...names(more)])].filter(Boolean).join("; ");
}

function renamed(tasks: Cells[], names: Map<string, string>): Cells[] {
  const name = (task: string) => names.get(task) ?? task;
  return tasks.map((t) => ({
    ...t,
    task: name(t.task ?? ""),
    after: beforeCell(beforeOf(t.after ?? "").map((b) => ({ ...b, task: name(b.task) }))),
  }));
}
