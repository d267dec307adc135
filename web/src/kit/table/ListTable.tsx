import { useVirtualizer } from "@tanstack/react-virtual";
import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useReducer,
  useRef,
  useState,
  type ReactNode,
} from "react";

import {
  allKeys,
  allRows,
  pagesAround,
  useGroups,
  useRows,
  type Column,
  type Head,
  type ListRow,
  type Where,
} from "../../api/lists";
import { useShortcuts, type Shortcut } from "../../app/keys";
import { useRefusal } from "../useRefusal";
import { count, money, sum } from "../words";
import { cellText } from "./Cell";
import type { Chosen } from "./chosen";
import { HeadCell } from "./HeadCell";
import { groupKey, itemsOf } from "./items";
import { GroupLine, ListLine, type Press } from "./ListLine";
import { fitting, type ListState } from "./shown";

const BOX = 30;
const HEAD = 30;
const AROUND = 12;

export interface ListProps {
  where: Where;
  head: Head;
  state: ListState;
  /** What the list is called, for those who listen. */
  label: string;
  zone: string;
  chosen: Chosen;
  /** What stands in a cell; undefined leaves it to the list. */
  cell?: (column: Column, row: ListRow) => ReactNode | undefined;
  /** The record that is open beside the list. */
  opened?: string | null;
  open?: (key: string) => void;
  /** The row that arrows stand on, told when it changes. */
  stand?: (row: ListRow | undefined) => void;
  /** Shown where no row passes. */
  empty: ReactNode;
  shortcuts?: Shortcut[];
  /** What a row is: `job`. */
  noun: string;
  told?: (total: number, sums: Record<string, number>) => void;
}

/** Rows of a list: only those in sight are drawn, pages of them are asked for as they come into it. */
export function ListTable(props: ListProps) {
  const { where, head, state, chosen, zone, stand, told } = props;
  const { shown, question } = state;
  const scroller = useRef<HTMLDivElement>(null);
  const room = useRoom(scroller);
  const refuse = useRefusal();
  const [at, setAt] = useState(0);
  const [, again] = useReducer((n: number) => n + 1, 0);
  const anchor = useRef(0);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [pages, setPages] = useState<[number, number]>([0, 0]);
  const rows = useRows(where, question, ...pages);
  const groups = useGroups(where, question);
  const items = useMemo(
    () => itemsOf(rows.total, question.group ? (groups.data ?? []) : null, closed),
    [rows.total, question.group, groups.data, closed],
  );
  const fit = useMemo(() => {
    const columns = shown.columns
      .map((name) => head.columns.find((c) => c.name === name))
      .filter((c) => c !== undefined);
    return fitting(columns, shown.widths, room - BOX - 2);
  }, [shown.columns, shown.widths, head.columns, room]);
  const template = `${BOX}px ${fit.widths.map((w) => `${w}px`).join(" ")}`;
  const width = fit.widths.reduce((sum, w) => sum + w, BOX);
  const height = shown.dense ? 26 : 36;
  const virtual = useVirtualizer({
    count: items.count,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: AROUND,
    scrollMargin: HEAD,
    scrollPaddingStart: HEAD,
    useFlushSync: false,
  });
  const seen = virtual.getVirtualItems();
  useEffect(() => virtual.measure(), [virtual, height]);
  const inSight = seen.map((v) => items.at(v.index)).filter((i) => "row" in i);
  const [first, last] = pagesAround(inSight[0]?.row ?? 0, inSight.at(-1)?.row ?? 0, rows.total);
  useEffect(() => setPages([first, last]), [first, last]);
  const asked = JSON.stringify(question);
  useEffect(() => {
    setAt(0);
    anchor.current = 0;
    chosen.clear();
    scroller.current?.scrollTo({ top: 0 });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- another question begins at its top
  }, [asked]);
  const row = rows.rowAt(at);
  useEffect(() => {
    stand?.(row);
  }, [row, stand]);
  useEffect(() => told?.(rows.total, rows.sums), [told, rows.total, rows.sums]);
  const wanted = useRef<number | null>(null); // the row that a key went to gets the focus once it is drawn
  useEffect(() => {
    if (wanted.current === null) return;
    const there = scroller.current?.querySelector<HTMLElement>(`[data-row="${wanted.current}"]`);
    if (!there) return;
    wanted.current = null;
    there.focus({ preventScroll: true });
  });
  const stands = useRef(0); // keys may come faster than rows are drawn
  useEffect(() => {
    stands.current = at;
  }, [at]);
  const go = (to: number) => {
    const n = Math.min(Math.max(to, 0), Math.max(0, rows.total - 1));
    stands.current = n;
    setAt(n);
    virtual.scrollToIndex(items.of(n), { align: "auto" });
    wanted.current = n;
    again();
    return n;
  };
  const chooseAll = () =>
    allKeys(where, question)
      .then(chosen.add)
      .catch((bad: unknown) => refuse("Nothing was chosen", bad));
  const chooseTo = async (a: number, b: number) => {
    const [low, high] = [Math.min(a, b), Math.max(a, b)];
    const held = Array.from({ length: high - low + 1 }, (_, n) => rows.rowAt(low + n)?.key);
    if (held.every((k) => k !== undefined)) return chosen.add(held);
    try {
      chosen.add((await allKeys(where, question)).slice(low, high + 1));
    } catch (bad) {
      refuse("Nothing was chosen", bad);
    }
  };
  const step = (by: number, also: boolean) => {
    const n = go(stands.current + by);
    if (!also) anchor.current = n;
    if (also) void chooseTo(anchor.current, n);
    const next = rows.rowAt(n);
    if (!also && props.opened && next) props.open?.(next.key);
  };
  const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / height) - 2);
  useShortcuts([
    { keys: "ArrowDown", what: "Next row", group: "Lists", run: () => step(1, false) },
    { keys: "ArrowUp", what: "Row before", group: "Lists", run: () => step(-1, false) },
    {
      keys: "Shift+ArrowDown",
      what: "Choose down to the next row",
      group: "Lists",
      run: () => step(1, true),
    },
    { keys: "Shift+ArrowUp", what: "Choose up to the row before", group: "Lists", run: () => step(-1, true) },
    { keys: "PageDown", what: "A page down", group: "Lists", run: () => step(page, false) },
    { keys: "PageUp", what: "A page up", group: "Lists", run: () => step(-page, false) },
    { keys: "Home", what: "The first row", group: "Lists", run: () => step(-rows.total, false) },
    { keys: "End", what: "The last row", group: "Lists", run: () => step(rows.total, false) },
    {
      keys: " ",
      what: "Choose the row, or no more",
      group: "Lists",
      run: () => row && chosen.toggle(row.key),
    },
    { keys: "Enter", what: "Open the row", group: "Lists", run: () => row && props.open?.(row.key) },
    {
      keys: "Ctrl+a",
      what: "Choose all that the filter shows",
      group: "Lists",
      run: () => void chooseAll(),
    },
    ...(props.shortcuts ?? []),
  ]);
  const asText = (lines: ListRow[]) =>
    [fit.columns.map((c) => c.label), ...lines.map((r) => fit.columns.map((c) => cellText(c, r, zone)))]
      .map((l) => l.join("\t"))
      .join("\n");
  const copy = (e: React.ClipboardEvent) => {
    if (getSelection()?.toString()) return;
    e.preventDefault();
    const held = Array.from({ length: rows.total }, (_, n) => rows.rowAt(n)).filter((r) => r !== undefined);
    const lines = chosen.keys.size ? held.filter((r) => chosen.has(r.key)) : row ? [row] : [];
    if (lines.length >= chosen.keys.size) {
      e.clipboardData.setData("text/plain", asText(lines));
      return;
    }
    allRows(where, question, rows.total) // some that were chosen have not come into sight yet
      .then((all) => navigator.clipboard.writeText(asText(all.filter((r) => chosen.has(r.key)))))
      .catch((bad: unknown) => refuse("Nothing was copied", bad));
  };
  /**
   * What a press on a row, or on its box, does now; lines keep the same functions, so that scrolling draws
   * none of them anew.
   */
  const deeds = useRef<{ press: Press; tick: Press }>(null);
  useLayoutEffect(() => {
    deeds.current = {
      press: (n, key, how) => {
        setAt(n);
        if (how.shift) {
          getSelection()?.removeAllRanges();
          void chooseTo(anchor.current, n);
          return;
        }
        anchor.current = n;
        if (how.also) chosen.toggle(key);
        else props.open?.(key);
      },
      tick: (n, key, how) => {
        if (how.shift) void chooseTo(anchor.current, n);
        else chosen.toggle(key);
        anchor.current = n;
        setAt(n);
      },
    };
  });
  const press: Press = useCallback((...of) => deeds.current?.press(...of), []);
  const tick: Press = useCallback((...of) => deeds.current?.tick(...of), []);
  const turn = useCallback(
    (group: string) =>
      setClosed((before) => {
        const now = new Set(before);
        if (!now.delete(group)) now.add(group);
        return now;
      }),
    [],
  );
  if (rows.error)
    return (
      <div className="empty">
        <h2>The list can not be shown</h2>
        <p>{rows.error.message}</p>
      </div>
    );
  return (
    <div
      ref={scroller}
      className={`grid ${shown.dense ? "dense" : ""} ${rows.old ? "old" : ""}`}
      role="grid"
      aria-label={props.label}
      aria-rowcount={rows.total + 1}
      aria-multiselectable
      aria-busy={rows.pending || rows.old}
      tabIndex={0}
      onCopy={copy}
    >
      <div
        role="row"
        className="headrow"
        aria-rowindex={1}
        style={{ gridTemplateColumns: template, height: HEAD }}
      >
        <div role="columnheader" className="th tick" aria-label="Chosen" />
        {fit.columns.map((c, n) => (
          <HeadCell key={c.name} column={c} state={state} width={fit.widths[n]!} at={n + 2} />
        ))}
      </div>
      {!rows.pending && rows.total === 0 && (
        <div role="row">
          <div role="gridcell">{props.empty}</div>
        </div>
      )}
      <div className="rows" style={{ height: virtual.getTotalSize() }}>
        {seen.map((v) => {
          const item = items.at(v.index);
          if ("group" in item) {
            const g = item.group;
            return (
              <GroupLine
                key={`group ${groupKey(g)}`}
                name={groupKey(g)}
                label={g.label}
                summary={countWords(g.count, g.sums, head, props.noun)}
                open={!closed.has(groupKey(g))}
                turn={turn}
                top={v.start - HEAD}
                height={height}
                template={template}
                width={width}
              />
            );
          }
          const n = item.row;
          const r = rows.rowAt(n);
          return (
            <ListLine
              key={`row ${n}`}
              n={n}
              row={r}
              stands={n === at}
              chosen={r !== undefined && chosen.has(r.key)}
              opened={r !== undefined && r.key === props.opened}
              top={v.start - HEAD}
              height={height}
              template={template}
              width={width}
              columns={fit.columns}
              zone={zone}
              cell={props.cell}
              press={press}
              tick={tick}
            />
          );
        })}
      </div>
    </div>
  );
}

/** How many, and their sums, in words: `12 jobs · 48.5 h`. */
export function countWords(rows: number, sums: Record<string, number>, head: Head, noun: string): string {
  const told = head.columns
    .filter((c) => c.total && sums[c.name] !== undefined)
    .map((c) => {
      const told = c.kind === "money" ? money(Math.round(100 * sums[c.name]!), "") : sum(sums[c.name]!);
      return `${told} ${c.kind === "hours" ? "h" : c.label.toLowerCase()}`;
    });
  return [noun === "person" ? count(rows, noun, "people") : count(rows, noun), ...told].join(" · ");
}

function useRoom(box: React.RefObject<HTMLElement | null>): number {
  const [room, setRoom] = useState(860);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setRoom(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, [box]);
  return room;
}
