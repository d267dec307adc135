import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useShortcuts } from "../../app/keys";
import { Clock, Day } from "../../kit/When";
import { clock, dayName, from } from "../../kit/words";
import { useWeek } from "../week/context";

type What = "absence" | "overtime" | "extra shift" | "lend";
const WHATS: [What, string][] = [
  ["absence", "Away for a part of the day"],
  ["overtime", "Overtime"],
  ["extra shift", "Extra shift"],
  ["lend", "Lent to another area"],
];

/** Hours of one person's day that the roster does not know: what is there, and adding more. */
export function HoursByHand({ person, day }: { person: Shapes["PersonRow"]; day: Shapes["PersonDay"] }) {
  const { now, edit, can } = useWeek();
  const [open, setOpen] = useState(false);
  const mayEdit = can("edit");
  useShortcuts(
    mayEdit
      ? [{ keys: "h", what: "Hours of this day by hand", group: "Crew", run: () => setOpen(!open) }]
      : [],
  );
  if (!mayEdit && day.by_hand.length === 0) return null;
  return (
    <section>
      {day.by_hand.map((h) => (
        <div key={h.what + h.id} className="row item">
          <span className="grow">
            {h.what === "loan" ? (
              <>
                lent to {h.note}, {dayName(h.start)} to {dayName(h.end)}
              </>
            ) : (
              <>
                {h.what === "absence" ? (h.note === "away" ? "away" : `away: ${h.note}`) : h.what}{" "}
                <span className="soft">{from(h.start, h.end, day.day, now.timezone)}</span>
                {h.stand_in && (
                  <span className="secondline soft small" dir="auto">
                    {h.stand_in} stands in
                  </span>
                )}
              </>
            )}
          </span>
          {mayEdit && (
            <Button
              size="small"
              onClick={() =>
                void edit({ kind: "take back", person: person.key, day: day.day, what: h.what, start: h.id })
              }
            >
              Take back
            </Button>
          )}
        </div>
      ))}
      {mayEdit && !open && (
        <Button size="small" style={{ marginTop: 6 }} onClick={() => setOpen(true)}>
          Hours by hand <kbd>H</kbd>
        </Button>
      )}
      {open && <Form person={person} day={day} close={() => setOpen(false)} />}
    </section>
  );
}

function Form({
  person,
  day,
  close,
}: {
  person: Shapes["PersonRow"];
  day: Shapes["PersonDay"];
  close: () => void;
}) {
  const { now, edit } = useWeek();
  const [what, setWhat] = useState<What>(day.shifts.length ? "absence" : "extra shift");
  const first = day.shifts[0],
    last = day.shifts[day.shifts.length - 1];
  const [start, setStart] = useState(first ? clock(first.start, now.timezone) : "07:00");
  const [end, setEnd] = useState(last ? clock(last.end, now.timezone) : "15:00");
  const [reason, setReason] = useState("training");
  const others = now.areas.filter((a) => a.key !== person.area);
  const [area, setArea] = useState(others[0]?.key ?? "");
  const [until, setUntil] = useState(day.day);
  const choose = (next: What) => {
    setWhat(next);
    if (next === "overtime" && last) {
      setStart(clock(last.end, now.timezone));
      setEnd(later(clock(last.end, now.timezone), 2));
    }
  };
  const send = async () => {
    const who = { person: person.key, day: day.day };
    const done =
      what === "lend"
        ? await edit({ kind: "lend", person: person.key, area, first: day.day, last: until })
        : what === "absence"
          ? await edit({ kind: "absence", ...who, reason, start, end })
          : await edit({ kind: what, ...who, start, end });
    if (done) close();
  };
  return (
    <form
      className="stack"
      aria-label="Hours by hand"
      style={{ marginTop: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") {
          e.stopPropagation();
          close();
        }
      }}
    >
      <label>
        What
        <select
          autoFocus
          className="plainselect"
          value={what}
          onChange={(e) => choose(e.target.value as What)}
        >
          {WHATS.filter(([w]) => w !== "absence" || first).map(([w, label]) => (
            <option key={w} value={w}>
              {label}
            </option>
          ))}
        </select>
      </label>
      {what === "lend" ? (
        <div className="row">
          <label className="grow">
            Area
            <select className="plainselect" value={area} onChange={(e) => setArea(e.target.value)}>
              {others.map((a) => (
                <option key={a.key} value={a.key}>
                  {a.name}
                </option>
              ))}
            </select>
          </label>
          <Day label="Last day" value={until} least={day.day} change={setUntil} />
        </div>
      ) : (
        <div className="row">
          <Clock label="From" value={start} change={setStart} />
          <Clock label="To" value={end} change={setEnd} />
          {what === "absence" && (
            <label className="grow">
              Reason
              <select className="plainselect" value={reason} onChange={(e) => setReason(e.target.value)}>
                {["sick", "leave", "training", "other"].map((r) => (
                  <option key={r}>{r}</option>
                ))}
              </select>
            </label>
          )}
        </div>
      )}
      <div className="row">
        <Button size="small" type="primary" htmlType="submit">
          Write it down
        </Button>
        <Button size="small" onClick={close}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

/** A clock so many hours later, over midnight. */
function later(time: string, by: number): string {
  return `${String((Number(time.slice(0, 2)) + by) % 24).padStart(2, "0")}${time.slice(2)}`;
}
