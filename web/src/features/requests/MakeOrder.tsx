import { Alert, Button, Input } from "antd";
import { useState } from "react";

import { Problem } from "../../api/client";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { Moment } from "../../kit/When";
import { dayName, WORK_KINDS } from "../../kit/words";
import { FromPlan } from "../plans/FromPlan";
import { TASK } from "../orders/taskOrder";
import { TaskRows } from "../orders/TaskRows";
import { useChoices, type Cells } from "../orders/useOrders";
import { useRequestWrites, type Request } from "./useRequests";

/** A WO for a request: its words stand there already, what it takes is filled in. */
export function MakeOrder({
  request: r,
  goingOn,
  close,
}: {
  request: Request;
  goingOn: (on: boolean) => void;
  close: (made?: string) => void;
}) {
  const { assets } = useChoices();
  const { makeOrder } = useRequestWrites();
  const [order, setOrder] = useState<Cells>({
    title: r.title,
    asset: r.asset ?? "",
    kind: r.urgency === "now" ? "breakdown" : "corrective",
    due: "",
    ...r.service?.order,
  });
  const [tasks, setTasks] = useState<Cells[]>(
    r.service?.tasks.length ? r.service.tasks : [{ ...TASK, title: r.title }],
  );
  const [copied, setCopied] = useState(0);
  const [wrong, setWrong] = useState<{ text: string; field: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const set = (name: string, value: string) => setOrder((now) => ({ ...now, [name]: value }));
  const send = async () => {
    setBusy(true);
    setWrong(null);
    goingOn(true);
    try {
      close((await makeOrder(r, order, tasks)).number);
    } catch (bad) {
      goingOn(false);
      setWrong({ text: (bad as Error).message, field: bad instanceof Problem ? bad.field : "" });
      setBusy(false);
    }
  };
  return (
    <Panel title={`A WO for ${r.number}`} width={560} close={() => close()} unsaved>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <label>
          Title
          <Input
            aria-label="Title"
            status={wrong?.field === "title" ? "error" : undefined}
            value={order.title}
            maxLength={200}
            onChange={(e) => set("title", e.target.value)}
          />
        </label>
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
          <Moment
            label="Due"
            empty
            placeholder="–"
            alone="18:00"
            wrong={wrong?.field === "due"}
            value={(order.due ?? "").slice(0, 16).replace(" ", "T")}
            change={(v) => set("due", v.replace("T", " "))}
          />
        </div>
        <FromPlan
          order={order}
          tasks={tasks}
          made={false}
          take={(cells, theirs) => {
            setOrder((now) => ({ ...now, ...cells, description: "" }));
            setTasks(theirs);
            setCopied(copied + 1);
          }}
        />
        <TaskRows key={copied} tasks={tasks} setTasks={setTasks} wrong={wrong?.field ?? ""} first />
        {r.service && (
          <p className="small">
            Preventive plan {r.service.plan} asks for it: due {dayName(r.service.due)}.
          </p>
        )}
        <p className="soft small">
          {r.reporter}’s words and {r.files.length ? "files go" : "name go"} along; the request is done when
          the WO is.
        </p>
        {wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong.text} />}
        <div className="row">
          <Button type="primary" htmlType="submit" loading={busy}>
            Make the WO
          </Button>
          <Button onClick={() => close()}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}
