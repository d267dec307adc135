import { Button, Checkbox, Input } from "antd";

import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { Day } from "../../kit/When";
import { WORK_KINDS } from "../../kit/words";
import { FormEnd } from "../orders/FormEnd";
import { TASK, TaskRows } from "../orders/TaskRows";
import { useChoices } from "../orders/useOrders";
import { useWorkForm, type Start } from "../orders/workForm";
import { formOf, planNow, usePlanWrites } from "./usePlans";

export const FRESH_PLAN: Start = {
  order: { title: "", kind: "corrective", permit: "not needed", assets: "", words: "", valid_from: "" },
  tasks: [TASK],
  revision: null,
};

/** A job plan by hand: what it applies to, and its tasks; one in force gets a new edition. */
export function PlanPanel({ start, close }: { start: Start; close: (made?: string) => void }) {
  const number = start.revision === null ? null : start.order.number!;
  const { save } = usePlanWrites();
  const form = useWorkForm({
    start,
    close,
    fresh: async () => formOf(await planNow(number!)),
  });
  const { order, tasks, set, setTasks, base, wrong, changed, act } = form;
  const status = (field: string) => (wrong?.field === field ? "error" : undefined);
  const tick = (name: string, what: string) => (
    <Checkbox checked={order[name] === "yes"} onChange={(e) => set(name, e.target.checked ? "yes" : "no")}>
      {what}
    </Checkbox>
  );
  return (
    <Panel close={() => close()} title={number ?? "New job plan"} width={560} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(() => save(order, tasks, base.revision));
        }}
      >
        <label>
          Title
          <Input
            aria-label="Title"
            autoFocus
            status={status("title")}
            value={order.title}
            maxLength={200}
            onChange={(e) => set("title", e.target.value)}
          />
        </label>
        <div className="row">
          <Choice
            label="Kind"
            width={140}
            value={order.kind || "corrective"}
            change={(v) => set("kind", v)}
            options={WORK_KINDS}
          />
          <Choice
            label="Permit"
            width={130}
            value={order.permit || "not needed"}
            change={(v) => set("permit", v)}
            options={["not needed", "waiting", "granted"].filter(
              (p) => p !== "granted" || p === order.permit,
            )}
          />
          <label className="grow">
            Valid from
            <Day
              bare
              empty
              label="Valid from"
              wrong={wrong?.field === "valid_from"}
              placeholder="at once"
              value={order.valid_from ?? ""}
              change={(v) => set("valid_from", v)}
            />
          </label>
        </div>
        <label>
          For assets with one of these words in their name
          <Input
            aria-label="For assets with one of these words in their name"
            status={status("words")}
            placeholder="drive winch"
            value={order.words}
            maxLength={200}
            onChange={(e) => set("words", e.target.value)}
          />
        </label>
        <Assets
          cell={order.assets ?? ""}
          change={(v) => set("assets", v)}
          wrong={wrong?.field === "assets"}
        />
        <div className="row wrap">
          {tick("divisible", "tasks may be placed one by one")}
          {tick("put_back", "the asset goes back into service between tasks")}
        </div>
        <TaskRows tasks={tasks} setTasks={setTasks} wrong={wrong?.field ?? ""} />
        <FormEnd
          form={form}
          send={number ? (order.state === "in force" ? "Save as the next edition" : "Save") : "Make the plan"}
          leave={() => close()}
        />
      </form>
    </Panel>
  );
}

const assetsOf = (cell: string) =>
  cell
    .split(";")
    .map((a) => a.trim())
    .filter(Boolean);

/** Single assets that a plan applies to, with all below them. */
function Assets({ cell, change, wrong }: { cell: string; change: (cell: string) => void; wrong: boolean }) {
  const { assets } = useChoices();
  const named = assetsOf(cell);
  const label = (key: string) => assets.find((a) => a.value === key)?.label ?? key;
  return (
    <div className="stack" role="group" aria-label="Single assets">
      <Typed
        key={named.length}
        label="And for this asset with all that is part of it"
        options={assets.filter((a) => !named.includes(a.value))}
        value={null}
        change={() => undefined}
        take={(key) => change([...named, key].join("; "))}
        placeholder="type a part of its name, then Enter"
        wrong={wrong}
      />
      {named.length > 0 && (
        <span className="row wrap small">
          {named.map((key) => (
            <span key={key} className="row" style={{ gap: 2 }}>
              {label(key)}
              <Button
                size="small"
                type="text"
                aria-label={`Take ${label(key)} off`}
                onClick={() => change(named.filter((n) => n !== key).join("; "))}
              >
                ×
              </Button>
            </span>
          ))}
        </span>
      )}
    </div>
  );
}
