import { Checkbox, Input } from "antd";

import { useMe } from "../../api/queries";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { Picked } from "../../kit/Picked";
import { Day } from "../../kit/When";
import { WORK_KINDS } from "../../kit/words";
import { FormEnd } from "../orders/FormEnd";
import { SafetyOfIt } from "../orders/SafetyOfIt";
import { TASK } from "../orders/taskOrder";
import { TaskRows } from "../orders/TaskRows";
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
  const { assets } = useChoices();
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
          {!order.permits && (
            <Choice
              label="Permit"
              width={130}
              value={order.permit || "not needed"}
              change={(v) => set("permit", v)}
              options={["not needed", "waiting"]}
            />
          )}
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
        <Picked
          group="Single assets"
          label="And for this asset with all that is part of it"
          options={assets}
          cell={order.assets ?? ""}
          change={(v) => set("assets", v)}
          wrong={wrong?.field === "assets"}
        />
        <div className="row wrap">
          {tick("divisible", "tasks may be placed one by one")}
          {tick("put_back", "the asset goes back into service between tasks")}
        </div>
        <TaskRows tasks={tasks} setTasks={setTasks} wrong={wrong?.field ?? ""} />
        <SafetyOfIt order={order} set={set} wrong={wrong?.field ?? ""} />
        <OtherSites cell={order.sites ?? ""} change={(v) => set("sites", v)} />
        <FormEnd
          form={form}
          send={number ? (order.state === "in force" ? "Save as the next edition" : "Save") : "Make the plan"}
          leave={() => close()}
        />
      </form>
    </Panel>
  );
}

/** The other sites that a plan serves, where there are any. */
function OtherSites({ cell, change }: { cell: string; change: (cell: string) => void }) {
  const me = useMe().data;
  const others = (me?.sites ?? []).filter((s) => s.key !== me?.site);
  if (!others.length && !cell) return null;
  return (
    <Picked
      group="Other sites"
      label="Other sites that it serves, too"
      options={[
        { value: "everywhere", label: "everywhere" },
        ...others.map((s) => ({ value: s.key, label: s.name })),
      ]}
      cell={cell}
      change={change}
      placeholder="this site alone"
    />
  );
}
