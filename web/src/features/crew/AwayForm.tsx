import { Button } from "antd";
import { useState } from "react";

import { Choice } from "../../kit/Choice";
import { Typed } from "../../kit/Typed";
import { Clock, Day } from "../../kit/When";
import { useWeek } from "../week/context";
import { useShownCrew } from "./useShownCrew";

const REASONS = ["sick", "leave", "training", "other"];

/** Away from one day to another, all day or from one hour to another: one gesture. */
export function AwayForm({ person, day, close }: { person: string; day: string; close: () => void }) {
  const view = useWeek();
  const { edit } = view;
  const others = (useShownCrew(view).crew?.people ?? [])
    .filter((p) => p.key !== person)
    .map((p) => ({ value: p.key, label: p.name }));
  const [first, setFirst] = useState(day);
  const [last, setLast] = useState(day);
  const [start, setStart] = useState("");
  const [end, setEnd] = useState("");
  const [reason, setReason] = useState("sick");
  const [standIn, setStandIn] = useState<string | null>(null);
  const send = async () => {
    const more = last > first ? { last } : {};
    if (
      await edit({
        kind: "absence",
        person,
        day: first,
        reason,
        start: start || null,
        end: end || null,
        stand_in: standIn,
        ...more,
      })
    )
      close();
  };
  return (
    <form
      className="stack"
      aria-label="Away"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        close();
      }}
    >
      <div className="row">
        <Day first label="From" value={first} change={setFirst} />
        <Clock label="at" empty placeholder="all day" value={start} change={setStart} width={80} />
      </div>
      <div className="row">
        <Day label="To" least={first} value={last < first ? first : last} change={setLast} />
        <Clock label="until" empty placeholder="all day" value={end} change={setEnd} width={80} />
      </div>
      <Choice label="Reason" value={reason} change={setReason} options={REASONS} />
      <Typed label="Stand-in" options={others} value={standIn} change={setStandIn} placeholder="nobody" />
      <div className="row">
        <Button size="small" type="primary" htmlType="submit">
          Write it down
        </Button>
        <Button size="small" onClick={close}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
