import type { Shapes } from "../../api/client";
import { dayName, when, zoned } from "../../kit/words";
import { useWeek } from "../week/context";

const HOUR = 36e5;
/** Hours drawn beside the first and the last task. */
const AROUND = 4;

/** A job's tasks on one line of time, with who does them, and behind them when its asset is free for work. */
export function Line({ job }: { job: Shapes["WholeJob"] }) {
  const { now } = useWeek();
  const timed = job.placements.filter((p) => p.start && p.end);
  if (timed.length < 2) return null;
  const starts = timed.map((p) => Date.parse(p.start!)),
    ends = timed.map((p) => Date.parse(p.end!));
  const first = Math.min(...starts) - AROUND * HOUR,
    last = Math.max(...ends) + AROUND * HOUR;
  const x = (t: number) => `${(100 * (Math.min(Math.max(t, first), last) - first)) / (last - first)}%`;
  const w = (a: number, b: number) => `${(100 * (Math.min(b, last) - Math.max(a, first))) / (last - first)}%`;
  const midnights = now.days
    .map((d) => ({ day: d, t: Date.parse(zoned(d, "00:00", now.timezone)) }))
    .filter((m) => m.t > first && m.t < last);
  const free = job.free_for_work.filter((s) => Date.parse(s.end) > first && Date.parse(s.start) < last);
  return (
    <section aria-label="The job on one line of time">
      <h2>On one line</h2>
      <div
        className={`jobline ${job.free_for_work.length ? "" : "always"}`}
        style={{ height: 22 * timed.length + 18 }}
      >
        {free.map((s) => (
          <div
            key={s.start}
            className="free"
            title="the asset is free for work"
            style={{ left: x(Date.parse(s.start)), width: w(Date.parse(s.start), Date.parse(s.end)) }}
          />
        ))}
        {midnights.map((m) => (
          <div key={m.day} className="midnight" style={{ left: x(m.t) }}>
            <span>{dayName(m.day)}</span>
          </div>
        ))}
        {timed.map((p, n) => (
          <div
            key={`${p.task}-${p.portion}`}
            className="portion"
            title={
              `task ${p.task}: ${when(p.day, p.start, p.end, now.timezone)}, ` +
              p.names.map((m) => m ?? "open seat").join(", ")
            }
            style={{ left: x(starts[n]!), width: w(starts[n]!, ends[n]!), top: 18 + 22 * n }}
          >
            <span className={starts[n]! + ends[n]! > first + last ? "left" : "right"}>
              {p.task} {p.names.map((m) => m?.split(" ")[0] ?? "open").join(", ")}
            </span>
          </div>
        ))}
      </div>
      <p className="soft small">
        {job.free_for_work.length
          ? "Outlined: the asset is free for work."
          : "The asset may be stopped at any time."}
        {job.put_back
          ? " It goes back into service between the tasks."
          : " It stays out of service from the first to the last task that needs it stopped."}
      </p>
    </section>
  );
}
