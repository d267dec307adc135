import { Button, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useLog, useReview } from "../../api/queries";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { clock, count, dayName, localDay } from "../../kit/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { Board, rowKey, type Row } from "./Board";
import { ClosePanel } from "./ClosePanel";
import { Measures } from "./Measures";
import { Reopen } from "./Reopen";
import { ReportPanel } from "./ReportPanel";
import { TaskPanel } from "./TaskPanel";

/** How is it going, what did we learn: the board of a day, progress of each task, schedule compliance with its formula. */
export function Review() {
  const { week, now, job, can, report, openJob, openMend, openBreakIn, inAreas } = useWeek();
  const review = useReview(week);
  const [dayShown, setDay] = useKept("day", now.days.includes(now.today) ? now.today : "week");
  const day = now.days.includes(dayShown) ? dayShown : null;
  const [crew, setCrew] = useKept("crew");
  const [at, setAt] = useState(0);
  const [openedKey, setOpened] = useKept("open");
  const open = openedKey || null;
  const setOpen = (key: string | null) => setOpened(key ?? "");
  const [marked, setMarked] = useState<Set<string>>(new Set());
  const [why, setWhy] = useState<string | null>(null);
  const [closing, setClosing] = useState(false);
  const [reporting, setReporting] = useState<Row[]>([]);
  const tasks = (review.data?.tasks ?? []).filter((t) => inAreas(t.area));
  const rows = tasks.filter((t) => (!day || t.day === day) && (!crew || t.crews.includes(crew)));
  const crews = [...new Set(tasks.flatMap((t) => t.crews))].sort();
  const mayReport = can("report");
  const row = rows[at];
  const chosen = rows.filter((t) => marked.has(rowKey(t)));
  const about = chosen.length ? chosen : row ? [row] : [];
  const say = (which: Row[], to: Shapes["ProgressForm"]["to"], reason: string | null = null) => {
    if (!mayReport || which.length === 0) return;
    void report({
      tasks: which.map((t): [string, string] => [t.job, t.task]),
      to,
      hours_spent: null,
      hours_left: null,
      reason,
      who: null,
    }).then((ok) => ok && setMarked(new Set()));
    setWhy(null);
  };
  const mark = (t: Row) =>
    setMarked((m) => {
      const next = new Set(m);
      if (!next.delete(rowKey(t))) next.add(rowKey(t));
      return next;
    });
  const only = (d: string | null) => {
    setDay(d ?? "week");
    setAt(0);
    setMarked(new Set());
  };
  const reasons = review.data?.reasons ?? [];
  const follow = useFollow(".list .chosen");
  const step = (by: number) => {
    const to = Math.min(Math.max(at + by, 0), rows.length - 1);
    setAt(to);
    follow();
    if (open && rows[to]) setOpen(rowKey(rows[to]));
  };
  useShortcuts([
    { keys: "ArrowDown", what: "Next task", group: "Run", run: () => step(1) },
    { keys: "ArrowUp", what: "Task before", group: "Run", run: () => step(-1) },
    { keys: "Enter", what: "Open the job", group: "Run", run: () => row && openJob(row.job) },
    {
      keys: "h",
      what: "Hours and people of the task",
      group: "Run",
      run: () => {
        if (row) {
          openJob(null);
          setOpen(rowKey(row));
        }
      },
    },
    ...(mayReport
      ? [
          {
            keys: " ",
            what: "Choose the task, or let it go (space)",
            group: "Run",
            run: () => row && mark(row),
          },
          {
            keys: "a",
            what: "Choose all shown, or none",
            group: "Run",
            run: () => setMarked(chosen.length ? new Set() : new Set(rows.map(rowKey))),
          },
          { keys: "s", what: "Started", group: "Run", run: () => say(about, "under way") },
          {
            keys: "r",
            what: "Report with date, hours and people",
            group: "Run",
            run: () => setReporting(about),
          },
          { keys: "e", what: "Done (ended)", group: "Run", run: () => say(about, "done") },
          {
            keys: "n",
            what: "Not done, and why",
            group: "Run",
            run: () => about.length && setWhy(reasons[0] ?? "other"),
          },
        ]
      : []),
    {
      keys: "l",
      what: "Close the week",
      group: "Run",
      run: () => can("edit") && now.status === "published" && setClosing(true),
    },
  ]);
  if (review.error)
    return (
      <div className="empty">
        <h2>The week can not be shown</h2>
        <p>{review.error.message}</p>
      </div>
    );
  if (!review.data)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  const opened = open ? tasks.find((t) => rowKey(t) === open) : undefined;
  return (
    <div className="split">
      {reporting.length > 0 && (
        <ReportPanel
          tasks={reporting}
          review={review.data}
          close={(sent) => {
            setReporting([]);
            if (sent) setMarked(new Set());
          }}
        />
      )}
      {closing && <ClosePanel close={() => setClosing(false)} />}
      <div className="main">
        <div className="bar wrap">
          <span className="days" role="group" aria-label="Days">
            <Button size="small" type={day === null ? "primary" : "default"} onClick={() => only(null)}>
              Week
            </Button>
            {now.days.map((d) => (
              <Button
                size="small"
                key={d}
                type={day === d ? "primary" : "default"}
                title={d === now.today ? "today" : undefined}
                onClick={() => only(d)}
              >
                {dayName(d, false)}
                {d === now.today ? " •" : ""}
              </Button>
            ))}
          </span>
          <select
            className="plainselect"
            aria-label="Crew"
            value={crew}
            onChange={(e) => {
              setCrew(e.target.value);
              setAt(0);
            }}
          >
            <option value="">All crews</option>
            {crews.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
          <span className="grow" />
          <Reopen />
          {can("edit") && now.status === "published" && (
            <Button size="small" title="Close the week" onClick={() => setClosing(true)}>
              Close<span className="unseen"> the week</span> <kbd>L</kbd>
            </Button>
          )}
          {can("edit") && (
            <Button size="small" onClick={openBreakIn}>
              Break-in <kbd>U</kbd>
            </Button>
          )}
          {can("edit") && (
            <Button
              size="small"
              type={now.conflicts.length ? "primary" : "default"}
              onClick={() => openMend()}
            >
              Mend <kbd>M</kbd>
            </Button>
          )}
        </div>
        {mayReport && (chosen.length > 0 || why !== null) && (
          <div className="bar chosenbar" role="group" aria-label="Chosen tasks">
            <span className="strong">{count(about.length, "task")}</span>
            <Button size="small" onClick={() => say(about, "under way")}>
              Started <kbd>S</kbd>
            </Button>
            <Button size="small" type="primary" onClick={() => say(about, "done")}>
              Done <kbd>E</kbd>
            </Button>
            <Button size="small" onClick={() => setReporting(about)}>
              With hours … <kbd>R</kbd>
            </Button>
            {why === null ? (
              <Button size="small" onClick={() => setWhy(reasons[0] ?? "other")}>
                Not done … <kbd>N</kbd>
              </Button>
            ) : (
              <form
                className="row"
                onSubmit={(e) => {
                  e.preventDefault();
                  say(about, "not done", why);
                }}
              >
                <select
                  autoFocus
                  className="plainselect"
                  aria-label="Why not done"
                  value={why}
                  onChange={(e) => setWhy(e.target.value)}
                  onKeyDown={(e) => {
                    if (e.key === "Enter") {
                      e.preventDefault();
                      say(about, "not done", why);
                    }
                    if (e.key === "Escape") setWhy(null);
                  }}
                >
                  {reasons.map((r) => (
                    <option key={r}>{r}</option>
                  ))}
                </select>
                <Button size="small" danger htmlType="submit">
                  Not done
                </Button>
              </form>
            )}
            <Button
              size="small"
              type="link"
              onClick={() => {
                setMarked(new Set());
                setWhy(null);
              }}
            >
              Let go
            </Button>
          </div>
        )}
        {rows.length === 0 ? (
          <div className="empty">
            <h2>
              Nothing is placed {day ? "on this day" : "yet"}
              {crew && ` for ${crew}`}
            </h2>
            <p>Build the week, agree and publish it; then report here what was done.</p>
          </div>
        ) : (
          <Board
            rows={rows}
            picked={row}
            pick={(t) => {
              setAt(rows.indexOf(t));
              openJob(null);
              setOpen(rowKey(t));
            }}
            marked={marked}
            mark={mark}
            say={say}
          />
        )}
      </div>
      <Side name="Review" about={job ?? open}>
        {job ? (
          <JobPanel number={job} />
        ) : opened ? (
          <TaskPanel
            key={rowKey(opened) + opened.state + opened.hours_spent}
            row={opened}
            review={review.data}
            close={() => setOpen(null)}
          />
        ) : (
          <>
            <Measures review={review.data} />
            <Log />
          </>
        )}
      </Side>
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
      {log.slice(0, 40).map((c) => (
        <p
          key={c.seq}
          className="item small"
          style={{ textDecoration: c.undone ? "line-through" : undefined }}
        >
          {c.label}{" "}
          <span className="soft">
            · {c.by}, {dayName(localDay(c.at, now.timezone))} {clock(c.at, now.timezone)}
          </span>
        </p>
      ))}
    </section>
  );
}
