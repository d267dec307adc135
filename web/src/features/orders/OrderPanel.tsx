import { Alert, Button, Checkbox, Input, Spin } from "antd";
import { useState } from "react";

import { Problem, type Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { Differs, type FieldDiffers } from "../../kit/Differs";
import { Typed } from "../../kit/Typed";
import { Day, Moment } from "../../kit/When";
import { WORK_KINDS } from "../../kit/words";
import { useWeek } from "../week/context";
import { merged } from "./merge";
import { useChoices, useOrder, useOrderWrites, type Cells } from "./useOrders";

const VERBS: Record<string, string> = {
  "on hold": "Put on hold",
  cancelled: "Cancel the WO",
  approved: "Approve",
};
const FRESH: Cells = {
  number: "",
  title: "",
  asset: "",
  kind: "corrective",
  must: "no",
  divisible: "no",
  put_back: "no",
  permit: "not needed",
  description: "",
};
const TASK: Cells = {
  task: "10",
  title: "",
  hours: "",
  needs: "",
  after: "",
  asset_state: "any",
  splittable: "no",
};

/** A WO by hand, with its tasks, hours, crew needs and order. */
export function OrderPanel({ number, close }: { number: string | null; close: (made?: string) => void }) {
  const found = useOrder(number);
  if (number === null)
    return (
      <Form number={null} start={{ order: FRESH, tasks: [TASK], revision: null }} moves={[]} close={close} />
    );
  if (found.error)
    return (
      <Panel close={() => close()} title={number} width={560}>
        <p className="brick">{found.error.message}</p>
      </Panel>
    );
  if (!found.data)
    return (
      <Panel close={() => close()} title={number} width={560}>
        <Spin />
      </Panel>
    );
  return (
    <Form
      key={found.data.revision}
      number={number}
      start={found.data}
      moves={found.data.moves}
      close={close}
    />
  );
}

interface FormProps {
  number: string | null;
  start: Shapes["OrderForm"];
  moves: Shapes["Offer"][];
  close: (made?: string) => void;
}

function Form({ number, start, moves, close }: FormProps) {
  const { week } = useWeek();
  const { assets } = useChoices();
  const { save, move, fresh } = useOrderWrites(week);
  const [base, setBase] = useState(start);
  const [differs, setDiffers] = useState<FieldDiffers[] | null>(null);
  const [order, setOrder] = useState<Cells>(start.order);
  const [tasks, setTasks] = useState<Cells[]>(start.tasks);
  const [wrong, setWrong] = useState<{ text: string; field: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const changed = JSON.stringify([order, tasks]) !== JSON.stringify([base.order, base.tasks]);
  const act = async (work: () => Promise<string | void>) => {
    setBusy(true);
    setWrong(null);
    setDiffers(null);
    try {
      close((await work()) || undefined);
    } catch (bad) {
      const lines = bad instanceof Problem ? (bad.facts.differs as FieldDiffers[] | undefined) : undefined;
      if (lines) setDiffers(lines);
      else setWrong({ text: (bad as Error).message, field: bad instanceof Problem ? bad.field : "" });
      setBusy(false);
    }
  };
  const onTop = async () => {
    const now = await fresh(number!);
    const both = merged(base, { order, tasks }, now);
    setBase(now);
    setOrder(both.order);
    setTasks(both.tasks);
    setDiffers(null);
  };
  const set = (name: string, value: string) => setOrder({ ...order, [name]: value });
  const status = (field: string) => (wrong?.field === field ? "error" : undefined);
  const moment = (name: string, label: string) => (
    <Moment
      label={label}
      wrong={wrong?.field === name}
      empty
      placeholder="–"
      alone={name === "earliest" ? "00:00" : "18:00"}
      value={(order[name] ?? "").slice(0, 16).replace(" ", "T")}
      change={(v) => set(name, v.replace("T", " "))}
    />
  );
  return (
    <Panel
      close={() => close()}
      title={number ?? "New WO"}
      width={560}
      unsaved={changed}
      extra={
        <span className="row">
          {moves.map(({ to, why }) => (
            <Button
              key={to}
              size="small"
              disabled={busy || changed || why !== null}
              title={why ?? undefined}
              onClick={() =>
                void act(async () => {
                  await move(number!, to);
                })
              }
            >
              {VERBS[to] ?? to}
            </Button>
          ))}
        </span>
      }
    >
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(() => save(order, tasks, base.revision));
        }}
      >
        <div className="row">
          <label className="grow">
            Title
            <Input
              aria-label="Title"
              autoFocus={!number}
              status={status("title")}
              value={order.title}
              maxLength={200}
              onChange={(e) => set("title", e.target.value)}
            />
          </label>
          {!number && (
            <label style={{ width: 130 }}>
              Number
              <Input
                aria-label="Number"
                status={status("number")}
                value={order.number}
                placeholder="next one"
                onChange={(e) => set("number", e.target.value)}
              />
            </label>
          )}
        </div>
        <div className="row">
          <Typed
            label="Asset"
            options={assets}
            value={order.asset || null}
            change={(v) => set("asset", v ?? "")}
            placeholder="type a part of its name"
            wrong={wrong?.field === "asset"}
          />
          <Choice
            label="Kind"
            width={140}
            value={order.kind ?? "corrective"}
            change={(v) => set("kind", v)}
            options={WORK_KINDS}
          />
          <Choice
            label="Permit"
            width={130}
            value={order.permit || "not needed"}
            change={(v) => set("permit", v)}
            options={["not needed", "waiting", "granted"]}
          />
        </div>
        <div className="row">
          {moment("earliest", "Not before")}
          {moment("due", "Due")}
          {moment("latest", "Not after")}
        </div>
        <div className="row wrap">
          <Checkbox
            checked={order.must === "yes"}
            onChange={(e) => set("must", e.target.checked ? "yes" : "no")}
          >
            must
          </Checkbox>
          <Checkbox
            checked={order.divisible === "yes"}
            onChange={(e) => set("divisible", e.target.checked ? "yes" : "no")}
          >
            tasks may be placed one by one
          </Checkbox>
          <Checkbox
            checked={order.put_back === "yes"}
            onChange={(e) => set("put_back", e.target.checked ? "yes" : "no")}
          >
            the asset goes back into service between tasks
          </Checkbox>
          <label className="row grow" style={{ justifyContent: "flex-end" }}>
            Parts ready on{" "}
            <Day
              bare
              empty
              label="Parts ready on"
              wrong={wrong?.field === "parts_ready"}
              placeholder="–"
              width={160}
              value={order.parts_ready ?? ""}
              change={(v) => set("parts_ready", v)}
            />
          </label>
        </div>
        <Tasks tasks={tasks} setTasks={setTasks} wrong={wrong?.field ?? ""} />
        <label>
          Description
          <Input.TextArea
            aria-label="Description"
            rows={2}
            maxLength={4000}
            value={order.description ?? ""}
            onChange={(e) => set("description", e.target.value)}
          />
        </label>
        {differs && <Differs lines={differs} apply={() => void onTop()} />}
        {wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong.text} />}
        <div className="row">
          <Button type="primary" htmlType="submit" loading={busy} disabled={!changed}>
            {number ? "Save" : "Make the WO"}
          </Button>
          <Button onClick={() => close()}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}

function Tasks({
  tasks,
  setTasks,
  wrong,
}: {
  tasks: Cells[];
  setTasks: (tasks: Cells[]) => void;
  wrong: string;
}) {
  const set = (n: number, name: string, value: string) =>
    setTasks(tasks.map((t, k) => (k === n ? { ...t, [name]: value } : t)));
  const add = () => {
    const last = tasks.at(-1);
    const next = String(10 + Math.max(0, ...tasks.map((t) => Number(t.task) || 0)));
    setTasks([
      ...tasks,
      { ...TASK, task: next, after: last?.task ?? "", asset_state: last?.asset_state ?? "any" },
    ]);
  };
  const cell = (t: Cells, n: number, name: string, label: string, placeholder: string) => (
    <Input
      size="small"
      aria-label={`${label} of task ${t.task}`}
      status={wrong === `tasks.${n}.${name}` ? "error" : undefined}
      value={t[name] ?? ""}
      placeholder={placeholder}
      onChange={(e) => set(n, name, e.target.value)}
    />
  );
  return (
    <div role="group" aria-label="Tasks">
      <div className="taskline soft small">
        <span>Task</span>
        <span>What</span>
        <span>Hours</span>
        <span title="craft, people, level, certificate: mech x2 level 2 with rope; elec">Crew need</span>
        <span>After</span>
        <span>Asset</span>
        <span />
      </div>
      {tasks.map((t, n) => (
        <div key={n} className="taskline">
          {cell(t, n, "task", "Number", "10")}
          {cell(t, n, "title", "What", "what is done")}
          {cell(t, n, "hours", "Hours", "2.5")}
          {cell(t, n, "needs", "Crew need", "mech x2 level 2; elec")}
          {cell(t, n, "after", "After", "–")}
          <Choice
            label={`Asset state of task ${t.task}`}
            hidden
            value={t.asset_state || "any"}
            change={(v) => set(n, "asset_state", v)}
            options={["any", "stopped", "running"]}
          />
          <Button
            size="small"
            type="text"
            aria-label={`Take task ${t.task} off`}
            disabled={tasks.length === 1}
            onClick={() => setTasks(tasks.filter((_, k) => k !== n))}
          >
            ×
          </Button>
        </div>
      ))}
      <Button size="small" onClick={add} style={{ marginTop: 6 }}>
        One more task
      </Button>
    </div>
  );
}

/** One of a few words; the browser's own list, which the first letter of a word chooses from. */
function Choice({
  label,
  hidden = false,
  width,
  value,
  change,
  options,
}: {
  label: string;
  hidden?: boolean;
  width?: number;
  value: string;
  change: (value: string) => void;
  options: readonly string[];
}) {
  return (
    <label style={{ width }}>
      {!hidden && label}
      <select
        className="plainselect"
        style={{ width: "100%", height: hidden ? 24 : 32 }}
        aria-label={label}
        value={value}
        onChange={(e) => change(e.target.value)}
      >
        {options.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
    </label>
  );
}
