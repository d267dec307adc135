import { Button, Spin } from "antd";
import { Fragment } from "react";

import type { Shapes } from "../../api/client";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Download } from "../../kit/Download";
import { Side } from "../../kit/Side";
import { at as hourOf, dayName, hours } from "../../kit/words";
import { useWeek } from "../week/context";
import { InWeekOf, JobShown } from "../week/InWeek";
import { SpanChoice, useSpan } from "../week/useSpan";
import { hoursLeft } from "./absences";
import { Cell, spanOf } from "./Cell";
import { dayClock, hourMarks } from "./dayClock";
import { PersonDayPanel } from "./PersonDayPanel";
import { PersonWeekPanel } from "./PersonWeekPanel";
import { SeatPanel } from "./SeatPanel";
import { useShownCrew } from "./useShownCrew";

type Item = Shapes["SeatItem"];
export type Picked = { kind: "day"; person: string; day: string } | { kind: "seat"; item: Item };

/** Who does it: people by day, shifts to scale with the jobs inside, open seats at the top of their craft. */
export function Crew() {
  const view = useWeek();
  const { week, now, job, openJob, inAreas, areas, shown } = view;
  const { crew, error } = useShownCrew(view);
  const [personAt, setPersonAt] = useKept("person");
  const [seatAt, setSeatAt] = useKept("seat");
  const [whole, setWhole] = useKept("whole");
  const picked = pickedOf(personAt, seatAt, crew?.open_seats ?? []);
  const span = useSpan(shown, "Crew", picked?.kind === "day" ? picked.day : picked?.item.day);
  const spread = span.span < 7;
  const people = (crew?.people ?? []).filter((p) => inAreas(p.area));
  const seats = (crew?.open_seats ?? []).filter((s) => inAreas(s.area));
  const crafts = (crew?.crafts ?? []).filter(
    (c) => people.some((p) => p.craft === c.key) || seats.some((s) => s.craft === c.key),
  );
  const order = crafts.flatMap((c) => people.filter((p) => p.craft === c.key));
  const pick = (p: Picked) => {
    setPersonAt(p.kind === "day" ? `${p.person}~${p.day}` : "");
    setSeatAt(p.kind === "seat" ? seatName(p.item) : "");
    setWhole("");
    openJob(null);
  };
  const openWhole = (person: string) => {
    setWhole(person);
    setPersonAt("");
    setSeatAt("");
    openJob(null);
  };
  const follow = useFollow(".crew .picked");
  const go = (rows: number, days: number) => {
    follow();
    if (picked?.kind !== "day")
      return order[0] && pick({ kind: "day", person: order[0].key, day: span.days[0]! });
    const r = order.findIndex((p) => p.key === picked.person) + rows,
      c = shown.indexOf(picked.day) + days;
    if (!order[r] || !shown[c]) return;
    span.follow(shown[c]);
    pick({ kind: "day", person: order[r].key, day: shown[c] });
  };
  const at =
    picked?.kind === "seat"
      ? seats.findIndex(
          (s) =>
            s.job === picked.item.job &&
            s.task === picked.item.task &&
            s.seat === picked.item.seat &&
            s.portion === picked.item.portion,
        )
      : -1;
  const seat = seats[at];
  const nextSeat = () => {
    if (seats.length) pick({ kind: "seat", item: seats[(at + 1) % seats.length] });
  };
  useShortcuts([
    { keys: "ArrowUp", what: "Person above", group: "Crew", run: () => go(-1, 0) },
    { keys: "ArrowDown", what: "Person below", group: "Crew", run: () => go(1, 0) },
    { keys: "ArrowLeft", what: "Day before", group: "Crew", run: () => go(0, -1) },
    { keys: "ArrowRight", what: "Day after", group: "Crew", run: () => go(0, 1) },
    {
      keys: "Enter",
      what: "All days of the person as a list",
      group: "Crew",
      run: () => picked?.kind === "day" && openWhole(picked.person),
    },
    {
      keys: "t",
      what: "Next open seat",
      group: "Crew",
      run: () => {
        nextSeat();
        follow();
      },
    },
  ]);
  if (error)
    return (
      <div className="empty">
        <h2>The crews can not be shown</h2>
        <p>{error.message}</p>
      </div>
    );
  if (!crew)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  if (crew.people.length === 0)
    return (
      <div className="empty">
        <h2>There are no people yet</h2>
        <p>Bring in people, shifts and rosters under Files.</p>
      </div>
    );
  const days = span.days;
  const longest = Math.max(1, ...people.flatMap((p) => p.days.map(hoursLeft)));
  const of = areas.map((a) => `&areas=${encodeURIComponent(a)}`).join("");
  const clockOf = (day: string) =>
    dayClock(
      people.map((p) => p.days[shown.indexOf(day)]!),
      seats.filter((s) => s.day === day),
      day,
      now.timezone,
      longest,
    );
  const clocks = new Map(spread ? days.map((d) => [d, clockOf(d)]) : []);
  const allDays = whole ? crew.people.find((p) => p.key === whole) : undefined;
  const person = picked?.kind === "day" ? crew.people.find((p) => p.key === picked.person) : undefined;
  return (
    <div className="split">
      <div className="main">
        <div className="bar">
          <span className="grow">
            <span className="strong">{people.length} people</span>{" "}
            <span className="soft">
              · {seats.length} open seats · {hours(ofAll(people, (d) => Math.max(d.free, 0)))} free
            </span>
          </span>
          {seats.length > 0 && (
            <Button onClick={nextSeat}>
              Next open seat <kbd>T</kbd>
            </Button>
          )}
          <Download href={`/api/weeks/${week}/sheets.pdf?by=person&first=${shown[0]}${of}`}>Sheets</Download>
          <SpanChoice of={span} />
        </div>
        <div
          className="crew"
          role="grid"
          aria-label="People by day"
          style={{
            gridTemplateColumns:
              "158px " +
              (spread
                ? `repeat(${days.length}, minmax(0, 1fr))`
                : "repeat(5, minmax(0, 1fr)) repeat(2, minmax(0, .8fr))"),
          }}
        >
          <div className="gridrow" role="row">
            <div className="dayhead" role="columnheader">
              <span className="unseen">Person</span>
            </div>
            {days.map((d) => (
              <div key={d} className="dayhead" role="columnheader">
                <button
                  className="plain"
                  title={span.span === 1 ? "All seven days" : "This day alone"}
                  onClick={() => span.show(span.span === 1 ? 7 : 1, d)}
                >
                  {dayName(d)}
                </button>
                {clocks.has(d) && (
                  <div className="ruler" aria-hidden>
                    {hourMarks(clocks.get(d)!, d, now.timezone, span.span).map((m) => (
                      <span key={m.at} style={{ left: `${m.at}%` }}>
                        {m.label}
                      </span>
                    ))}
                  </div>
                )}
              </div>
            ))}
          </div>
          {crafts.map((craft) => {
            const own = people.filter((p) => p.craft === craft.key);
            const open = seats.filter((s) => s.craft === craft.key);
            const free = ofAll(own, (d) => d.free);
            return (
              <Fragment key={craft.key}>
                <div className="gridrow" role="row">
                  <div className="group" role="rowheader" aria-colspan={days.length + 1}>
                    {craft.name}{" "}
                    <span className="soft" style={{ fontWeight: 400 }}>
                      {free < 0
                        ? `▼ ${hours(-free)} short`
                        : `${hours(free)} free of ${hours(ofAll(own, (d) => d.hours))}`}
                    </span>
                  </div>
                </div>
                {open.length > 0 && (
                  <div className="gridrow" role="row">
                    <div className="who soft small" role="rowheader">
                      open seats
                    </div>
                    {days.map((d) => (
                      <div key={d} className="cell" role="gridcell">
                        {open
                          .filter((s) => s.day === d)
                          .map((s) => (
                            <button
                              key={s.job + s.task + s.portion + s.seat}
                              className={`plain openseat cut ${s === seat ? "picked" : ""}`}
                              title={`${s.job} ${s.title}: ${s.task_title}`}
                              onClick={() => pick({ kind: "seat", item: s })}
                            >
                              {s.start ? hourOf(s.start, s.day, now.timezone) : "open"} {s.title}
                            </button>
                          ))}
                      </div>
                    ))}
                  </div>
                )}
                {own.map((p) => (
                  <div key={p.key} className="gridrow" role="row">
                    <div className={`who ${whole === p.key ? "picked" : ""}`} role="rowheader">
                      <button
                        className="plain strong cut"
                        dir="auto"
                        style={{ textAlign: "left", display: "block", width: "100%" }}
                        title={`${p.name}: all days as a list`}
                        onClick={() => openWhole(p.key)}
                      >
                        {p.name}
                      </button>
                      <div className="small soft cut">
                        level {p.level}
                        {p.crafts.length > 1
                          ? ` · also ${p.crafts
                              .filter((c) => c.craft !== p.craft)
                              .map((c) => c.craft)
                              .join(", ")}`
                          : ""}{" "}
                        · {p.area}
                      </div>
                    </div>
                    {days.map((d) => {
                      const day = p.days[shown.indexOf(d)]!;
                      const own = clocks.get(d) ?? spanOf(day, longest);
                      return (
                        <Cell
                          key={d}
                          person={p}
                          day={day}
                          first={own.first}
                          length={own.length}
                          framed={!spread}
                          longest={longest}
                          width={Math.min(100, (100 * own.length) / longest)}
                          picked={picked?.kind === "day" && picked.person === p.key && picked.day === d}
                          pick={() => pick({ kind: "day", person: p.key, day: d })}
                        />
                      );
                    })}
                  </div>
                ))}
              </Fragment>
            );
          })}
        </div>
        <p className="legend soft small" style={{ paddingTop: 10 }}>
          <i className="must" style={{ marginLeft: 0 }} />
          must
          <i className="preventive" />
          preventive
          <i className="other" />
          other
          <i className="hatch" style={{ border: "1px solid var(--edge)" }} />
          away<span style={{ marginLeft: 14 }}>below each shift: its start, hours free</span>
          <span style={{ marginLeft: 14 }}>╌ open seat</span>
          <span className="brick" style={{ marginLeft: 14 }}>
            ▼ hours without anybody
          </span>
        </p>
      </div>
      <Side name="The seat or day">
        {job ? (
          <JobShown number={job} />
        ) : seat ? (
          <InWeekOf day={seat.day}>
            <SeatPanel
              key={`${seat.job}${seat.task}${seat.portion}${seat.seat}`}
              item={seat}
              done={nextSeat}
            />
          </InWeekOf>
        ) : person && picked?.kind === "day" && shown.includes(picked.day) ? (
          <InWeekOf day={picked.day}>
            <PersonDayPanel
              key={picked.person + picked.day}
              person={person}
              day={person.days[shown.indexOf(picked.day)]!}
              openWeek={() => openWhole(person.key)}
            />
          </InWeekOf>
        ) : allDays ? (
          <PersonWeekPanel
            key={allDays.key}
            person={allDays}
            openDay={(day) => pick({ kind: "day", person: allDays.key, day })}
          />
        ) : (
          <p className="soft">
            Pick a person's day, or an open seat (T). Arrows move; D shows one day alone.
          </p>
        )}
      </Side>
    </div>
  );
}

const seatName = (s: Item) => `${s.job}~${s.task}~${s.portion}~${s.seat}`;

/** What the address says is picked: a person's day, or an open seat that is still there. */
type Day = Shapes["PersonRow"]["days"][number];

/** The sum of a figure over all days of these people. */
const ofAll = (people: Shapes["PersonRow"][], figure: (d: Day) => number) =>
  people.reduce((sum, p) => sum + p.days.reduce((s, d) => s + figure(d), 0), 0);

function pickedOf(personAt: string, seatAt: string, seats: Item[]): Picked | null {
  const item = seatAt ? seats.find((s) => seatName(s) === seatAt) : undefined;
  if (item) return { kind: "seat", item };
  const [person, day] = personAt.split("~");
  return person && day ? { kind: "day", person, day } : null;
}
