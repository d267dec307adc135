import { Button, InputNumber, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useLog, useReview } from "../../api/queries";
import { useShortcuts } from "../../app/keys";
import { clock, dayName, figure, from, hours, localDay } from "../../look/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { ClosePanel } from "./ClosePanel";
import { Measures } from "./Measures";

type Row = Shapes["ReviewTask"];

/** How is it going, what did we learn: progress of each task, schedule compliance with its formula. */
export function Review() {
  const { week, now, job, can, report, openJob, openMend, openBreakIn } = useWeek();
  const review = useReview(week);
  const [day, setDay] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const [closing, setClosing] = useState(false);
  const rows = (review.data?.tasks ?? []).filter((t) => !day || t.day === day);
  const mayReport = can("report");
  const row = rows[at];
  const say = (r: Row, to: "to do" | "under way" | "done", spent?: number) => mayReport && void report({ job: r.job, task: r.task, to, hours_spent: spent ?? (to === "done" ? r.hours_spent || r.hours_planned : r.hours_spent), hours_left: null });
  useShortcuts([
    { keys: "ArrowDown", what: "Next task", group: "Run", run: () => setAt(Math.min(at + 1, rows.length - 1)) },
    { keys: "ArrowUp", what: "Task before", group: "Run", run: () => setAt(Math.max(at - 1, 0)) },
    { keys: "Enter", what: "Open the job", group: "Run", run: () => row && openJob(row.job) },
    { keys: "s", what: "Started", group: "Run", run: () => row && say(row, "under way") },
    { keys: "e", what: "Done (ended)", group: "Run", run: () => row && say(row, "done") },
    { keys: "l", what: "Close the week", group: "Run", run: () => can("edit") && now.status === "published" && setClosing(true) },
  ]);
  if (review.error) return <div className="empty"><h2>The week can not be shown</h2><p>{review.error.message}</p></div>;
  if (!review.data) return <div className="empty"><Spin /></div>;
  return (
    <div className="split">
      {closing && <ClosePanel close={() => setClosing(false)} />}
      <div className="main">
        <div className="bar">
          <Button size="small" type={day === null ? "primary" : "default"} onClick={() => { setDay(null); setAt(0); }}>Whole week</Button>
          {now.days.map((d) => <Button size="small" key={d} type={day === d ? "primary" : "default"} onClick={() => { setDay(d); setAt(0); }}>{dayName(d, false)}</Button>)}
          <span className="grow" />
          {now.conflicts.length > 0 && <span className="brick">▲ {now.conflicts.length} broken rules</span>}
          {now.status === "closed" && <span className="strong">closed: can only be read</span>}
          {can("edit") && now.status === "published" && <Button size="small" onClick={() => setClosing(true)}>Close the week <kbd>L</kbd></Button>}
          {can("edit") && <Button size="small" onClick={openBreakIn}>Break-in <kbd>U</kbd></Button>}
          {can("edit") && <Button size="small" type={now.conflicts.length ? "primary" : "default"} onClick={openMend}>Mend <kbd>M</kbd></Button>}
        </div>
        {rows.length === 0 ? <div className="empty"><h2>Nothing is placed {day ? "on this day" : "yet"}</h2><p>Build the week, agree and publish it; then report here what was done.</p></div> : (
          <table className="list under" aria-label="Tasks of the week">
            <colgroup><col style={{ width: 64 }} /><col style={{ width: 96 }} /><col style={{ width: 82 }} /><col /><col style={{ width: 128 }} /><col style={{ width: 92 }} /><col style={{ width: 82 }} /><col style={{ width: 138 }} /></colgroup>
            <thead><tr><th>Day</th><th>Time</th><th>WO</th><th>Task</th><th>Who</th><th>State</th><th>Hours</th><th /></tr></thead>
            <tbody>{rows.map((t, n) => (
              <tr key={t.day + t.job + t.task} className={n === at ? "chosen" : ""} onClick={() => setAt(n)}>
                <td>{dayName(t.day, false)}</td><td>{from(t.start, t.end, now.timezone)}</td>
                <td><button className="plain verdigris" onClick={() => openJob(t.job)}>{t.job}</button></td>
                <td title={`${t.title}: ${t.what} · ${t.asset_name}`}>{t.must && <span className="strong">must · </span>}{t.title} <span className="soft">{t.task} {t.what}</span></td>
                <td className="soft" title={t.people.map((p) => p ?? "open").join(", ")}>{t.people.map((p) => p ?? "◆ open").join(", ")}</td>
                <td>{t.state === "done" ? <span className="verdigris strong">✓ done</span> : t.state === "under way" ? <span className="ochre">◆ under way</span> : <span className="soft">{t.state}</span>}</td>
                <td>{mayReport && t.state === "under way" ? <InputNumber size="small" aria-label={`Hours spent on ${t.job} task ${t.task}`} min={0} max={1000} step={0.25} defaultValue={t.hours_spent} onBlur={(e) => { const v = Number(e.target.value); if (v !== t.hours_spent) say(t, "under way", v); }} style={{ width: 68 }} /> : <>{figure(t.hours_spent)}<span className="soft"> of {hours(t.hours_planned)}</span></>}</td>
                <td>{mayReport && (t.state === "done" ? <Button size="small" onClick={() => say(t, "under way")}>Not done</Button> : <><Button size="small" disabled={t.state === "under way"} onClick={() => say(t, "under way")}>Start</Button> <Button size="small" type="primary" onClick={() => say(t, "done")}>Done</Button></>)}</td>
              </tr>
            ))}</tbody>
          </table>
        )}
      </div>
      <aside className="side" aria-label="Review">
        {job ? <JobPanel number={job} /> : (
          <>
            <Measures review={review.data} />
            <Log />
          </>
        )}
      </aside>
    </div>
  );
}

function Log() {
  const { week, now } = useWeek();
  const log = useLog(week).data ?? [];
  return (
    <section>
      <h2>Edits</h2>
      {log.length === 0 && <p className="soft">None yet.</p>}
      {log.slice(0, 40).map((c) => <p key={c.seq} className="item small" style={{ textDecoration: c.undone ? "line-through" : undefined }}>{c.label} <span className="soft">· {c.by}, {dayName(localDay(c.at, now.timezone))} {clock(c.at, now.timezone)}</span></p>)}
    </section>
  );
}

