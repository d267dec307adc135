import { type ReactNode } from "react";

import type { Column, ListRow, Sort } from "../../api/lists";
import { useMe } from "../../api/queries";
import { ListBar } from "../../kit/table/ListBar";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import type { Decision } from "./useForeign";

const ORDER: Sort[] = [{ column: "what", down: false }];

/** All rows in which an export differs from what is here; what the decision leaves as it is stands back. */
export function Differing({ file, decision }: { file: number; decision: Decision }) {
  const zone = useMe().data?.timezone ?? "UTC";
  const where = { list: "file rows", of: String(file) };
  const { head, state, chosen, told, tell } = useListPage(where, ORDER);
  if (head.error) return <p className="brick">{head.error.message}</p>;
  if (!head.data) return null;
  return (
    <>
      <ListBar
        where={where}
        head={head.data}
        state={state}
        chosen={chosen}
        label="what differs"
        summary={told ? countWords(told.total, told.sums, head.data, "row") : ""}
      />
      <ListTable
        where={where}
        head={head.data}
        state={state}
        label="What differs"
        noun="row"
        zone={zone}
        chosen={chosen}
        told={tell}
        cell={(c, r) => differingCell(c, r, decision)}
        empty={
          <div className="empty">
            <h2>Nothing differs</h2>
            <p>What the export says stands here already.</p>
          </div>
        }
      />
    </>
  );
}

interface Cells {
  what: "changed" | "vanished" | "made" | "new";
  title: string | null;
  here: string | null;
  week: string | null;
  by_hand: boolean;
  decided: string | null;
}

function differingCell(column: Column, row: ListRow, decision: Decision): ReactNode | undefined {
  const c = row.cells as unknown as Cells;
  const left =
    c.what === "changed"
      ? !decision.changed ||
        decision.fields.includes(c.decided ?? "") ||
        (c.by_hand && decision.both === "ours")
      : c.what === "new" && !decision.new;
  if (column.name === "title" && c.week)
    return (
      <>
        {c.title} <span className="ochre small">◆ placed in {c.week}</span>
      </>
    );
  if (column.name === "here" && c.by_hand)
    return (
      <>
        {c.here} <span className="ochre small">✎ by hand</span>
      </>
    );
  if (column.name === "what") return <span className={left ? "leftout" : undefined}>{c.what}</span>;
  return undefined;
}
