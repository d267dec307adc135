import { Button, Checkbox, Input, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { Choice } from "../../kit/Choice";
import { Typed } from "../../kit/Typed";
import { Day, Moment } from "../../kit/When";
import { WORK_KINDS } from "../../kit/words";
import { useWeek } from "../week/context";
import { FromPlan } from "../plans/FromPlan";
import { PlanOfIt } from "../plans/PlanOfIt";
import { AssetTree } from "./AssetTree";
import { DoesNotHold } from "./DoesNotHold";
import { FormEnd } from "./FormEnd";
import { MoreOfIt } from "./MoreOfIt";
import { SafetyOfIt } from "./SafetyOfIt";
import { TASK } from "./taskOrder";
import { TaskRows } from "./TaskRows";
import { useChoices, useOrder, useOrderWrites, type Cells } from "./useOrders";
import { useWorkForm } from "./workForm";

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
/** A WO by hand, with its tasks, hours, crew needs and order. */
export function OrderPanel({ number, close }: { number: string | null; close: (made?: string) => void }) {
  const found = useOrder(number);
  const [twin, setTwin] = useState<Shapes["OrderForm"] | null>(null);
  if (twin) return <Form key="twin" number={null} start={twin} moves={[]} close={close} begun />;
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
      placed={found.data.placed_in}
      close={close}
      duplicate={setTwin}
    />
  );
}

interface FormProps {
  number: string | null;
  start: Shapes["OrderForm"];
  moves: Shapes["Offer"][];
  close: (made?: string) => void;
  /** Begin a new WO that says the same. */
  duplicate?: (twin: Shapes["OrderForm"]) => void;
  /** It says something already that is kept nowhere. */
  begun?: boolean;
  /** The week that it is placed in. */
  placed?: string | null;
}

/** Numbers are what weeks and reports know tasks by. */
function whyFixed(tasks: Cells[], placed: string | null | undefined): string | undefined {
  if (placed) return `It is placed in ${placed}, which knows its tasks by their numbers`;
  if (tasks.some((t) => (t.state || "to do") !== "to do")) return "Some of its tasks are begun or done";
  return undefined;
}

/** What a new WO takes over from one that is there: all that was planned, nothing that became of it. */
function twinOf(order: Cells, tasks: Cells[]): Shapes["OrderForm"] {
  const planned = tasks.map((t) =>
    Object.fromEntries(Object.entries(t).filter(([name]) => !OF_PROGRESS.includes(name))),
  );
  return {
    order: { ...order, number: "", state: "", raised: "" },
    tasks: planned.map((t) => ({ ...t, state: "" })),
    revision: null,
  };
}
const OF_PROGRESS = ["hours_spent", "hours_left", "reason", "done_by", "ended"];

function Form({ number, start, moves, close, duplicate, begun, placed }: FormProps) {
  const { week } = useWeek();
  const { assets, tree } = useChoices();
  const [inTree, setInTree] = useState(false);
  const [picked, setPicked] = useState(0);
  const [copied, setCopied] = useState(0);
  const { save, move, fresh } = useOrderWrites(week);
  const form = useWorkForm({
    start,
    begun,
    close,
    fresh: () => fresh(number!),
  });
  const { base, order, tasks, set, setAll, setTasks, wrong, busy, changed, act } = form;
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
      title={inTree ? "Which asset?" : (number ?? "New WO")}
      width={560}
      unsaved={changed}
      back={inTree ? () => setInTree(false) : undefined}
      extra={
        <span className="row">
          {duplicate && (
            <Button
              size="small"
              disabled={busy || changed}
              title="A new WO that says the same"
              onClick={() => duplicate(twinOf(order, tasks))}
            >
              Duplicate
            </Button>
          )}
          {number && <PlanOfIt number={number} revision={base.revision!} disabled={busy || changed} />}
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
      {inTree && (
        <AssetTree
          assets={tree}
          value={order.asset ?? ""}
          choose={(key) => {
            set("asset", key);
            setPicked(picked + 1);
            setInTree(false);
          }}
        />
      )}
      <form
        className="stack"
        hidden={inTree}
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
            key={`asset ${picked}`}
            label="Asset"
            options={assets}
            value={order.asset || null}
            change={(v) => set("asset", v ?? "")}
            placeholder="type a part of its name"
            wrong={wrong?.field === "asset"}
          />
          <Button
            size="small"
            style={{ alignSelf: "end", height: 32 }}
            title="Choose the asset in the tree"
            onClick={() => setInTree(true)}
          >
            Tree
          </Button>
          <Choice
            label="Kind"
            width={140}
            value={order.kind ?? "corrective"}
            change={(v) => set("kind", v)}
            options={WORK_KINDS}
          />
          {!order.permits && (
            <Choice
              label="Permit"
              width={130}
              value={order.permit || "not needed"}
              change={(v) => set("permit", v)}
              options={["not needed", "waiting", "granted"]}
            />
          )}
        </div>
        <FromPlan
          order={order}
          tasks={tasks}
          made={number !== null}
          take={(cells, theirs) => {
            setAll(cells);
            setTasks(theirs);
            setCopied(copied + 1);
          }}
        />
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
              width={170}
              value={order.parts_ready ?? ""}
              change={(v) => set("parts_ready", v)}
            />
          </label>
        </div>
        <TaskRows
          key={copied}
          tasks={tasks}
          setTasks={setTasks}
          wrong={wrong?.field ?? ""}
          asset={order.asset}
          fixed={number === null ? undefined : whyFixed(tasks, placed)}
        />
        <DoesNotHold order={order} tasks={tasks} />
        <SafetyOfIt order={order} set={set} wrong={wrong?.field ?? ""} />
        <MoreOfIt order={order} set={set} wrong={wrong?.field ?? ""} />
        <FormEnd form={form} send={number ? "Save" : "Make the WO"} leave={() => close()} />
      </form>
    </Panel>
  );
}
