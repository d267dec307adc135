import { Button, Spin } from "antd";
import { Fragment, useState } from "react";

import type { Shapes } from "../../api/client";
import { useCrew } from "../../api/queries";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../look/Side";
import { at as hourOf, clock, count, dayName, figure, from, hours, tone } from "../../look/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { PersonDayPanel } from "./PersonDayPanel";
import { SeatPanel } from "./SeatPanel";

type Person = Shapes["PersonRow"];
type Item = Shapes["SeatItem"];
export type Picked = { kind: "day"; person: string; day: string } | { kind: "seat"; item: Item };

/** Who does it: people by day, shifts to scale with the jobs inside, open seats at the top of their craft. */
export function Crew() {
  const { week, now, job, openJob, inAreas } = useWeek();
  const crew = useCrew(week);
  const [picked, setPicked] = useState<Picked | null>(null);
  const [zoom, setZoom] = useState<string | null>(null);
  const people = (crew.data?.people ?? []).filter((p) => inAreas(p.area));
  const seats = (crew.data?.open_seats ?? []).filter((s) => inAreas(s.area));
  const crafts = (crew.data?.crafts ?? []).filter((c) => people.some((p) => p.craft === c.key) || seats.some((s) => s.craft === c.key));
  const order = crafts.flatMap((c) => people.filter((p) => p.craft === c.key));
  const pick = (p: Picked) => { setPicked(p); openJob(null); };
  const follow = useFollow(".crew .picked");
  const go = (rows: number, days: number) => {
    follow();
    if (picked?.kind !== "day") return order[0] && pick({ kind: "day", person: order[0].key, day: now.days[0] });
    const r = order.findIndex((p) => p.key === picked.person) + rows, c = now.days.indexOf(picked.day) + days;
    if (order[r] && now.days[c]) pick({ kind: "day", person: order[r].key, day: now.days[c] });
  };
  const at = picked?.kind === "seat" ? seats.findIndex((s) => s.job === picked.item.job && s.task === picked.item.task && s.seat === picked.item.seat && s.portion === picked.item.portion) : -1;
  const seat = seats[at];
  const nextSeat = () => {
    if (seats.length) pick({ kind: "seat", item: seats[(at + 1) % seats.length] });
  };
  useShortcuts([
    { keys: "ArrowUp", what: "Person above", group: "Crew", run: () => go(-1, 0) },
    { keys: "ArrowDown", what: "Person below", group: "Crew", run: () => go(1, 0) },
    { keys: "ArrowLeft", what: "Day before", group: "Crew", run: () => go(0, -1) },
    { keys: "ArrowRight", what: "Day after", group: "Crew", run: () => go(0, 1) },
    { keys: "t", what: "Next open seat", group: "Crew", run: () => { nextSeat(); follow(); } },
    { keys: "d", what: "Zoom into the day, or out", group: "Crew", run: () => setZoom(zoom ? null : picked?.kind === "day" ? picked.day : now.days[0]) },
  ]);
  if (crew.error) return <div className="empty"><h2>The crews can not be shown</h2><p>{crew.error.message}</p></div>;
  if (!crew.data) return <div className="empty"><Spin /></div>;
  if (crew.data.people.length === 0) return <div className="empty"><h2>There are no people yet</h2><p>Bring in people, shifts and rosters under Files.</p></div>;
  const days = zoom ? [zoom] : now.days;
  const longest = Math.max(1, ...people.flatMap((p) => p.days.map((d) => span(d.shifts))));
  const person = picked?.kind === "day" ? crew.data.people.find((p) => p.key === picked.person) : undefined;
  return (
    <div className="split">
      <div className="main">
        <div className="bar">
          <span className="grow"><span className="strong">{people.length} people</span> <span className="soft">· {seats.length} open seats · {hours(people.reduce((sum, p) => sum + p.days.reduce((s, d) => s + Math.max(d.free, 0), 0), 0))} free</span></span>
          {seats.length > 0 && <Button onClick={nextSeat}>Next open seat <kbd>T</kbd></Button>}
          {zoom && <Button onClick={() => setZoom(null)}>Whole week <kbd>D</kbd></Button>}
        </div>
        <div className="crew" role="grid" aria-label="People by day" style={{ gridTemplateColumns: `158px ${zoom ? "minmax(0,1fr)" : "repeat(5, minmax(0, 1fr)) repeat(2, minmax(0, .8fr))"}` }}>
          <div className="gridrow" role="row">
            <div className="dayhead" role="columnheader"><span className="unseen">Person</span></div>
            {days.map((d) => <div key={d} className="dayhead" role="columnheader"><button className="plain" title="Zoom into this day" onClick={() => setZoom(zoom ? null : d)}>{dayName(d)}</button></div>)}
          </div>
          {crafts.map((craft) => {
            const own = people.filter((p) => p.craft === craft.key);
            const open = seats.filter((s) => s.craft === craft.key);
            const free = own.reduce((sum, p) => sum + p.days.reduce((s, d) => s + d.free, 0), 0);
            return (
              <Fragment key={craft.key}>
                <div className="gridrow" role="row"><div className="group" role="rowheader" aria-colspan={days.length + 1}>{craft.name} <span className="soft" style={{ fontWeight: 400 }}>{free < 0 ? `▼ ${hours(-free)} short` : `${hours(free)} free of ${hours(own.reduce((sum, p) => sum + p.days.reduce((s, d) => s + d.hours, 0), 0))}`}</span></div></div>
                {open.length > 0 && <div className="gridrow" role="row"><div className="who soft small" role="rowheader">open seats</div>{days.map((d) => (
                  <div key={d} className="cell" role="gridcell">{open.filter((s) => s.day === d).map((s) => (
                    <button key={s.job + s.task + s.portion + s.seat} className={`plain openseat cut ${picked?.kind === "seat" && picked.item.job === s.job && picked.item.task === s.task && picked.item.seat === s.seat ? "picked" : ""}`} title={`${s.job} ${s.title}: ${s.task_title}`} onClick={() => pick({ kind: "seat", item: s })}>
                      {s.start ? hourOf(s.start, s.day, now.timezone) : "open"} {s.title}
                    </button>
                  ))}</div>
                ))}</div>}
                {own.map((p) => (
                  <div key={p.key} className="gridrow" role="row">
                    <div className="who" role="rowheader"><div className="strong cut" dir="auto" style={{ textAlign: "left" }} title={p.name}>{p.name}</div><div className="small soft cut">level {p.level}{p.crafts.length > 1 ? ` · also ${p.crafts.filter((c) => c.craft !== p.craft).map((c) => c.craft).join(", ")}` : ""} · {p.area}</div></div>
                    {days.map((d) => <Cell key={d} person={p} day={p.days[now.days.indexOf(d)]} longest={zoom ? span(p.days[now.days.indexOf(d)].shifts) || longest : longest} picked={picked?.kind === "day" && picked.person === p.key && picked.day === d} pick={() => pick({ kind: "day", person: p.key, day: d })} />)}
                  </div>
                ))}
              </Fragment>
            );
          })}
        </div>
        <p className="legend soft small" style={{ paddingTop: 10 }}><i className="must" style={{ marginLeft: 0 }} />must<i className="preventive" />preventive<i className="other" />other<i className="hatch" style={{ border: "1px solid #cfc8b8" }} />away<span style={{ marginLeft: 14 }}>below each shift: its start, hours free</span><span style={{ marginLeft: 14 }}>╌ open seat</span><span className="brick" style={{ marginLeft: 14 }}>▼ hours without anybody</span></p>
      </div>
      <Side name="The seat or day">
        {job ? <JobPanel number={job} /> : seat ? <SeatPanel key={`${seat.job}${seat.task}${seat.portion}${seat.seat}`} item={seat} done={nextSeat} />
          : person && picked?.kind === "day" ? <PersonDayPanel key={picked.person + picked.day} person={person} day={person.days[now.days.indexOf(picked.day)]} />
          : <p className="soft">Pick a person's day, or an open seat (T). Arrows move; D zooms into a day.</p>}
      </Side>
    </div>
  );
}

function span(shifts: Shapes["ShiftShape"][]): number {
  return shifts.length ? (Math.max(...shifts.map((s) => Date.parse(s.end))) - Math.min(...shifts.map((s) => Date.parse(s.start)))) / 36e5 : 0;
}

function Cell({ person, day, longest, picked, pick }: { person: Person; day: Shapes["PersonDay"]; longest: number; picked: boolean; pick: () => void }) {
  const { now } = useWeek();
  const first = day.shifts.length ? Math.min(...day.shifts.map((s) => Date.parse(s.start))) : 0;
  const length = span(day.shifts);
  const inside = day.work.filter((w) => w.start && w.end && length > 0 && Date.parse(w.start) >= first - 1 && Date.parse(w.end) <= first + length * 36e5 + 1);
  const outside = day.work.filter((w) => !inside.includes(w));
  const wrong = (w: Item) => day.conflicts.some((c) => c.jobs.includes(w.job));
  const words = `${person.name}, ${dayName(day.day)}: ${day.absence ? `away, ${day.absence}` : day.hours ? `${hours(day.hours)}, ${hours(Math.max(day.free, 0))} free` : "no shift"}, ${count(day.work.length, "job")}${day.free < 0 ? `, ${hours(-day.free)} without anybody` : ""}`;
  const at = (moment: string) => (100 * (Date.parse(moment) - first)) / 36e5 / length;
  return (
    <div className={`cell ${picked ? "picked" : ""}`} role="gridcell" tabIndex={picked ? 0 : -1} aria-selected={picked} onClick={pick}>
      <span className="unseen">{words}. </span>
      {day.absence && day.hours === 0 && <div className="shift away hatch">{day.absence}</div>}
      {length > 0 && (
        <div className={`shift ${day.absence ? "hatch" : ""}`} style={{ width: `${Math.min(100, (100 * length) / longest)}%`, borderStyle: day.shifts.every((s) => s.overtime) ? "dashed" : "solid" }}>
          {inside.map((w) => (
            <div key={w.job + w.task + w.portion} className={`block ${tone(w)} ${wrong(w) ? "wrong" : ""}`} title={`${w.job} ${w.title}: ${w.task_title}, ${from(w.start, w.end, day.day, now.timezone)}`} style={{ left: `${at(w.start!)}%`, width: `${at(w.end!) - at(w.start!)}%` }}>{w.title}</div>
          ))}
        </div>
      )}
      {outside.map((w) => <div key={w.job + w.task + w.portion} className={`loose cut ${wrong(w) || day.hours === 0 ? "wrong" : ""}`} title={`${w.job} ${w.title}`}>{w.start ? hourOf(w.start, day.day, now.timezone) : "any time"} {w.title}</div>)}
      {(length > 0 || day.free < 0) && <div className="cellnote"><span>{day.by_hand.some((h) => h.what === "loan") && <span className="ochre" title={`lent to ${day.by_hand.find((h) => h.what === "loan")?.note}`}>→ </span>}{length > 0 ? clock(day.shifts[0].start, now.timezone) : ""}</span>{day.free < -0.001 ? <span className="brick strong">▼ {figure(-day.free)} h</span> : <span>{day.free > 0 ? `${figure(day.free)} h` : "full"}</span>}</div>}
    </div>
  );
}
