import { Button, Dropdown, Input } from "antd";
import { useState, type KeyboardEvent } from "react";

import { Choice } from "../../kit/Choice";
import { Typed } from "../../kit/Typed";
import { Hours } from "../../kit/When";
import { count, hours, money } from "../../kit/words";
import { beforeCell, beforeOf, needsCell, needsOf, NO_NEED, type Need } from "./crew";
import { Network } from "./Network";
import { costOf, networkOf, peopleOf, workOf } from "./network";
import { doubled, everywhere, insertedAfter, moved, renumbered } from "./taskOrder";
import { TaskMore } from "./TaskMore";
import { useChoices, type Cells } from "./useOrders";

export const TASK: Cells = {
  task: "10",
  title: "",
  hours: "",
  needs: "",
  after: "",
  asset_state: "any",
  splittable: "no",
};
const LEVELS = [
  { value: "1", label: "any level" },
  { value: "2", label: "level 2 or 3" },
  { value: "3", label: "level 3" },
];

interface Props {
  tasks: Cells[];
  setTasks: (tasks: Cells[]) => void;
  /** The field that the server refused, `tasks.0.hours`. */
  wrong: string;
  /** The hours of the first task have the focus as they appear. */
  first?: boolean;
  /** The asset of the work, whose parts are offered first. */
  asset?: string;
  /** Why tasks keep their numbers and places, where they do: some are placed or begun. */
  fixed?: string;
}

/** The tasks of a WO: what is done, how long, who it takes, and what comes before. */
export function TaskRows({ tasks, setTasks, wrong, first, fixed, asset }: Props) {
  const [drawn, setDrawn] = useState({ time: 0, focus: -1 });
  /** Tasks in other places: their fields are drawn anew, and the one meant has the focus. */
  const place = (now: Cells[], focus: number) => {
    setDrawn({ time: drawn.time + 1, focus });
    setTasks(now);
  };
  const set = (n: number, name: string, value: string) =>
    setTasks(tasks.map((t, k) => (k === n ? { ...t, [name]: value } : t)));
  const add = () => {
    const last = tasks.at(-1);
    const next = String(10 + Math.max(0, ...tasks.map((t) => Number(t.task) || 0)));
    setTasks([
      ...tasks,
      {
        ...TASK,
        task: next,
        after: last?.task ?? "",
        needs: last?.needs ?? "",
        asset_state: last?.asset_state ?? "any",
      },
    ]);
  };
  return (
    <div role="group" aria-label="Tasks">
      <div className="taskline soft small" aria-hidden>
        <span>Task</span>
        <span>What</span>
        <span>Hours</span>
        <span>Asset</span>
        <span />
      </div>
      {tasks.map((t, n) => (
        <OneTask
          key={`${drawn.time} ${n}`}
          task={t}
          focus={n === drawn.focus}
          others={tasks.filter((_, k) => k !== n).map((o) => o.task ?? "")}
          set={(name, value) => set(n, name, value)}
          wrong={wrong.startsWith(`tasks.${n}.`) ? wrong.slice(`tasks.${n}.`.length) : ""}
          first={first && n === 0}
          takeOff={
            tasks.length > 1
              ? () =>
                  place(
                    tasks.filter((_, k) => k !== n),
                    Math.max(0, n - 1),
                  )
              : null
          }
          fixed={fixed}
          asset={asset}
          put={{
            after: () => place(insertedAfter(tasks, n, TASK), n + 1),
            twin: () => place(doubled(tasks, n), n + 1),
            everywhere: tasks.length > 1 ? () => place(everywhere(tasks, n), n) : null,
            earlier: n > 0 ? () => place(moved(tasks, n, -1), n - 1) : null,
            later: n < tasks.length - 1 ? () => place(moved(tasks, n, 1), n + 1) : null,
          }}
        />
      ))}
      <div className="row" style={{ marginTop: 6 }}>
        <Button size="small" onClick={add}>
          One more task
        </Button>
        {tasks.length > 1 && (
          <Button
            size="small"
            disabled={fixed !== undefined}
            title={fixed ?? "Number them 10, 20, 30"}
            onClick={() => place(renumbered(tasks), -1)}
          >
            10, 20, 30
          </Button>
        )}
        <Sum tasks={tasks} />
      </div>
      <Network tasks={tasks} />
    </div>
  );
}

/** What all tasks take together, live: work, and hours from the first to the last by the longest way. */
function Sum({ tasks }: { tasks: Cells[] }) {
  const { hours: elapsed, critical, circle } = networkOf(tasks);
  const { rates, currency } = useChoices();
  const work = tasks.reduce((all, t) => all + workOf(t), 0);
  const cost = tasks.reduce((all, t) => all + costOf(t, rates), 0);
  if (circle.length)
    return (
      <span className="brick small" role="status">
        Tasks {circle.join(", ")} wait for one another.
      </span>
    );
  if (!elapsed) return null;
  return (
    <span className="soft small" role="status">
      {hours(work)} of work{cost > 0 && `, ${money(cost, currency)}`}, {hours(elapsed)} from first to last
      {tasks.length > 1 && ` (${critical.join(", ")})`}
    </span>
  );
}

interface OneProps {
  task: Cells;
  others: string[];
  set: (name: string, value: string) => void;
  wrong: string;
  takeOff: (() => void) | null;
  first?: boolean;
  asset?: string;
  /** It was put here just now. */
  focus: boolean;
  fixed?: string;
  put: Put;
}

/** What can be done with a task among the others; null where it can not. */
interface Put {
  after: () => void;
  twin: () => void;
  /** What it takes, into all tasks. */
  everywhere: (() => void) | null;
  earlier: (() => void) | null;
  later: (() => void) | null;
}

function OneTask({ task: t, others, set, wrong, takeOff, first, asset, focus, fixed, put }: OneProps) {
  const byKey = (e: KeyboardEvent) => {
    if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
    e.preventDefault();
    if (fixed === undefined) (e.key === "ArrowUp" ? put.earlier : put.later)?.();
  };
  const cell = (name: string, label: string, placeholder: string) => (
    <Input
      size="small"
      autoFocus={name === "title" && (focus || (others.length > 0 && !t.title))}
      aria-label={`${label} of task ${t.task}`}
      status={wrong === name ? "error" : undefined}
      value={t[name] ?? ""}
      placeholder={placeholder}
      onChange={(e) => set(name, e.target.value)}
    />
  );
  return (
    <div className="onetask" role="group" aria-label={`Task ${t.task}`} onKeyDown={byKey}>
      <div className="taskline">
        {cell("task", "Number", "10")}
        {cell("title", "What", "what is done")}
        <Hours
          bare
          empty
          first={first}
          label={`Hours of task ${t.task}`}
          wrong={wrong === "hours"}
          placeholder="1:30"
          value={t.hours ?? ""}
          change={(v) => set("hours", v)}
        />
        <Choice
          label={`Asset state of task ${t.task}`}
          hidden
          value={t.asset_state || "any"}
          change={(v) => set("asset_state", v)}
          options={["any", "stopped", "running"]}
        />
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              { key: "after", label: "A task after it", onClick: put.after },
              { key: "twin", label: "The same once more", onClick: put.twin },
              {
                key: "everywhere",
                label: "Its people and tools for the whole job",
                disabled: !put.everywhere,
                onClick: () => put.everywhere?.(),
              },
              {
                key: "earlier",
                label: "Earlier (Alt ↑)",
                disabled: !put.earlier || fixed !== undefined,
                title: fixed,
                onClick: () => put.earlier?.(),
              },
              {
                key: "later",
                label: "Later (Alt ↓)",
                disabled: !put.later || fixed !== undefined,
                title: fixed,
                onClick: () => put.later?.(),
              },
              { key: "off", label: "Take it off", disabled: !takeOff, onClick: () => takeOff?.() },
            ],
          }}
        >
          <Button size="small" type="text" tabIndex={-1} aria-label={`More of task ${t.task}`}>
            ⋯
          </Button>
        </Dropdown>
      </div>
      <Crew
        task={t}
        change={(v) => set("needs", v)}
        wrong={wrong === "needs"}
        setHours={(v) => set("hours", v)}
      />
      <TaskMore task={t} asset={asset} set={set} wrong={wrong} />
      {others.length > 0 && <After task={t} others={others} change={(v) => set("after", v)} />}
      {wrong === "after" && <span className="small brick">The order of the tasks does not work out.</span>}
    </div>
  );
}

/** Who a task takes: so many of a craft, at a level, with a certificate. */
export function Crew({
  task: t,
  change,
  wrong,
  setHours,
}: {
  task: Cells;
  change: (cell: string) => void;
  wrong: boolean;
  setHours: (hours: string) => void;
}) {
  const { crafts, certificates } = useChoices();
  const [rows, setRows] = useState(() => needsOf(t.needs ?? ""));
  if (needsCell(rows) !== needsCell(needsOf(t.needs ?? ""))) setRows(needsOf(t.needs ?? "")); // others changed it
  const write = (now: Need[]) => {
    setRows(now);
    change(needsCell(now));
  };
  const put = (n: number, more: Partial<Need>) =>
    write(rows.map((r, k) => (k === n ? { ...r, ...more } : r)));
  const nth = (n: number) => (n ? ` ${n + 1}` : "");
  return (
    <div className="crewneeds">
      {rows.map((r, n) => (
        <div key={n} className="needline">
          <input
            className="plainselect"
            inputMode="numeric"
            aria-label={`People${nth(n)} of task ${t.task}`}
            aria-invalid={wrong}
            value={r.people}
            onChange={(e) => put(n, { people: e.target.value.replace(/\D/g, "").slice(0, 2) })}
            onFocus={(e) => e.target.select()}
          />
          <span aria-hidden>×</span>
          <Typed
            bare
            label={`Craft${nth(n)} of task ${t.task}`}
            options={crafts}
            value={r.craft || null}
            change={(v) => put(n, { craft: v ?? "" })}
            placeholder="which craft"
            autoFocus={n > 0 && !r.craft}
            wrong={wrong}
          />
          <Choice
            label={`Level${nth(n)} of task ${t.task}`}
            hidden
            value={r.level}
            change={(v) => put(n, { level: v })}
            options={LEVELS}
          />
          <Choice
            label={`Certificate${nth(n)} of task ${t.task}`}
            hidden
            value={r.certificate}
            change={(v) => put(n, { certificate: v })}
            options={[
              { value: "", label: "no certificate" },
              ...certificates.map((c) => ({ value: c, label: `with ${c}` })),
            ]}
          />
          <Button
            size="small"
            type="text"
            tabIndex={-1}
            aria-label={`Take craft${nth(n)} of task ${t.task} off`}
            disabled={rows.length === 1}
            onClick={() => write(rows.filter((_, k) => k !== n))}
          >
            ×
          </Button>
        </div>
      ))}
      <div className="row">
        <Button
          size="small"
          type="link"
          className="morecraft"
          disabled={rows.some((r) => !r.craft)}
          onClick={() => setRows([...rows, NO_NEED])}
        >
          One more craft
        </Button>
        <span className="grow" />
        {peopleOf(t) > 0 && <Work task={t} setHours={setHours} />}
      </div>
    </div>
  );
}

/** Work hours of a task: they follow from hours and people, and typed they say the hours. */
function Work({ task: t, setHours }: { task: Cells; setHours: (hours: string) => void }) {
  const { rates } = useChoices();
  const people = peopleOf(t);
  const cost = costOf(t, rates);
  const said = workOf(t);
  return (
    <label className="row small soft" style={{ gap: 4 }}>
      {cost > 0 && `${money(cost, "")} `}= work of {count(people, "person", "people")}
      <Hours
        bare
        empty
        width={58}
        label={`Work of task ${t.task}`}
        placeholder="h"
        value={said ? String(Math.round(said * 100) / 100) : ""}
        change={(v) => v && setHours(String(Math.round((Number(v) / people) * 10_000) / 10_000))}
      />
    </label>
  );
}

/** Which tasks come before, and how long to wait after each. */
function After({
  task: t,
  others,
  change,
}: {
  task: Cells;
  others: string[];
  change: (cell: string) => void;
}) {
  const rows = beforeOf(t.after ?? "");
  const toggle = (task: string, on: boolean) =>
    change(beforeCell(on ? [...rows, { task, lag: "" }] : rows.filter((r) => r.task !== task)));
  return (
    <div className="row wrap small aftertasks" role="group" aria-label={`What comes before task ${t.task}`}>
      <span className="soft">after</span>
      {others.map((o) => {
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
    </div>
  );
}
