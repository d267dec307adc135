import { useQuery } from "@tanstack/react-query";
import { Alert, Button, Checkbox, Spin } from "antd";
import { useState } from "react";

import { http, need, type Key, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { count, dayName, figure } from "../../kit/words";
import { useWeek } from "../week/context";
import { takerOf, useTakers } from "./takers";

/** What is to be given: all work of these jobs, or some placements of them. */
export interface Selection {
  jobs: string[];
  keys?: Key[];
}

/**
 * A selection given to one person or crew: hours by day and what would break are seen before anything is
 * done.
 */
export function GivePanel({ selection, close }: { selection: Selection; close: () => void }) {
  const { week, now, edit, busy } = useWeek();
  const takers = useTakers(week);
  const [to, setTo] = useState<string | null>(null);
  const [despite, setDespite] = useState(false);
  const form = { jobs: selection.jobs, keys: selection.keys ?? [], despite, ...takerOf(to ?? "person ") };
  const told = useQuery({
    enabled: to !== null,
    queryKey: keys.part(week, "giving", now.edits, to, despite, selection.jobs.join(" ")),
    queryFn: () => need(http.POST("/api/weeks/{week}/giving", { params: { path: { week } }, body: form })),
    retry: false,
  });
  const send = async () => {
    if (to && told.data?.seats && (await edit({ kind: "give all", ...form }))) close();
  };
  return (
    <Panel close={close} title={`Give ${count(selection.jobs.length, "job")}`} width={520}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <Typed
          autoFocus
          label="To whom"
          placeholder="part of a name, or of a crew"
          options={takers}
          value={to}
          change={setTo}
        />
        <div style={{ height: 12 }} />
        {to && told.isPending && <Spin />}
        {told.error && <Alert type="warning" showIcon title="Not to them" description={told.error.message} />}
        {told.data && <Brings told={told.data} days={now.days} />}
        {(told.data?.left.some((l) => l.could) || despite) && (
          <Checkbox checked={despite} onChange={(e) => setDespite(e.target.checked)}>
            give all the same what only hours or the way speak against
          </Checkbox>
        )}
        <div className="row">
          <Button type="primary" htmlType="submit" loading={busy} disabled={!told.data?.seats}>
            {told.data?.seats ? `Give ${count(told.data.seats, "seat")}` : "Give"} <kbd>↵</kbd>
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}

function Brings({ told, days }: { told: Shapes["GivingPreview"]; days: string[] }) {
  return (
    <>
      {told.takers.length > 0 && (
        <table className="plain small" aria-label="Hours by day">
          <thead>
            <tr>
              <th />
              {days.map((d) => (
                <th key={d} className="number">
                  {dayName(d, false)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {told.takers.map((t) => (
              <tr key={t.person}>
                <th scope="row" className="cut" style={{ maxWidth: 130, textAlign: "left" }} title={t.name}>
                  {t.name}
                </th>
                {t.days.map((d) => (
                  <DayHours key={d.day} day={d} />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {told.takers.length > 0 && <p className="soft small">hours placed before → after, of hours there</p>}
      {told.breaks.map((b) => (
        <p key={b} className="brick">
          ▲ {b}
        </p>
      ))}
      {told.left.length > 0 && (
        <section>
          <h2>{count(told.left.length, "task")} would stay</h2>
          {told.left.slice(0, 30).map((l) => (
            <p key={`${l.job} ${l.task} ${l.day}`} className="item small">
              {l.job} task {l.task}, {dayName(l.day)} <span className="soft">{l.why}</span>
            </p>
          ))}
          {told.left.length > 30 && <p className="soft small">and {told.left.length - 30} more</p>}
        </section>
      )}
    </>
  );
}

function DayHours({ day }: { day: Shapes["TakerDay"] }) {
  const over = day.after > day.there + 0.001;
  if (!day.there && !day.after) return <td className="number soft">–</td>;
  return (
    <td className={`number ${over ? "brick" : day.after > day.before ? "strong" : "soft"}`}>
      {over && "▲ "}
      {day.after > day.before ? `${figure(day.before)} → ${figure(day.after)}` : figure(day.after)}
      <div className="soft">of {figure(day.there)}</div>
    </td>
  );
}
