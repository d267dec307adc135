import { Spin } from "antd";
import { type ReactNode } from "react";

import type { Column, ListRow, Sort } from "../../api/lists";
import { ListBar } from "../../kit/table/ListBar";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import { limitedTo } from "../../kit/table/shown";
import { at, dayName, from } from "../../kit/words";
import { useWeek } from "../week/context";

const ORDER: Sort[] = [
  { column: "what", down: false },
  { column: "day", down: false },
];

/** What a revision changed against the one before it; for 0 what changed since the newest. */
export function Changes({ number }: { number: number }) {
  const { week, now, areas } = useWeek();
  const where = { list: "changes", week, of: String(number) };
  const { head, state, chosen, told, tell } = useListPage(where, ORDER);
  if (head.error) return <p className="brick">{head.error.message}</p>;
  if (!head.data) return <Spin />;
  const limited = limitedTo(state, { area: areas });
  return (
    <>
      <ListBar
        where={where}
        head={head.data}
        state={limited}
        chosen={chosen}
        label="differences"
        summary={told ? countWords(told.total, told.sums, head.data, "seat") : ""}
      />
      <ListTable
        where={where}
        head={head.data}
        state={limited}
        label="Changes"
        noun="seat"
        zone={now.timezone}
        chosen={chosen}
        told={tell}
        cell={(c, r) => changedCell(c, r, now.timezone)}
        empty={
          <div className="empty">
            <h2>No difference</h2>
            <p>What people have in their hands is what stands here.</p>
          </div>
        }
      />
    </>
  );
}

interface Cells {
  what: "changed" | "gone" | "new";
  title: string;
  task: string;
  day: string;
  day_was: string | null;
  start: string | null;
  end: string | null;
  start_was: string | null;
  who: string;
  who_was: string | null;
  craft: string;
}
const MARKS = { changed: ["ochre", "◆"], gone: ["brick", "−"], new: ["verdigris", "+"] } as const;

/** Cells of a seat that differs: what it was stands struck out before what it is. */
function changedCell(column: Column, row: ListRow, zone: string): ReactNode | undefined {
  const c = row.cells as unknown as Cells;
  switch (column.name) {
    case "what": {
      const [colour, mark] = MARKS[c.what];
      return (
        <span className={colour}>
          {mark} {c.what}
        </span>
      );
    }
    case "title":
      return (
        <>
          {c.title} <span className="soft">{c.task}</span>
        </>
      );
    case "day":
      return (
        <>
          {c.day_was && <Was>{dayName(c.day_was, false)}</Was>}
          {dayName(c.day, false)}
        </>
      );
    case "start":
      return (
        <>
          {c.start_was && <Was>{at(c.start_was, c.day_was ?? c.day, zone)}</Was>}
          {from(c.start, c.end, c.day, zone)}
        </>
      );
    case "who":
      return (
        <>
          {c.who_was && <Was>{c.who_was}</Was>}
          {c.who === "open" ? <span className="ochre">◆ open, {c.craft}</span> : c.who}
        </>
      );
    default:
      return undefined;
  }
}

function Was({ children }: { children: ReactNode }) {
  return (
    <span className="soft" style={{ textDecoration: "line-through", marginRight: 4 }}>
      {children}
    </span>
  );
}
