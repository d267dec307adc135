import { Button } from "antd";
import { useCallback, useState, type ReactNode } from "react";

import { useHead, type Column, type ListRow, type Sort } from "../../api/lists";
import { useSummary } from "../../api/queries";
import { useChosen } from "../../kit/table/chosen";
import { ListBar } from "../../kit/table/ListBar";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { limitedTo, useShown, type ListState } from "../../kit/table/shown";
import { Side } from "../../kit/Side";
import { dayName, figure, hours, localDay, mondayOf } from "../../kit/words";
import { ComingButton } from "../preventive/ComingPanel";
import { useWeek } from "../week/context";
import { ActOnJobs } from "./ActOnJobs";
import { JobPanel } from "./JobPanel";
import { Gates, Priority } from "./Marks";

const ORDER: Sort[] = [{ column: "priority", down: true }];

/** What could be done: the backlog as a list. */
export function Gather() {
  const { week, now, job, openJob, openOrder, edit, can, areas } = useWeek();
  const where = { list: "backlog", week };
  const head = useHead(where);
  const state = useShown(head.data, ORDER);
  const chosen = useChosen();
  const summary = useSummary(week, areas).data;
  const [at, setAt] = useState<ListRow | undefined>();
  const [counted, setCounted] = useState<{ total: number; sums: Record<string, number> } | null>(null);
  const told = useCallback((total: number, sums: Record<string, number>) => setCounted({ total, sums }), []);
  const limited = limitedTo(state, { area: areas });
  const toggle = () => {
    if (!can("edit")) return;
    if (chosen.keys.size) {
      void edit({ kind: "put", jobs: [...chosen.keys], day: null }).then((done) => done && chosen.clear());
      return;
    }
    if (at)
      void edit(
        at.cells.placed ? { kind: "take out", jobs: [at.key] } : { kind: "put", jobs: [at.key], day: null },
      );
  };
  return (
    <div className="split">
      <div className="main listing">
        {head.data && (
          <>
            <ListBar
              where={where}
              head={head.data}
              state={limited}
              chosen={chosen}
              label="the backlog"
              summary={counted ? countWords(counted.total, counted.sums, head.data, "job") : ""}
              actions={<ActOnJobs chosen={chosen} />}
            >
              <Quick state={state} column="must" values={["yes"]} how="is" label="Must" />
              <Quick state={state} column="ready" values={["yes"]} how="is" label="Ready" />
              <Quick state={state} column="due" values={["", "week-1"]} how="between" label="Overdue" />
              <Quick state={state} column="placed" values={[]} how="empty" label="Not in" />
              <ComingButton start={mondayOf(week)} areas={areas} may={can("plan")} />
              {can("plan") && (
                <Button onClick={() => openOrder("new")}>
                  New <kbd>W</kbd>
                </Button>
              )}
            </ListBar>
            <ListTable
              where={where}
              head={head.data}
              state={limited}
              label="Backlog"
              noun="job"
              zone={now.timezone}
              chosen={chosen}
              opened={job}
              open={openJob}
              stand={setAt}
              told={told}
              cell={(c, r) => jobCell(c, r, now.start, now.timezone)}
              empty={
                <div className="empty">
                  <h2>{summary?.total ? "No job fits these filters" : "The backlog is empty"}</h2>
                  <p>
                    {summary?.total
                      ? "Take a filter off, or search for something else."
                      : "Bring work orders in under Files, from CSV or XLSX."}
                  </p>
                </div>
              }
              shortcuts={[
                { keys: "i", what: "Put the job in, or take it out", group: "Gather", run: toggle },
              ]}
            />
          </>
        )}
        {head.error && (
          <div className="empty">
            <h2>The backlog can not be shown</h2>
            <p>{head.error.message}</p>
          </div>
        )}
      </div>
      <Side about={job} name={job ? "The job" : "The backlog by craft"}>
        {job ? (
          <JobPanel number={job} />
        ) : (
          <section>
            <h1>Weeks of ready backlog</h1>
            <p className="soft small" style={{ marginBottom: 10 }}>
              ready work hours by craft, against the hours that its people have this week
            </p>
            {summary?.crafts.map((c) => (
              <div key={c.craft} className="item">
                <div className="row">
                  <span className="grow">{c.name}</span>
                  <span className="strong">{c.weeks == null ? "no shift" : `${c.weeks} weeks`}</span>
                </div>
                <div className="meter" style={{ margin: "3px 0" }}>
                  <i style={{ width: `${Math.min(100, ((c.weeks ?? 0) / 6) * 100)}%` }} />
                </div>
                <p className="soft small">
                  {hours(c.ready_hours)} ready · {hours(c.hours_a_week)} a week
                </p>
              </div>
            ))}
            <p className="soft small" style={{ marginTop: 12 }}>
              Gates: P plan, M parts, C people, W window, L permit. Struck out = still shut.
            </p>
          </section>
        )}
      </Side>
    </div>
  );
}

/** A filter that is one press away. */
function Quick({
  state,
  column,
  how,
  values,
  label,
}: {
  state: ListState;
  column: string;
  how: "is" | "between" | "empty";
  values: string[];
  label: string;
}) {
  const on = state.shown.filters.some(
    (f) => f.column === column && f.how === how && f.values.join() === values.join(),
  );
  return (
    <Button
      type={on ? "primary" : "default"}
      aria-pressed={on}
      onClick={() => state.filter(column, on ? null : { column, how, values })}
    >
      {label}
    </Button>
  );
}

interface JobCells {
  priority: number;
  must: boolean;
  gates: string[];
  hours: number;
  craft: Record<string, number> | null;
  due: string | null;
  placed: string | null;
  elsewhere: string | null;
}

/** Cells of jobs that say more than their value; undefined leaves the others to the list. */
function jobCell(column: Column, row: ListRow, start: string, zone: string): ReactNode | undefined {
  const c = row.cells as unknown as JobCells;
  switch (column.name) {
    case "priority":
      return <Priority value={c.priority} must={c.must} />;
    case "gates":
      return <Gates shut={c.gates} />;
    case "hours":
      return (
        <>
          <span className="strong">{figure(c.hours)}</span>{" "}
          <span className="soft small">
            {Object.entries(c.craft ?? {})
              .map(([name, h]) => `${name} ${figure(h)}`)
              .join(", ")}
          </span>
        </>
      );
    case "due":
      if (!c.due) return undefined;
      return (
        <span className={c.due < start ? "brick" : ""}>
          {c.due < start && "▲ "}
          {dayName(localDay(c.due, zone))}
        </span>
      );
    case "placed":
      if (c.placed) return <span className="verdigris strong">{dayName(c.placed, false)}</span>;
      if (!c.elsewhere) return undefined;
      return (
        <span className="soft" title={`stands in ${c.elsewhere}`}>
          {c.elsewhere.slice(5)}
        </span>
      );
    default:
      return undefined;
  }
}
