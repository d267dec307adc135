import { Button, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { ListRow, Sort } from "../../api/lists";
import { useLog, useReview } from "../../api/queries";
import { useKept } from "../../app/address";
import { useShortcuts, type Shortcut } from "../../app/keys";
import { Side } from "../../kit/Side";
import { ListBar } from "../../kit/table/ListBar";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import { limitedTo } from "../../kit/table/shown";
import { clock, dayName, localDay } from "../../kit/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { ClosePanel } from "./ClosePanel";
import { Measures } from "./Measures";
import { Reopen } from "./Reopen";
import { ReportPanel } from "./ReportPanel";
import { Saying } from "./Saying";
import { taskCell, rowKey, type Row } from "./taskCell";
import { TaskPanel } from "./TaskPanel";

const ORDER: Sort[] = [
  { column: "day", down: false },
  { column: "start", down: false },
];

/**
 * How is it going, what did we learn: the tasks of a day or the week, progress of each, schedule compliance
 * with its formula.
 */
export function Review() {
  const { week, now, job, can, report, openJob, openMend, openBreakIn, areas, inAreas } = useWeek();
  const review = useReview(week);
  const where = { list: "tasks", week };
  const { head, state, chosen, told, tell } = useListPage(where, ORDER);
  const [dayShown, setDay] = useKept("day", now.days.includes(now.today) ? now.today : "week");
  const day = now.days.includes(dayShown) ? dayShown : null;
  const [crew, setCrew] = useKept("crew");
  const [openedKey, setOpened] = useKept("open");
  const open = openedKey || null;
  const setOpen = (key: string | null) => setOpened(key ?? "");
  const [at, setAt] = useState<ListRow | undefined>();
  const [why, setWhy] = useState<string | null>(null);
  const [closing, setClosing] = useState(false);
  const [reporting, setReporting] = useState<Row[]>([]);
  const limited = limitedTo(state, {
    day: day ? [day] : [],
    crews: crew ? [crew] : [],
    area: areas,
  });
  const mayReport = can("report");
  useShortcuts([
    {
      keys: "l",
      what: "Close the week",
      group: "Run",
      run: () => can("edit") && now.status === "published" && setClosing(true),
    },
  ]);
  if (review.error || head.error)
    return (
      <div className="empty">
        <h2>The week can not be shown</h2>
        <p>{(review.error ?? head.error)?.message}</p>
      </div>
    );
  if (!review.data || !head.data)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  const byKey = new Map(review.data.tasks.map((t) => [rowKey(t), t]));
  const rowOf = (key: string) => byKey.get(key);
  const crews = [...new Set(review.data.tasks.filter((t) => inAreas(t.area)).flatMap((t) => t.crews))].sort();
  const about = (chosen.keys.size ? [...chosen.keys] : at ? [at.key] : [])
    .map(rowOf)
    .filter((t) => t !== undefined);
  const say = (which: Row[], to: Shapes["ProgressForm"]["to"], reason: string | null = null) => {
    if (!mayReport || which.length === 0) return;
    void report({
      tasks: which.map((t): [string, string] => [t.job, t.task]),
      to,
      hours_spent: null,
      hours_left: null,
      reason,
      who: null,
    }).then((ok) => ok && chosen.clear());
    setWhy(null);
  };
  const only = (d: string | null) => {
    setDay(d ?? "week");
    chosen.clear();
  };
  const reasons = review.data.reasons;
  const shortcuts: Shortcut[] = [
    {
      keys: "h",
      what: "Hours and people of the task",
      group: "Run",
      run: () => {
        if (at) {
          openJob(null);
          setOpen(at.key);
        }
      },
    },
    {
      keys: "j",
      what: "Open the job",
      group: "Run",
      run: () => at && openJob(String(at.cells.number)),
    },
    ...(mayReport
      ? [
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
  ];
  const saying = mayReport && (
    <Saying
      tasks={about}
      reasons={reasons}
      why={why}
      setWhy={setWhy}
      say={say}
      withHours={() => setReporting(about)}
    />
  );
  const opened = open ? rowOf(open) : undefined;
  return (
    <div className="split">
      {reporting.length > 0 && (
        <ReportPanel
          tasks={reporting}
          review={review.data}
          close={(sent) => {
            setReporting([]);
            if (sent) chosen.clear();
          }}
        />
      )}
      {closing && <ClosePanel close={() => setClosing(false)} />}
      <div className="main listing">
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
            onChange={(e) => setCrew(e.target.value)}
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
        <ListBar
          where={where}
          head={head.data}
          state={limited}
          chosen={chosen}
          label="tasks of the week"
          summary={told ? countWords(told.total, told.sums, head.data, "task") : ""}
          actions={saying}
        />
        {why !== null && chosen.keys.size === 0 && <div className="bar">{saying}</div>}
        <ListTable
          where={where}
          head={head.data}
          state={limited}
          label="Tasks of the week"
          noun="task"
          zone={now.timezone}
          chosen={chosen}
          opened={open}
          open={(key) => {
            openJob(null);
            setOpen(key);
          }}
          stand={setAt}
          told={tell}
          cell={(c, r) =>
            taskCell(c, rowOf(r.key), now.timezone, now.revision > 0, openJob, mayReport ? say : null)
          }
          empty={
            <div className="empty">
              <h2>
                Nothing is placed {day ? "on this day" : "yet"}
                {crew && ` for ${crew}`}
              </h2>
              <p>Build the week, agree and publish it; then report here what was done.</p>
            </div>
          }
          shortcuts={shortcuts}
        />
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
