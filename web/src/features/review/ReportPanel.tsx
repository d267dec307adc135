import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { Hours, Moment } from "../../kit/When";
import { clock, count, dayName, localMoment, zoned } from "../../kit/words";
import { useWeek } from "../week/context";
import type { Row } from "./taskCell";

type Said = Shapes["TaskReport"];
type To = Said["to"];

const TO: { value: To; label: string }[] = [
  { value: "done", label: "done" },
  { value: "under way", label: "in part" },
  { value: "not done", label: "not done" },
];

interface Line {
  to: To;
  /** Hours as typed, by person. */
  by: Record<string, string>;
  left: string;
  reason: string;
}

/** Many tasks reported in one go: when, how far each came, and the hours of each person. */
export function ReportPanel({
  tasks,
  review,
  close,
}: {
  tasks: Row[];
  review: Shapes["Review"];
  close: (sent: boolean) => void;
}) {
  const { now, busy, reportAll } = useWeek();
  const [ended, setEnded] = useState(startOf(tasks, now.today, now.timezone));
  const [lines, setLines] = useState<Line[]>(() => tasks.map((t) => lineOf(t, review.reasons[0] ?? "other")));
  const set = (n: number, change: Partial<Line>) =>
    setLines(lines.map((l, k) => (k === n ? { ...l, ...change } : l)));
  const all = (to: To) => setLines(lines.map((l) => ({ ...l, to })));
  const send = async () => {
    const moment = ended ? zoned(ended.slice(0, 10), ended.slice(11, 16), now.timezone) : null;
    const rows = tasks.map((t, n) => saidOf(t, lines[n]!));
    if (await reportAll(rows, moment)) close(true);
  };
  return (
    <Panel close={() => close(false)} title={`Report ${count(tasks.length, "task")}`} width={560} unsaved>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <div className="row">
          <Moment empty first label="Ended" placeholder="now" alone="15:00" value={ended} change={setEnded} />
          <Button size="small" onClick={() => all("done")}>
            All done
          </Button>
          <Button size="small" onClick={() => all("under way")}>
            All in part
          </Button>
        </div>
        {tasks.map((t, n) => (
          <fieldset key={`${t.day} ${t.job} ${t.task}`} className="item" style={{ border: 0, padding: 0 }}>
            <legend className="strong cut" style={{ maxWidth: "100%", fontSize: 13, marginBottom: 0 }}>
              {t.title} <span className="soft">{dayName(t.day)}</span>
            </legend>
            <p className="soft small cut">
              {t.job} task {t.task} {t.what} · {t.hours_planned} h planned
            </p>
            <div className="row wrap">
              <Choice
                hidden
                label={`How ${t.job} task ${t.task} went`}
                width={96}
                value={lines[n]!.to}
                change={(v) => set(n, { to: v as To })}
                options={TO}
              />
              {peopleOf(t).map(([key, name]) => (
                <label key={key} className="row small" style={{ gap: 4 }}>
                  <span dir="auto">{name}</span>
                  <Hours
                    bare
                    empty
                    label={`Hours of ${name} on ${t.job} task ${t.task}`}
                    placeholder={String(t.hours_planned)}
                    width={64}
                    value={lines[n]!.by[key] ?? ""}
                    change={(v) => set(n, { by: { ...lines[n]!.by, [key]: v } })}
                  />
                </label>
              ))}
              {lines[n]!.to !== "done" && (
                <label className="row small" style={{ gap: 4 }}>
                  left
                  <Hours
                    bare
                    empty
                    label={`Hours left of ${t.job} task ${t.task}`}
                    placeholder="as planned"
                    width={80}
                    value={lines[n]!.left}
                    change={(v) => set(n, { left: v })}
                  />
                </label>
              )}
              {lines[n]!.to === "not done" && (
                <Choice
                  hidden
                  label={`Why ${t.job} task ${t.task} was not done`}
                  value={lines[n]!.reason}
                  change={(v) => set(n, { reason: v })}
                  options={review.reasons}
                />
              )}
            </div>
          </fieldset>
        ))}
        <div className="row">
          <Button type="primary" htmlType="submit" loading={busy}>
            Report {count(tasks.length, "task")}
          </Button>
          <Button onClick={() => close(false)}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}

function lineOf(t: Row, reason: string): Line {
  const by = Object.fromEntries(Object.entries(t.hours_by).map(([k, h]) => [k, String(h)]));
  return {
    to: "done",
    by,
    left: t.hours_left === null ? "" : String(t.hours_left),
    reason: t.reason ?? reason,
  };
}

/** Who sits on a task, each once. */
function peopleOf(t: Row): [string, string][] {
  return [...new Map(t.seats.flatMap((s) => (s.person ? [[s.person, s.name ?? s.person] as const] : [])))];
}

function saidOf(t: Row, line: Line): Said {
  const by = Object.entries(line.by).flatMap(([k, v]) => (v ? [[k, Number(v)] as const] : []));
  return {
    job: t.job,
    task: t.task,
    to: line.to,
    hours_by: Object.fromEntries(by),
    hours_left: line.to === "done" || !line.left ? null : Number(line.left),
    reason: line.to === "not done" ? line.reason : null,
  };
}

/** When the last of them was to end, if that is over by the site's own day; else nothing, which means now. */
function startOf(tasks: Row[], today: string, zone: string): string {
  const ends = tasks.flatMap((t) => (t.end ? [t.end] : [])).sort((a, b) => Date.parse(a) - Date.parse(b));
  const last = ends.at(-1);
  const present = `${today}T${clock(new Date().toISOString(), zone)}`;
  return last && localMoment(last, zone) <= present ? localMoment(last, zone) : "";
}
