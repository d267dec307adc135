/**
 * How a list is looked at: its question, its columns and their widths, density. It stands in the address, and
 * views keep it.
 */
import { useCallback, useMemo } from "react";

import type { Shapes } from "../../api/client";
import type { Column, Filter, Head, Question, Sort, View } from "../../api/lists";
import { useKept } from "../../app/address";

export interface Shown {
  filters: Filter[];
  sort: Sort[];
  group: string | null;
  /** Names of columns in their order. */
  columns: string[];
  widths: Record<string, number>;
  dense: boolean;
}

export interface ListState {
  shown: Shown;
  find: string;
  question: Question;
  /** The view that it began with, and whether something was changed since. */
  view: View | null;
  changed: boolean;
  set: (change: Partial<Shown>) => void;
  setFind: (text: string) => void;
  /** Ask a column for something else; null asks it for nothing. */
  filter: (column: string, to: Filter | null) => void;
  open: (view: View | null) => void;
}

export function usual(head: Head | undefined, sort: Sort[] = []): Shown {
  const columns = (head?.columns ?? []).filter((c) => c.shown).map((c) => c.name);
  return { filters: [], sort, group: null, columns, widths: {}, dense: false };
}

/** What a view keeps, as far as the list has its columns still. */
export function ofView(view: View, head: Head, sort: Sort[]): Shown {
  const kept = view.body as Partial<{ question: Partial<Question>; columns: string[] }> & Partial<Shown>;
  const has = (name: string) => head.columns.some((c) => c.name === name);
  const start = usual(head, sort);
  const columns = (kept.columns ?? []).filter(has);
  return {
    filters: (kept.question?.filters ?? []).filter((f) => has(f.column)),
    sort: (kept.question?.sort ?? sort).filter((s) => has(s.column)),
    group: kept.question?.group && has(kept.question.group) ? kept.question.group : null,
    columns: columns.length ? columns : start.columns,
    widths: kept.widths ?? {},
    dense: kept.dense ?? false,
  };
}

/** What a view is to keep of what is seen. */
export function bodyOf(shown: Shown, find: string): Shapes["ViewBody"] {
  const { filters, sort, group, columns, widths, dense } = shown;
  return { question: { filters, sort, group, find }, columns, widths, dense };
}

function read(text: string): (Partial<Shown> & { view?: string }) | null {
  try {
    return text ? (JSON.parse(text) as Partial<Shown>) : null;
  } catch {
    return null; // an address that somebody typed wrong shows the list as it begins
  }
}

/** The state of a list; `sort` is its order where none is asked for. */
export function useShown(head: Head | undefined, sort: Sort[]): ListState {
  const [text, setText] = useKept("list");
  const [find, setFind] = useKept("find");
  const said = useMemo(() => read(text), [text]);
  const view = useMemo(() => {
    if (!head || said?.view === "none") return null;
    return head.views.find((v) => (said?.view ? v.key === said.view : v.begins)) ?? null;
  }, [head, said]);
  const start = useMemo(
    () => (head && view ? ofView(view, head, sort) : usual(head, sort)),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the usual order is a constant of the screen
    [head, view],
  );
  const shown = useMemo(() => ({ ...start, ...said }) as Shown, [start, said]);
  const question = useMemo(
    () => ({ filters: shown.filters, find, sort: shown.sort, group: shown.group }),
    [shown, find],
  );
  const set = useCallback(
    (change: Partial<Shown>) => setText(JSON.stringify({ ...said, ...change })),
    [said, setText],
  );
  const filter = useCallback(
    (column: string, to: Filter | null) =>
      set({ filters: [...shown.filters.filter((f) => f.column !== column), ...(to ? [to] : [])] }),
    [shown.filters, set],
  );
  const open = useCallback(
    (to: View | null) => {
      setText(JSON.stringify({ view: to ? to.key : "none" }));
      setFind((to?.body as { question?: { find?: string } } | undefined)?.question?.find ?? "");
    },
    [setText, setFind],
  );
  const kept = said ? Object.keys(said).filter((k) => k !== "view") : [];
  return { shown, find, question, view, changed: kept.length > 0, set, setFind, filter, open };
}

/**
 * The list limited to some values of columns, without that being a filter of a view; no values limit nothing.
 */
export function limitedTo(state: ListState, values: Record<string, string[]>): ListState {
  const asked = state.question.filters.map((f) => f.column);
  const more = Object.entries(values)
    .filter(([column, of]) => of.length > 0 && !asked.includes(column))
    .map(([column, of]) => ({ column, how: "is" as const, values: of }));
  if (!more.length) return state;
  return { ...state, question: { ...state.question, filters: [...state.question.filters, ...more] } };
}

/** Pixels that a heading takes with its button, roughly. */
const headed = (c: Column) => 40 + 6.6 * c.label.length;

/**
 * Columns that are shown, as far as there is room: those that matter least give way first. Room to spare goes
 * to headings that would be cut, then to the widest column.
 */
export function fitting(
  columns: Column[],
  widths: Record<string, number>,
  room: number,
): { columns: Column[]; widths: number[]; gone: Column[] } {
  const of = (c: Column) => widths[c.name] ?? c.width;
  const left = [...columns];
  const gone: Column[] = [];
  while (left.length > 2 && left.reduce((all, c) => all + of(c), 0) > room) {
    const least = Math.max(...left.map((c) => c.weight));
    if (least <= 1) break;
    const at = left.findLastIndex((c) => c.weight === least);
    gone.push(...left.splice(at, 1));
  }
  const wide = left.length ? left.reduce((a, b) => (of(b) > of(a) ? b : a)) : undefined;
  let spare = Math.max(0, room - left.reduce((all, c) => all + of(c), 0));
  const sized = left.map((c) => {
    const short = c.name in widths ? 0 : Math.ceil(Math.max(0, headed(c) - of(c)));
    const more = Math.min(short, spare);
    spare -= more;
    return of(c) + more;
  });
  return { columns: left, widths: sized.map((w, n) => w + (left[n] === wide ? spare : 0)), gone };
}
