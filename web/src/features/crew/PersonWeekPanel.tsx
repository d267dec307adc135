import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useShortcuts } from "../../app/keys";
import { Download } from "../../kit/Download";
import { count, dayName, from, hours } from "../../kit/words";
import { Priority } from "../gather/Marks";
import { useWeek } from "../week/context";
import { InWeekOf } from "../week/InWeek";
import { reasonsOf } from "./absences";
import { AwayForm } from "./AwayForm";

type Person = Shapes["PersonRow"];
type Day = Shapes["PersonDay"];

/** One person's seven days as a list, by day and hour; days away, and what falls open with them. */
export function PersonWeekPanel({ person, openDay }: { person: Person; openDay: (day: string) => void }) {
  const { week, shown, can } = useWeek();
  const [away, setAway] = useState(false);
  const mayEdit = can("edit");
  useShortcuts(
    mayEdit ? [{ keys: "a", what: "Away for days or hours", group: "Crew", run: () => setAway(true) }] : [],
  );
  const work = person.days.reduce((sum, d) => sum + d.work.length, 0);
  const there = person.days.reduce((sum, d) => sum + d.hours, 0);
  const free = person.days.reduce((sum, d) => sum + d.free, 0);
  return (
    <>
      <section>
        <h1 dir="auto" style={{ textAlign: "left" }}>
          {person.name}
        </h1>
        <p className="soft">
          {person.crafts.map((c) => `${c.name.toLowerCase()} ${c.level}`).join(", ")} · {person.crew}
        </p>
        <p>
          {count(work, "task")} · {hours(+(there - free).toFixed(2))} of {hours(there)}
        </p>
        <p>
          <Download href={`/api/weeks/${week}/sheets.pdf?by=person&only=${person.key}&first=${shown[0]}`}>
            Sheet of these days
          </Download>{" "}
          <span className="soft">PDF</span> ·{" "}
          <Download href={`/api/weeks/${week}/calendars/${person.key}.ics`}>Calendar</Download>
        </p>
        {mayEdit && !away && (
          <Button size="small" style={{ marginTop: 8 }} onClick={() => setAway(true)}>
            Away … <kbd>A</kbd>
          </Button>
        )}
      </section>
      {away && (
        <section>
          <InWeekOf day={shown[0]!}>
            <AwayForm person={person.key} day={shown[0]!} close={() => setAway(false)} />
          </InWeekOf>
        </section>
      )}
      <FallsOpen person={person} />
      {person.days.map((d) => (
        <DayOfWeek key={d.day} day={d} open={() => openDay(d.day)} />
      ))}
    </>
  );
}

/** Work that nobody does while the person is away: given to others, opened, or mended. */
function FallsOpen({ person }: { person: Person }) {
  const view = useWeek();
  const short = person.days.filter((d) => d.free < -0.001 && view.now.days.includes(d.day));
  if (!short.length || !view.can("edit")) return null;
  const [first, last] = [short[0]!.day, short.at(-1)!.day];
  const lost = short.flatMap((d) => d.work);
  const jobs = [...new Set(lost.map((w) => w.job))];
  const keys = lost.map((w): [string, string, number] => [w.job, w.task, w.portion]);
  const act = (kind: "cover day" | "free day") =>
    void view.edit({ kind, person: person.key, day: first, last });
  return (
    <section className="box" aria-label="Falls open">
      <p className="brick strong">
        ▼ {hours(+short.reduce((sum, d) => sum - d.free, 0).toFixed(2))} of work without anybody,{" "}
        {short.length > 1 ? `${dayName(first)} to ${dayName(last)}` : dayName(first)}
      </p>
      <div className="row wrap" style={{ marginTop: 6 }}>
        <Button size="small" type="primary" onClick={() => act("cover day")}>
          Give to others
        </Button>
        <Button size="small" onClick={() => view.openGive({ jobs, keys })}>
          Give to one …
        </Button>
        <Button size="small" onClick={() => act("free day")}>
          Open the seats
        </Button>
        <Button size="small" onClick={() => view.openMend()}>
          Mend <kbd>M</kbd>
        </Button>
      </div>
    </section>
  );
}

function DayOfWeek({ day, open }: { day: Day; open: () => void }) {
  const { now, openJob } = useWeek();
  const reasons = reasonsOf(day);
  return (
    <section>
      <h2>
        <button className="plain" onClick={open} title="Open this day">
          {dayName(day.day)}
        </button>{" "}
        <span className="soft small" style={{ fontWeight: 400 }}>
          {day.shifts.length
            ? day.shifts.map((s) => from(s.start, s.end, day.day, now.timezone)).join(", ")
            : "no shift"}
          {day.shifts.length > 0 && day.free >= 0 && ` · ${hours(day.free)} free`}
        </span>
        {reasons && <span className="ochre small"> · away: {reasons}</span>}
        {day.free < -0.001 && <span className="brick small"> ▼ {hours(-day.free)}</span>}
      </h2>
      {day.work.map((w) => (
        <div key={w.job + w.task + w.portion + w.seat} className="row item">
          <Priority value={w.priority} must={w.must} />
          <button className="plain grow" style={{ minWidth: 0 }} onClick={() => openJob(w.job)}>
            <span className="cut" style={{ display: "block" }}>
              {w.title}
            </span>
            <span className="soft small cut" style={{ display: "block" }}>
              {w.kit && `▣ ${w.kit} · `}
              {from(w.start, w.end, day.day, now.timezone)} · {w.job} {w.task} {w.task_title}
            </span>
          </button>
          <span>{hours(w.hours)}</span>
        </div>
      ))}
    </section>
  );
}
