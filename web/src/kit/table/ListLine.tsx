import { memo, type ReactNode } from "react";

import type { Column, ListRow } from "../../api/lists";
import { Cell, cellText } from "./Cell";
import { isFigure } from "./words";

/** A row by its place and key was pressed: `also` with Ctrl, so that others stay chosen. */
export type Press = (n: number, key: string, how: { shift: boolean; also: boolean }) => void;

/** Kinds of columns whose cells may take two lines. */
const LONG = new Set(["text", "marks", "choice"]);

interface Place {
  /** Pixels from the top of the list. */
  top: number;
  height: number;
  /** Widths of its columns, as CSS. */
  template: string;
  /** Pixels of them all. */
  width: number;
}

interface LineProps extends Place {
  n: number;
  /** Undefined until it has come. */
  row: ListRow | undefined;
  /** The arrows stand on it. */
  stands: boolean;
  chosen: boolean;
  opened: boolean;
  columns: Column[];
  zone: string;
  cell?: (column: Column, row: ListRow) => ReactNode | undefined;
  press: Press;
  tick: Press;
}

const placed = ({ top, height, template, width }: Place) => ({
  transform: `translateY(${top}px)`,
  height,
  minWidth: width, // told, since the browser would measure each cell to know it
  gridTemplateColumns: template,
});

/** A row of a list; drawn again only when something of it changed, however the list is scrolled. */
export const ListLine = memo(function ListLine(props: LineProps) {
  const { n, row: r, stands, chosen, opened, columns, zone, cell, press, tick } = props;
  return (
    <div
      role="row"
      data-row={n}
      aria-rowindex={n + 2}
      aria-selected={chosen}
      tabIndex={-1}
      className={`gr ${stands ? "at" : ""} ${opened ? "opened" : ""}`}
      style={placed(props)}
      onClick={(e) => r && press(n, r.key, { shift: e.shiftKey, also: e.ctrlKey || e.metaKey })}
    >
      {!r && <div role="gridcell" aria-busy="true" style={{ gridColumn: "1 / -1" }} />}
      {r && (
        <>
          <div role="gridcell" className="tick" onClick={(e) => e.stopPropagation()}>
            <input
              type="checkbox"
              className="tickbox"
              aria-label={`Choose ${r.key}`}
              checked={chosen}
              onChange={(e) => {
                const shift = e.nativeEvent instanceof MouseEvent && e.nativeEvent.shiftKey;
                tick(n, r.key, { shift, also: true });
              }}
            />
          </div>
          {columns.map((c) => {
            const own = cell?.(c, r);
            const figures = isFigure(c) && (c.kind !== "hours" || own === undefined);
            return (
              <div
                key={c.name}
                role="gridcell"
                className={figures ? "figures" : ""}
                title={c.kind === "text" ? cellText(c, r, zone) : undefined}
              >
                <span className={own !== undefined || LONG.has(c.kind) ? "clamp" : "line"}>
                  {own ?? <Cell column={c} row={r} zone={zone} />}
                </span>
              </div>
            );
          })}
        </>
      )}
    </div>
  );
});

interface GroupProps extends Place {
  name: string;
  label: string;
  summary: string;
  open: boolean;
  turn: (group: string) => void;
}

/** What the rows below have in common, how many they are, and their sums. */
export const GroupLine = memo(function GroupLine(props: GroupProps) {
  const { name, label, summary, open, turn } = props;
  return (
    <div role="row" className="grouprow" style={placed(props)}>
      <div role="gridcell" style={{ gridColumn: "1 / -1" }}>
        <button className="plain" aria-expanded={open} onClick={() => turn(name)}>
          {open ? "▾" : "▸"} <span className="strong">{label}</span> <span className="soft">{summary}</span>
        </button>
      </div>
    </div>
  );
});
