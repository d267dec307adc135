import { useState } from "react";
import { Link } from "react-router";

import type { Shapes } from "../../api/client";
import { Choice } from "../../kit/Choice";
import { dayLater, dayName, hours, localDay } from "../../kit/words";

type Job = Shapes["ShutdownJob"];
const DAY = 86_400_000;
const GROUPS = {
  area: "by area",
  asset: "by asset",
  state: "by state",
  chain: "longest chain first",
} as const;
type Group = keyof typeof GROUPS;

/**
 * The jobs of a shutdown along its days: planned as a bar, required by as a flag, really begun and done as a
 * line below; what lies on the longest chain is marked.
 */
export function Timeline({ shutdown: s, me }: { shutdown: Shapes["ShutdownDocument"]; me: Shapes["Me"] }) {
  const [group, setGroup] = useState<Group>("area");
  const gather = `/week/${me.week}/gather?job=`;
  const [words, setWords] = useState("");
  const zone = me.timezone;
  const today = s.today;
  const days = daysOf(s, zone);
  const at = (moment: string) =>
    Math.max(0, Math.min(1, (Date.parse(moment) - Date.parse(`${days[0]!}T00:00Z`)) / (days.length * DAY)));
  const low = words.trim().toLowerCase();
  const jobs = s.jobs.filter((j) =>
    `${j.number} ${j.title} ${j.asset} ${j.area}`.toLowerCase().includes(low),
  );
  const rows = group === "chain" ? [...jobs].sort((a, b) => a.slack - b.slack) : jobs;
  const groups = new Map<string, Job[]>();
  for (const j of rows) {
    const name = group === "chain" ? "" : j[group];
    groups.set(name, [...(groups.get(name) ?? []), j]);
  }
  if (!s.jobs.length)
    return (
      <div className="empty">
        <h2>Nothing hangs on it</h2>
        <p>Say in a WO's form that it belongs to this shutdown, or hang a preventive plan on its series.</p>
      </div>
    );
  return (
    <section aria-label="Its jobs">
      <div className="row">
        <Choice
          label="Order"
          hidden
          width={170}
          value={group}
          change={(v) => setGroup(v as Group)}
          options={Object.entries(GROUPS).map(([value, label]) => ({ value, label }))}
        />
        <input
          className="plainselect"
          aria-label="Words in its jobs"
          placeholder="words"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <span className="soft small grow">
          ▬ planned · ▾ required by · ━ begun to done · ◆ on the longest chain
        </span>
      </div>
      <div className="timeline" role="table" aria-label="Jobs along the days">
        <div className="timerow head" role="row">
          <span role="columnheader">Job</span>
          <span role="columnheader" className="lane">
            {days.map((d, n) => (
              <span
                key={d}
                className={`tick ${isMonday(d) ? "monday" : ""}`}
                style={{ left: `${(100 * n) / days.length}%` }}
              >
                {isMonday(d) || n === 0 ? dayName(d).slice(4) : ""}
              </span>
            ))}
          </span>
        </div>
        {[...groups].map(([name, its]) => (
          <div key={name} role="rowgroup" aria-label={name || "All"}>
            {name && (
              <p className="groupname small strong" dir="auto">
                {name} <span className="soft">{its.length}</span>
              </p>
            )}
            {its.map((j) => (
              <div key={j.number} className="timerow" role="row" aria-label={told(j, zone)}>
                <span role="cell" className="what">
                  <Link to={`${gather}${encodeURIComponent(j.number)}`}>{j.number}</Link>{" "}
                  {j.slack === 0 && <span className="brick">◆</span>} <span dir="auto">{j.title}</span>
                  <span className="secondline soft small" dir="auto">
                    {j.asset} · {j.state} · {hours(j.hours)}
                  </span>
                </span>
                <span role="cell" className="lane">
                  {days.map((d, n) =>
                    isMonday(d) ? (
                      <i key={d} className="tick monday" style={{ left: `${(100 * n) / days.length}%` }} />
                    ) : null,
                  )}
                  {today >= days[0]! && today <= days.at(-1)! && (
                    <i className="now" style={{ left: `${100 * at(`${today}T12:00Z`)}%` }} />
                  )}
                  {j.planned_start && (
                    <Bar kind="planned" from={at(j.planned_start)} to={at(j.planned_end!)} />
                  )}
                  {j.began && <Bar kind="really" from={at(j.began)} to={at(j.ended ?? `${today}T12:00Z`)} />}
                  {!j.began && j.ended && <Bar kind="really" from={at(j.ended)} to={at(j.ended)} />}
                  {j.due && (
                    <i
                      className={`flag ${isLate(j, today) ? "brick" : ""}`}
                      style={{ left: `${100 * at(j.due)}%` }}
                    >
                      ▾
                    </i>
                  )}
                </span>
              </div>
            ))}
          </div>
        ))}
      </div>
    </section>
  );
}

function Bar({ kind, from, to }: { kind: string; from: number; to: number }) {
  return (
    <i
      className={`span ${kind}`}
      style={{ left: `${100 * from}%`, width: `max(4px, ${100 * (to - from)}%)` }}
    />
  );
}

const isMonday = (day: string) => new Date(`${day}T00:00Z`).getUTCDay() === 1;
const isLate = (j: Job, today: string) => (j.ended ?? (j.planned_end || `${today}T12:00Z`)) > j.due!;

/** From its first day, or the first thing that happens, to its last. */
function daysOf(s: Shapes["ShutdownDocument"], zone: string): string[] {
  const all = s.jobs.flatMap((j) =>
    [j.planned_start, j.planned_end, j.due, j.began, j.ended].filter((m) => m !== null),
  );
  const seen = [s.shutdown.first!, s.shutdown.last!, ...all.map((m) => localDay(m, zone))].sort();
  const from = seen[0]! < dayLater(s.shutdown.first!, -21) ? dayLater(s.shutdown.first!, -21) : seen[0]!;
  const to = seen.at(-1)! > dayLater(s.shutdown.last!, 21) ? dayLater(s.shutdown.last!, 21) : seen.at(-1)!;
  const out = [];
  for (let d = from; d <= to; d = dayLater(d, 1)) out.push(d);
  return out;
}

function told(j: Job, zone: string): string {
  const day = (m: string) => dayName(localDay(m, zone));
  return [
    `${j.number} ${j.title}`,
    j.planned_start && `planned ${day(j.planned_start)} to ${day(j.planned_end!)}`,
    j.due && `required by ${day(j.due)}`,
    j.began && `begun ${day(j.began)}`,
    j.ended && `done ${day(j.ended)}`,
    j.slack === 0 ? "on the longest chain" : `may slip ${hours(j.slack)}`,
  ]
    .filter(Boolean)
    .join(", ");
}
