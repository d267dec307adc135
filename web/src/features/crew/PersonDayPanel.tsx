import { Button } from "antd";
import { useState } from "react";

import type { Key, Shapes } from "../../api/client";
import { useShortcuts } from "../../app/keys";
import { count, dayName, from, hours } from "../../kit/words";
import { Priority } from "../gather/Marks";
import { useWeek } from "../week/context";
import { reasonsOf } from "./absences";
import { AwayForm } from "./AwayForm";
import { HoursByHand } from "./HoursByHand";
import { SeatPanel } from "./SeatPanel";
import { Skills } from "./Skills";
import { StartField } from "./StartField";

type Item = Shapes["SeatItem"];

/** One person's day: shifts, jobs, absence; who else could take each seat. */
export function PersonDayPanel({
  person,
  day,
  openWeek,
}: {
  person: Shapes["PersonRow"];
  day: Shapes["PersonDay"];
  /** Shows the person's whole week. */
  openWeek?: () => void;
}) {
  const { now, edit, can, openMend } = useWeek();
  const [seat, setSeat] = useState<Item | null>(null);
  const [leaving, setLeaving] = useState(false);
  const mayEdit = can("edit");
  const reasons = reasonsOf(day);
  const away = (reason: string) =>
    mayEdit && void edit({ kind: "absence", person: person.key, day: day.day, reason });
  const other = (kind: "back" | "free day" | "cover day") =>
    mayEdit && void edit({ kind, person: person.key, day: day.day });
  useShortcuts(
    mayEdit
      ? [
          { keys: "s", what: "Sick this day", group: "Crew", run: () => away("sick") },
          { keys: "f", what: "Open the seats of this day", group: "Crew", run: () => other("free day") },
          { keys: "a", what: "Away for days or hours", group: "Crew", run: () => setLeaving(true) },
          {
            keys: "c",
            what: "Give the work of this day to others",
            group: "Crew",
            run: () => other("cover day"),
          },
        ]
      : [],
  );
  const held = day.work.find(
    (w) =>
      seat &&
      w.job === seat.job &&
      w.task === seat.task &&
      w.portion === seat.portion &&
      w.seat === seat.seat,
  );
  const crafts = person.crafts.map((c) => `${c.name.toLowerCase()} ${c.level}`).join(", ");
  if (held)
    return (
      <>
        <Button size="small" onClick={() => setSeat(null)} style={{ marginBottom: 10 }}>
          ‹ {person.name}
        </Button>
        <SeatPanel item={held} done={() => setSeat(null)} />
      </>
    );
  return (
    <>
      <section>
        <h1 dir="auto" style={{ textAlign: "left" }}>
          {person.name}
        </h1>
        {openWeek && (
          <Button size="small" type="link" style={{ padding: 0, float: "right" }} onClick={openWeek}>
            All days
          </Button>
        )}
        <p className="soft">
          {dayName(day.day)} · {crafts} · {person.crew}
        </p>
        <p>
          {day.shifts.length
            ? day.shifts
                .map((s) => `${from(s.start, s.end, day.day, now.timezone)}${s.overtime ? " overtime" : ""}`)
                .join(", ")
            : reasons
              ? `away: ${reasons}`
              : "no shift"}
          {day.shifts.length > 0 && reasons && <span className="ochre"> · away for a part: {reasons}</span>}
        </p>
        <p className={day.free < 0 ? "brick strong" : "soft"}>
          {day.free < 0
            ? `▼ ${hours(-day.free)} of work without anybody: open the seats or give them to others`
            : `${hours(day.free)} free of ${hours(day.hours)}`}
        </p>
        {mayEdit && (
          <div className="row wrap" style={{ marginTop: 10 }}>
            {day.shifts.length > 0 && (
              <Button size="small" onClick={() => away("sick")}>
                Sick <kbd>S</kbd>
              </Button>
            )}
            {day.shifts.length > 0 && (
              <Button size="small" onClick={() => setLeaving(true)}>
                Away … <kbd>A</kbd>
              </Button>
            )}
            {reasons && (
              <Button size="small" onClick={() => other("back")}>
                Is back
              </Button>
            )}
            {day.work.length > 0 && (
              <Button
                size="small"
                type={day.free < 0 ? "primary" : "default"}
                onClick={() => other("cover day")}
              >
                Give to others <kbd>C</kbd>
              </Button>
            )}
            {day.free < 0 && (
              <Button size="small" onClick={() => openMend()}>
                Mend <kbd>M</kbd>
              </Button>
            )}
            {day.work.length > 0 && (
              <Button size="small" onClick={() => other("free day")}>
                Open the seats <kbd>F</kbd>
              </Button>
            )}
          </div>
        )}
      </section>
      {leaving && (
        <section>
          <AwayForm person={person.key} day={day.day} close={() => setLeaving(false)} />
        </section>
      )}
      <HoursByHand key={person.key + day.day} person={person} day={day} />
      {day.conflicts.length > 0 && (
        <section className="box brickbox">
          {day.conflicts.map((c) => (
            <p key={c.text} className="brick">
              ▲ {c.text}
            </p>
          ))}
        </section>
      )}
      <section>
        <h2>{count(day.work.length, "job")}</h2>
        {day.work.map((w) => (
          <Work key={w.job + w.task + w.portion + w.seat} item={w} swap={() => setSeat(w)} />
        ))}
      </section>
      <Skills key={JSON.stringify([person.key, person.crafts, person.certificates])} person={person} />
    </>
  );
}

function Work({ item, swap }: { item: Item; swap: () => void }) {
  const { now, edit, can, openJob } = useWeek();
  const key: Key = [item.job, item.task, item.portion];
  return (
    <div className="item">
      <div className="row">
        <Priority value={item.priority} must={item.must} />
        <button className="plain grow strong cut" onClick={() => openJob(item.job)}>
          {item.title}
        </button>
        <span>{hours(item.hours)}</span>
      </div>
      <p className="soft small">
        {from(item.start, item.end, item.day, now.timezone)} · {item.job} task {item.task} {item.task_title}
        {item.pinned ? " · pinned" : ""}
        {item.kit && (
          <span className="secondline" title="Its parts are set aside there">
            ▣ {item.kit}
          </span>
        )}
      </p>
      {can("edit") && (
        <div className="row wrap" style={{ marginTop: 3 }}>
          <Button size="small" onClick={swap}>
            Somebody else
          </Button>
          <Button size="small" onClick={() => edit({ kind: "give", key, seat: item.seat, person: null })}>
            Take off
          </Button>
          <Button size="small" onClick={() => edit({ kind: "pin", keys: [key], on: !item.pinned })}>
            {item.pinned ? "Unpin" : "Pin"}
          </Button>
          <StartField item={item} />
        </div>
      )}
    </div>
  );
}
