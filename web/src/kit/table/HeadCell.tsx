import { Button, Popover } from "antd";
import { memo, useRef, useState } from "react";

import type { Column } from "../../api/lists";
import { FilterForm } from "./FilterForm";
import type { ListState } from "./shown";
import { isFigure } from "./words";

const NARROWEST = 44;

/**
 * A column's head: its name sorts, its edge sizes, its sign opens what else can be done with it. Like a
 * line, it is drawn again only when something of it changed, however the list is scrolled.
 */
export const HeadCell = memo(function HeadCell({
  column,
  state,
  width,
  at,
}: {
  column: Column;
  state: ListState;
  width: number;
  at: number;
}) {
  const [open, setOpen] = useState(false);
  const start = useRef(0);
  const place = state.shown.sort.findIndex((s) => s.column === column.name);
  const sorted = place >= 0 ? state.shown.sort[place] : undefined;
  const filter = state.shown.filters.find((f) => f.column === column.name);
  const sort = (also: boolean) => {
    const first = isFigure(column);
    const to = { column: column.name, down: sorted ? !sorted.down : first };
    const others = state.shown.sort.filter((s) => s.column !== column.name);
    state.set({
      sort: also ? (sorted ? state.shown.sort.map((s) => (s === sorted ? to : s)) : [...others, to]) : [to],
    });
  };
  const move = (by: number) => {
    const names = [...state.shown.columns];
    const from = names.indexOf(column.name);
    const to = Math.min(Math.max(from + by, 0), names.length - 1);
    names.splice(to, 0, ...names.splice(from, 1));
    state.set({ columns: names });
  };
  const size = (to: number) =>
    state.set({
      widths: { ...state.shown.widths, [column.name]: Math.max(NARROWEST, Math.round(to)) },
    });
  const menu = (
    <div className="headmenu">
      {column.hows.length > 0 && (
        <FilterForm
          key={String(open)}
          column={column}
          now={filter}
          apply={(to) => {
            state.filter(column.name, to);
            setOpen(false);
          }}
        />
      )}
      <div className="row wrap">
        {column.can_sort && (
          <Button size="small" onClick={() => sort(true)}>
            {sorted ? "Turn its order" : "Sort by it too"}
          </Button>
        )}
        {column.can_group && (
          <Button
            size="small"
            onClick={() => state.set({ group: state.shown.group === column.name ? null : column.name })}
          >
            {state.shown.group === column.name ? "Ungroup" : "Group by it"}
          </Button>
        )}
        <Button size="small" aria-label={`Move ${column.label} left`} onClick={() => move(-1)}>
          ←
        </Button>
        <Button size="small" aria-label={`Move ${column.label} right`} onClick={() => move(1)}>
          →
        </Button>
        <Button size="small" aria-label={`Make ${column.label} narrower`} onClick={() => size(width - 20)}>
          −
        </Button>
        <Button size="small" aria-label={`Make ${column.label} wider`} onClick={() => size(width + 20)}>
          +
        </Button>
        <Button
          size="small"
          onClick={() => state.set({ columns: state.shown.columns.filter((c) => c !== column.name) })}
        >
          Hide
        </Button>
      </div>
    </div>
  );
  return (
    <div
      role="columnheader"
      aria-colindex={at}
      aria-sort={sorted ? (sorted.down ? "descending" : "ascending") : undefined}
      className={`th ${column.kind === "number" || column.kind === "money" ? "figures" : ""}`}
    >
      {column.can_sort ? (
        <button className="plain cut" onClick={(e) => sort(e.shiftKey)} title={column.label}>
          {column.label}
          {sorted && ` ${sorted.down ? "↓" : "↑"}${state.shown.sort.length > 1 ? place + 1 : ""}`}
        </button>
      ) : (
        <span className="cut" title={column.label}>
          {column.label}
        </span>
      )}
      <Popover
        trigger="click"
        placement="bottomLeft"
        open={open}
        onOpenChange={setOpen}
        content={menu}
        destroyOnHidden
      >
        <button
          className={`plain more ${filter ? "on" : ""}`}
          aria-label={`${column.label}: filter and more${filter ? ", filtered" : ""}`}
          aria-expanded={open}
        >
          {filter ? "▼" : "▽"}
        </button>
      </Popover>
      <span
        className="edge"
        aria-hidden
        onPointerDown={(e) => {
          start.current = e.clientX - width;
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) size(e.clientX - start.current);
        }}
      />
    </div>
  );
});
