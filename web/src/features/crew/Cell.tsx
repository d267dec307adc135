import type { Shapes } from "../../api/client";
import { at as hourOf, clock, count, dayName, figure, from, hours, tone } from "../../kit/words";
import { useWeek } from "../week/context";
import { absencesOf, reasonsOf } from "./absences";

type Person = Shapes["PersonRow"];
type Day = Shapes["PersonDay"];
type Item = Shapes["SeatItem"];
const HOUR = 36e5;

/**
 * The first moment and the length in hours of what is drawn of a day: its shifts, and hours away beside them.
 */
export function spanOf(day: Day, longest: number): { first: number; length: number } {
  const parts = [
    ...day.shifts.map((s) => [Date.parse(s.start), Date.parse(s.end)]),
    ...absencesOf(day, longest).map((a) => [a.start, a.end]),
  ];
  if (!parts.length) return { first: 0, length: 0 };
  const first = Math.min(...parts.map(([a]) => a!));
  return { first, length: (Math.max(...parts.map(([, b]) => b!)) - first) / HOUR };
}

interface CellProps {
  person: Person;
  day: Day;
  picked: boolean;
  pick: () => void;
  /** Where hours lie: those of one clock for all rows, or of the shift's own start. */
  first: number;
  length: number;
  /** The share of the cell that the shift takes, 0-100; hours of the longest shift. */
  width: number;
  longest: number;
  /** On one clock each shift has its own frame. */
  framed: boolean;
}

/** One person's day: shifts, hours away and jobs at their times, and what is left. */
export function Cell({ person, day, picked, pick, first, length, width, longest, framed }: CellProps) {
  const { now } = useWeek();
  const away = absencesOf(day, longest);
  const reasons = reasonsOf(day);
  const inside = day.work.filter(
    (w) =>
      w.start &&
      w.end &&
      length > 0 &&
      Date.parse(w.start) >= first - 1 &&
      Date.parse(w.end) <= first + length * HOUR + 1,
  );
  const outside = day.work.filter((w) => !inside.includes(w));
  const wrong = (w: Item) => day.conflicts.some((c) => c.jobs.includes(w.job));
  const there =
    reasons && !day.hours
      ? `away, ${reasons}`
      : day.hours
        ? `${hours(day.hours)}, ${hours(Math.max(day.free, 0))} free` +
          (reasons ? `, away for a part: ${reasons}` : "")
        : "no shift";
  const words =
    `${person.name}, ${dayName(day.day)}: ${there}, ${count(day.work.length, "job")}` +
    (day.free < 0 ? `, ${hours(-day.free)} without anybody` : "");
  const place = (a: number, b: number) => ({
    left: `${(100 * (a - first)) / HOUR / length}%`,
    width: `${(100 * (b - a)) / HOUR / length}%`,
  });
  const lent = day.by_hand.find((h) => h.what === "loan");
  return (
    <div
      className={`cell ${picked ? "picked" : ""}`}
      role="gridcell"
      tabIndex={picked ? 0 : -1}
      aria-selected={picked}
      onClick={pick}
    >
      <span className="unseen">{words}. </span>
      {reasons && day.hours === 0 && <div className="shift away hatch">{reasons}</div>}
      {length > 0 && day.shifts.length > 0 && (
        <div
          className={framed ? "shift" : "clockline"}
          style={
            framed
              ? { width: `${width}%`, borderStyle: day.shifts.every((s) => s.overtime) ? "dashed" : "solid" }
              : undefined
          }
        >
          {!framed &&
            day.shifts.map((s) => (
              <div
                key={s.start}
                className="frame"
                style={{
                  ...place(Date.parse(s.start), Date.parse(s.end)),
                  borderStyle: s.overtime ? "dashed" : "solid",
                }}
              />
            ))}
          {away.map((a) => (
            <div
              key={a.start + a.why}
              className="block away hatch"
              title={`away: ${a.why}`}
              style={place(a.start, a.end)}
            >
              {a.why}
            </div>
          ))}
          {inside
            .filter((w) => w.minutes_before > 0)
            .map((w) => (
              <div
                key={`way${w.job}${w.task}${w.portion}`}
                className="way"
                title={`${w.minutes_before} min on the way from ${w.comes_from}`}
                style={place(Date.parse(w.start!) - w.minutes_before * 6e4, Date.parse(w.start!))}
              >
                ›
              </div>
            ))}
          {inside.map((w) => (
            <div
              key={w.job + w.task + w.portion}
              className={`block ${tone(w)} ${wrong(w) ? "wrong" : ""}`}
              title={
                `${w.job} ${w.title}: ${w.task_title}, ${from(w.start, w.end, day.day, now.timezone)}` +
                (w.takes_over_from ? `; finishes what ${w.takes_over_from} began` : "") +
                (w.kit ? `; parts in ${w.kit}` : "")
              }
              style={place(Date.parse(w.start!), Date.parse(w.end!))}
            >
              {w.takes_over_from && <span aria-label="handed over">⇄ </span>}
              <span className="spotname">{w.title}</span>
            </div>
          ))}
        </div>
      )}
      {outside.map((w) => (
        <div
          key={w.job + w.task + w.portion}
          className={`loose cut ${wrong(w) || day.hours === 0 ? "wrong" : ""}`}
          title={`${w.job} ${w.title}`}
        >
          {w.start ? hourOf(w.start, day.day, now.timezone) : "any time"} {w.title}
        </div>
      ))}
      {(day.shifts.length > 0 || day.free < 0) && (
        <div className="cellnote">
          <span>
            {lent && (
              <span className="ochre" title={`lent to ${lent.note}`}>
                →{" "}
              </span>
            )}
            {framed && day.shifts.length > 0 ? clock(day.shifts[0]!.start, now.timezone) : ""}
          </span>
          {day.free < -0.001 ? (
            <span className="brick strong">▼ {figure(-day.free)} h</span>
          ) : (
            <span>{day.free > 0 ? `${figure(day.free)} h` : "full"}</span>
          )}
        </div>
      )}
    </div>
  );
}
