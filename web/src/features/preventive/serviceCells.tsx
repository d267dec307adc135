import { App, Button } from "antd";
import { useState } from "react";

import { useQueryClient } from "@tanstack/react-query";
import { http, need, Problem } from "../../api/client";
import type { Column, ListRow } from "../../api/lists";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { InPlace } from "../../kit/table/InPlace";
import { useRefusal } from "../../kit/useRefusal";
import { Day } from "../../kit/When";
import { dayName, dayOfAnyYear } from "../../kit/words";
import { PutOff } from "./OneStop";
import { PreventiveState } from "./PreventiveState";
import { usePreventive, usePreventiveWrites } from "./usePreventive";
import { usePutOff } from "./useStops";

/** The plan and asset of a service's row. */
export const serviceOf = (key: string) => {
  const [plan, ...asset] = key.split(" / ");
  return { plan: plan!, asset: asset.join(" / ") };
};

/** A cell as it is read. */
export function serviceCell(column: Column, row: ListRow) {
  if (column.name === "state") return <PreventiveState state={String(row.cells.state)} />;
  if (column.name === "next_due" && row.cells.overdue && typeof row.cells.next_due === "string")
    return <span className="brick">▲ {dayOfAnyYear(row.cells.next_due)}</span>;
  return undefined;
}

const CHANGED = ["state", "last_done", "next_due", "held", "in_store"];
const textOf = (value: unknown) => (typeof value === "string" ? value : "");

/**
 * Cells of services that are changed where they stand: whether it runs, when it was done last, when it falls
 * due, held, in store.
 */
export function useServiceCells() {
  const [editing, setEditing] = useState<{ key: string; column: string } | null>(null);
  const [late, setLate] = useState<{ plan: string; asset: string; last: string } | null>(null);
  const { actOnMany } = usePreventiveWrites();
  const putOff = usePutOff();
  const client = useQueryClient();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const done = async (what: string, work: Promise<unknown>) => {
    setEditing(null);
    try {
      await work;
      void message.success(what);
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  /** One service changed; whoever says why it stays is heard. */
  const act = async (key: string, what: string, more: Partial<Parameters<typeof actOnMany>[0]>) => {
    const { refused } = await actOnMany({
      picked: [serviceOf(key)],
      act: "hold",
      days: 0,
      crew: "",
      comment: "",
      ...more,
    });
    if (refused.length) throw new Error(refused[0]!.why);
    return what;
  };
  const move = async (key: string, to: string) => {
    setEditing(null);
    const one = serviceOf(key);
    try {
      await putOff({ ...one, to, reason: "" });
      void message.success(`It falls due ${dayName(to)}`);
    } catch (bad) {
      if (bad instanceof Problem && bad.field === "reason") setLate({ ...one, last: "" });
      else refuse("Nothing was changed", bad);
    }
  };
  const fit = async (key: string, in_store: boolean) => {
    const body = { assets: [serviceOf(key).asset], in_store, parent: null };
    await need(http.POST("/api/assets/fitting", { body }));
    for (const one of [["list"], ["preventive"]]) void client.invalidateQueries({ queryKey: one });
  };
  const cell = (column: Column, row: ListRow) => {
    if (!CHANGED.includes(column.name)) return serviceCell(column, row);
    const { key, cells: c } = row;
    const name = `${textOf(c.title)}, ${textOf(c.asset)}`;
    const yes = column.name === "held" ? Boolean(c.held) : Boolean(c.in_store);
    if (column.name === "held" || column.name === "in_store") {
      const label =
        column.name === "held"
          ? yes
            ? `Take up again: ${name}`
            : `Hold: ${name}`
          : yes
            ? `Fit again: ${textOf(c.asset)}`
            : `Put in store: ${textOf(c.asset)}`;
      return (
        <button
          className="plain inplace"
          tabIndex={-1}
          aria-label={label}
          title={label}
          onClick={(e) => {
            e.stopPropagation();
            void (column.name === "held"
              ? done(yes ? "Taken up again" : "Held", act(key, "", { act: yes ? "take up" : "hold" }))
              : done(yes ? "Fitted again" : "In store", fit(key, !yes)));
          }}
        >
          {yes ? <span className="ochre">◆ yes</span> : <span className="soft">no</span>}
        </button>
      );
    }
    const value = textOf(c[column.name]);
    const open = editing?.key === key && editing.column === column.name;
    return (
      <InPlace
        label={`Change ${column.label.toLowerCase()}: ${name}`}
        words={serviceCell(column, row) ?? (value ? dayOfAnyYear(value) : <span className="soft">–</span>)}
        open={open}
        setOpen={(on) => setEditing(on ? { key, column: column.name } : null)}
        editor={
          column.name === "state" ? (
            <States number={serviceOf(key).plan} done={done} />
          ) : (
            <DayInPlace
              label={column.label}
              value={value}
              send={(day) =>
                column.name === "next_due"
                  ? void move(key, day)
                  : void done(`Last done ${dayName(day)}`, act(key, "", { act: "last done", day }))
              }
            />
          )
        }
      />
    );
  };
  const start = (row: ListRow | undefined, column: string) => row && setEditing({ key: row.key, column });
  const panel = late && (
    <Panel title={`Put off ${late.plan} on ${late.asset}`} close={() => setLate(null)}>
      <p>It waits past its tolerance then: say until when, and why.</p>
      <PutOff of={late} close={() => setLate(null)} />
    </Panel>
  );
  return { cell, start, panel };
}

function DayInPlace({ label, value, send }: { label: string; value: string; send: (day: string) => void }) {
  const [day, setDay] = useState(value);
  return (
    <form
      className="row"
      style={{ gap: 2 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (day) send(day);
      }}
    >
      <Day bare first label={label} value={day} change={setDay} />
      <Button size="small" type="primary" htmlType="submit" disabled={!day || day === value} title="Enter">
        ✓
      </Button>
    </form>
  );
}

/** The states to which a plan may go now. */
function States({
  number,
  done,
}: {
  number: string;
  done: (what: string, work: Promise<unknown>) => Promise<void>;
}) {
  const found = usePreventive(number).data;
  const { move } = usePreventiveWrites();
  if (!found) return <span className="soft">…</span>;
  const now = found.plan.state!;
  return (
    <Choice
      hidden
      label="State"
      value={now}
      change={(to) => void done(`${number} is ${to}`, move(found, to))}
      options={[now, ...found.moves.filter((m) => m.why === null).map((m) => m.to)]}
    />
  );
}
