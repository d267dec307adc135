import { Button, Spin } from "antd";
import { Fragment } from "react";

import type { Shapes } from "../../api/client";
import { useCrew } from "../../api/queries";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { at as hourOf, dayName, hours } from "../../kit/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { hoursLeft } from "./absences";
import { Cell, spanOf } from "./Cell";
import { dayClock, hourMarks } from "./dayClock";
import { PersonDayPanel } from "./PersonDayPanel";
import { SeatPanel } from "./SeatPanel";

type Item = Shapes["SeatItem"];
export type Picked = { kind: "day"; person: string; day: string } | { kind: "seat"; item: Item };

/** Who does it: people by day, shifts to scale with the jobs inside, open seats at the top of their craft. */
export function Crew() {
  const { week, now, job, openJob, inAreas } = useWeek();
  const crew = useCrew(week);
  const [personAt, setPersonAt] = useKept("person");
  const [seatAt, setSeatAt] = useKept("seat");
  const [zoomAt, setZoomAt] = useKept("zoom");
  const zoom = now.days.includes(zoomAt) ? zoomAt : null;
  const setZoom = (day: string | null) => setZoomAt(day ?? "");
  const picked = pickedOf(personAt, seatAt, crew.data?.open_seats ?? []);
  const people = (crew.data?.people ?? []).filter((p) => inAreas(p.area));
  const seats = (crew.data?.open_seats ?? []).filter((s) => inAreas(s.area));
  const crafts = (crew.data?.crafts ?? []).filter(
    (c) => people.some((p) => p.craft === c.key) || seats.some((s) => s.craft === c.key),
  );
  const order = crafts.flatMap((c) => people.filter((p) => p.craft === c.key));
  const pick = (p: Picked) => {
    setPersonAt(p.kind === "day" ? `${p.person}~${p.day}` : "");
    setSeatAt(p.kind === "seat" ? seatName(p.item) : "");
    openJob(null);
  };
  const follow = useFollow(".crew .picked");
  const go = (rows: number, days: number) => {
    follow();
    if (picked?.kind !== "day")
      return order[0] && pick({ kind: "day", person: order[0].key, day: now.days[0] });
    const r = order.findIndex((p) => p.key === picked.person) + rows,
      c = now.days.indexOf(picked.day) + days;
    if (order[r] && now.days[c]) pick({ kind: "day", person: order[r].key, day: now.days[c] });
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
      keys: "t",
      what: "Next open seat",
      group: "Crew",
      run: () => {
        nextSeat();
        follow();
      },
    },
    {
      keys: "d",
      what: "Zoom into the day, or out",
      group: "Crew",
      run: () => setZoom(zoom ? null : picked?.kind === "day" ? picked.day : now.days[0]),
    },
  ]);
  if (crew.error)
    return (
      <div className="empty">
        <h2>The crews can not be shown</h2>
        <p>{crew.error.message}</p>
      </div>
    );
  if (!crew.data)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  if (crew.data.people.length === 0)
    return (
      <div className="empty">
        <h2>There are no people yet</h2>
        <p>Bring in people, shifts and rosters under Files.</p>
      </div>
    );
  const days = zoom ? [zoom] : now.days;
  const longest = Math.max(1, ...people.flatMap((p) => p.days.map(hoursLeft)));
  const one = zoom
    ? dayClock(
        people.map((p) => p.days[now.days.indexOf(zoom)]!),
        seats.filter((s) => s.day === zoom),
        zoom,
        now.timezone,
        longest,
      )
    : null;
  const person = picked?.kind === "day" ? crew.data.people.find((p) => p.key === picked.person) : undefined;
  return (
    <div className="split">
      <div className="main">
        <div className="bar">
          <span className="grow">
            <span className="strong">{people.length} people</span>{" "}
            <span className="soft">
              · {seats.length} open seats ·{" "}
              {hours(people.reduce((sum, p) => sum + p.days.reduce((s, d) => s + Math.max(d.free, 0), 0), 0))}{" "}
              free
            </span>
          </span>
          {seats.length > 0 && (
            <Button onClick={nextSeat}>
              Next open seat <kbd>T</kbd>
            </Button>
          )}
          {zoom && (
            <Button onClick={() => setZoom(null)}>
              Whole week <kbd>D</kbd>
            </Button>
          )}
        </div>
        <div
          className="crew"
          role="grid"
          aria-label="People by day"
          style={{
            gridTemplateColumns: `158px ${zoom ? "minmax(0,1fr)" : "repeat(5, minmax(0, 1fr)) repeat(2, minmax(0, .8fr))"}`,
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
                  title={zoom ? "The whole week" : "Zoom into this day"}
                  onClick={() => setZoom(zoom ? null : d)}
                >
                  {dayName(d)}
                </button>
                {one && (
                  <div className="ruler" aria-hidden>
                    {hourMarks(one.first, one.length, d, now.timezone).map((m) => (
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
            const free = own.reduce((sum, p) => sum + p.days.reduce((s, d) => s + d.free, 0), 0);
            return (
              <Fragment key={craft.key}>
                <div className="gridrow" role="row">
                  <div className="group" role="rowheader" aria-colspan={days.length + 1}>
                    {craft.name}{" "}
                    <span className="soft" style={{ fontWeight: 400 }}>
                      {free < 0
                        ? `▼ ${hours(-free)} short`
                        : `${hours(free)} free of ${hours(own.reduce((sum, p) => sum + p.days.reduce((s, d) => s + d.hours, 0), 0))}`}
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
                              className={`plain openseat cut ${picked?.kind === "seat" && picked.item.job === s.job && picked.item.task === s.task && picked.item.seat === s.seat ? "picked" : ""}`}
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
                    <div className="who" role="rowheader">
                      <div className="strong cut" dir="auto" style={{ textAlign: "left" }} title={p.name}>
                        {p.name}
                      </div>
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
                      const day = p.days[now.days.indexOf(d)]!;
                      const own = one ?? spanOf(day, longest);
                      return (
                        <Cell
                          key={d}
                          person={p}
                          day={day}
                          first={own.first}
                          length={own.length}
                          framed={!one}
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
          <JobPanel number={job} />
        ) : seat ? (
          <SeatPanel key={`${seat.job}${seat.task}${seat.portion}${seat.seat}`} item={seat} done={nextSeat} />
        ) : person && picked?.kind === "day" ? (
          <PersonDayPanel
            key={picked.person + picked.day}
            person={person}
            day={person.days[now.days.indexOf(picked.day)]}
          />
        ) : (
          <p className="soft">Pick a person's day, or an open seat (T). Arrows move; D zooms into a day.</p>
        )}
      </Side>
    </div>
  );
}

const seatName = (s: Item) => `${s.job}~${s.task}~${s.portion}~${s.seat}`;

/** What the address says is picked: a person's day, or an open seat that is still there. */
function pickedOf(personAt: string, seatAt: string, seats: Item[]): Picked | null {
  const item = seatAt ? seats.find((s) => seatName(s) === seatAt) : undefined;
  if (item) return { kind: "seat", item };
  const [person, day] = personAt.split("~");
  return person && day ? { kind: "day", person, day } : null;
}
