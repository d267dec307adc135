import { Spin } from "antd";

import type { Shapes } from "../../api/client";
import { useCrew } from "../../api/queries";
import { at, count, dayName, hours } from "../../kit/words";
import { PersonDayPanel } from "../crew/PersonDayPanel";
import { SeatPanel } from "../crew/SeatPanel";
import { Priority } from "../gather/Marks";
import { useWeek } from "../week/context";
import type { BoardRow } from "./useBoard";

/** A day of a person, of a crew, or of open seats. */
export function PeopleDayPanel({ row, day }: { row: BoardRow; day: string }) {
  const { week } = useWeek();
  const crew = useCrew(week);
  if (crew.error) return <p className="brick">{crew.error.message}</p>;
  if (!crew.data) return <Spin />;
  const person = crew.data.people.find((p) => row.kind === "person" && p.key === row.key);
  const its = person?.days.find((d) => d.day === day);
  if (person && its) return <PersonDayPanel person={person} day={its} />;
  const craft = row.kind === "open" ? row.key.replace("open seats of ", "") : null;
  const seats = crew.data.open_seats.filter(
    (s) => s.day === day && (craft ? s.craft === craft : row.key === ""),
  );
  const people = row.kind === "crew" ? crew.data.people.filter((p) => (p.crew ?? "") === row.key) : [];
  return (
    <>
      <section>
        <h1>
          {row.name}, {dayName(day)}
        </h1>
        <Figures row={row} day={day} />
      </section>
      {people.map((p) => (
        <CrewMember key={p.key} person={p} day={day} />
      ))}
      {seats.map((s) => (
        <SeatPanel key={s.job + s.task + s.portion + s.seat} item={s} letters={false} />
      ))}
      {!people.length && !seats.length && <p className="soft">No seat is open on this day.</p>}
    </>
  );
}

function Figures({ row, day }: { row: BoardRow; day: string }) {
  const t = row.tanks.find((x) => x.day === day);
  if (!t) return null;
  return (
    <p className={t.mood === "over" ? "brick" : t.mood === "tight" ? "ochre" : "soft"}>
      {count(t.jobs, "job")} · {hours(t.load)} of {hours(t.available)}
      {t.mood === "over" && ` · ▲ ${hours(-t.free)} over`}
      {t.mood === "tight" && ` · ◆ into the ${hours(t.held_back)} held back`}
      {t.mood === "fits" && ` · ${hours(t.free)} free`}
    </p>
  );
}

/** Who is in the crew that day, and what they do. */
function CrewMember({ person, day }: { person: Shapes["PersonRow"]; day: string }) {
  const { now, openJob } = useWeek();
  const its = person.days.find((d) => d.day === day);
  if (!its) return null;
  return (
    <section>
      <h2 dir="auto">
        {person.name}{" "}
        <span className="soft" style={{ fontWeight: 400 }}>
          {its.free < 0 ? `▼ ${hours(-its.free)} short` : `${hours(its.free)} free of ${hours(its.hours)}`}
        </span>
      </h2>
      {its.work.map((w) => (
        <div key={w.job + w.task + w.portion + w.seat} className="row item">
          <Priority value={w.priority} must={w.must} />
          <button className="plain grow cut" title={`${w.job} ${w.title}`} onClick={() => openJob(w.job)}>
            {w.start ? at(w.start, day, now.timezone) : "time open"} {w.title}
          </button>
          <span>{hours(w.hours)}</span>
        </div>
      ))}
      {!its.work.length && <p className="soft">{its.shifts.length ? "Nothing placed." : "No shift."}</p>}
    </section>
  );
}
