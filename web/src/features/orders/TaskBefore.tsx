import { useId, useState } from "react";

import { Hours } from "../../kit/When";
import { beforeCell, beforeOf } from "./crew";
import type { Cells } from "./useOrders";

const MOST_OFFERED = 8;

interface Props {
  task: Cells;
  /** Numbers of all tasks of the job. */
  numbers: readonly string[];
  change: (cell: string) => void;
}

/**
 * Which tasks come before, and how long to wait after each. Of many tasks those are offered that do, and the
 * one above; any other is typed.
 */
export function TaskBefore({ task: t, numbers, change }: Props) {
  const rows = beforeOf(t.after ?? "");
  const others = numbers.filter((o) => o !== t.task);
  const above = numbers[numbers.indexOf(t.task ?? "") - 1];
  const many = others.length > MOST_OFFERED;
  const offered = many ? others.filter((o) => o === above || rows.some((r) => r.task === o)) : others;
  const toggle = (task: string, on: boolean) =>
    change(beforeCell(on ? [...rows, { task, lag: "" }] : rows.filter((r) => r.task !== task)));
  return (
    <div className="row wrap small aftertasks" role="group" aria-label={`What comes before task ${t.task}`}>
      <span className="soft">after</span>
      {offered.map((o) => {
        const row = rows.find((r) => r.task === o);
        return (
          <span key={o} className="row" style={{ gap: 4 }}>
            <label className="row" style={{ gap: 4 }}>
              <input type="checkbox" checked={!!row} onChange={(e) => toggle(o, e.target.checked)} />
              task {o}
            </label>
            {row && (
              <Hours
                bare
                empty
                width={74}
                label={`Hours to wait after task ${o} before task ${t.task}`}
                placeholder="at once"
                value={row.lag}
                change={(v) => change(beforeCell(rows.map((r) => (r.task === o ? { ...r, lag: v } : r))))}
              />
            )}
          </span>
        );
      })}
      {many && (
        <Another
          label={`Another task before task ${t.task}`}
          numbers={others.filter((o) => !offered.includes(o))}
          take={(o) => toggle(o, true)}
        />
      )}
    </div>
  );
}

interface AnotherProps {
  label: string;
  numbers: string[];
  take: (number: string) => void;
}

function Another({ label, numbers, take }: AnotherProps) {
  const [typed, setTyped] = useState("");
  const list = useId();
  const known = numbers.includes(typed.trim());
  const taken = () => {
    if (!known) return;
    take(typed.trim());
    setTyped("");
  };
  return (
    <>
      <input
        className="plainselect"
        style={{ width: 96 }}
        aria-label={label}
        aria-invalid={typed.trim() !== "" && !numbers.some((n) => n.startsWith(typed.trim()))}
        placeholder="task number"
        list={list}
        autoComplete="off"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={taken}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          taken();
        }}
      />
      <datalist id={list}>
        {numbers.map((n) => (
          <option key={n} value={n} />
        ))}
      </datalist>
    </>
  );
}
