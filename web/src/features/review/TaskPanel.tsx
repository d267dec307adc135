import { Button, Select } from "antd";
import { useState } from "react";

import type { Key, Shapes } from "../../api/client";
import { useCandidates } from "../../api/queries";
import { Hours } from "../../kit/When";
import { dayName, hours, localDay, when } from "../../kit/words";
import { Change } from "../crew/Change";
import { useWeek } from "../week/context";
import type { Row } from "./taskCell";

/** How one task went: hours so far and left, who did it, why it was not done; and who sits on its seats. */
export function TaskPanel({ row, review, close }: { row: Row; review: Shapes["Review"]; close: () => void }) {
  const { now, can, report, openJob } = useWeek();
  const [spent, setSpent] = useState<number | null>(row.hours_spent || null);
  const [left, setLeft] = useState<number | null>(row.hours_left);
  const seated = [...new Set(row.seats.flatMap((s) => (s.person ? [s.person] : [])))];
  const [who, setWho] = useState<string[] | null>(null);
  const [why, setWhy] = useState(row.reason ?? "");
  const say = (to: Shapes["ProgressForm"]["to"]) =>
    void report({
      tasks: [[row.job, row.task]],
      to,
      hours_spent: spent,
      hours_left: to === "done" ? null : left,
      reason: to === "not done" ? why : null,
      who: to === "done" ? (who ?? (seated.length ? seated : null)) : null,
    });
  return (
    <>
      <section>
        <Button size="small" onClick={close} style={{ marginBottom: 10 }}>
          ‹ Review
        </Button>
        <h1>{row.title}</h1>
        <p className="soft">
          {row.job} task {row.task} {row.what} · {row.asset_name}
        </p>
        <p>
          {when(row.day, row.start, row.end, now.timezone)} · {hours(row.hours_planned)} planned
        </p>
        {row.published_day && (
          <p className="soft">
            Promised: {when(row.published_day, row.published_start, row.published_end, now.timezone)}
          </p>
        )}
        {row.ended && (
          <p className="verdigris">
            Done on {dayName(localDay(row.ended, now.timezone))}
            {row.done_by.length > 0 && ` by ${row.done_by.join(", ")}`}
          </p>
        )}
        {row.reason && <p className="brick">✕ not done: {row.reason}</p>}
        <Button size="small" type="link" style={{ padding: 0 }} onClick={() => openJob(row.job)}>
          Open the job
        </Button>
      </section>
      {can("report") && (
        <section className="stack">
          <h2>How it went</h2>
          <div className="row">
            <Hours
              label="Hours so far"
              empty
              placeholder={String(row.hours_spent)}
              value={spent === null ? "" : String(spent)}
              change={(v) => setSpent(v === "" ? null : Number(v))}
            />
            <Hours
              label="Hours left"
              empty
              placeholder="as planned"
              value={left === null ? "" : String(left)}
              change={(v) => setLeft(v === "" ? null : Number(v))}
            />
          </div>
          <label>
            Who did it
            <Select
              mode="multiple"
              aria-label="Who did it"
              value={who ?? seated}
              onChange={setWho}
              options={review.people.map((p) => ({ value: p.key, label: p.name }))}
              showSearch={{ optionFilterProp: "label" }}
              style={{ width: "100%" }}
            />
          </label>
          <div className="row">
            <Button size="small" type="primary" onClick={() => say("done")}>
              Done
            </Button>
            <Button size="small" onClick={() => say("under way")}>
              Under way
            </Button>
            <Button size="small" onClick={() => say("to do")}>
              Not begun
            </Button>
          </div>
          <div className="row">
            <select
              className="plainselect grow"
              aria-label="Why it was not done"
              value={why}
              onChange={(e) => setWhy(e.target.value)}
            >
              <option value="">why not …</option>
              {review.reasons.map((r) => (
                <option key={r}>{r}</option>
              ))}
            </select>
            <Button size="small" danger disabled={!why} onClick={() => say("not done")}>
              Not done
            </Button>
          </div>
        </section>
      )}
      <section>
        <h2>Who is on it</h2>
        {row.seats.map((s) => (
          <SeatLine key={`${s.portion} ${s.seat}`} row={row} seat={s} />
        ))}
      </section>
    </>
  );
}

function SeatLine({ row, seat }: { row: Row; seat: Shapes["ReviewSeat"] }) {
  const { now, can } = useWeek();
  const [open, setOpen] = useState(false);
  const may = can("edit") || (can("swap") && now.status === "published" && row.day === now.today);
  return (
    <div className="item">
      <div className="row">
        <span className="grow" dir="auto">
          {seat.name ?? <span className="ochre">◆ open</span>}{" "}
          <span className="soft small">{seat.craft}</span>
        </span>
        {may && row.state !== "done" && (
          <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
            {seat.person ? "Swap" : "Give"}
          </Button>
        )}
      </div>
      {open && <Others row={row} seat={seat} done={() => setOpen(false)} />}
    </div>
  );
}

function Others({ row, seat, done }: { row: Row; seat: Shapes["ReviewSeat"]; done: () => void }) {
  const { week, edit } = useWeek();
  const key: Key = [row.job, row.task, seat.portion];
  const found = useCandidates(week, key, seat.seat);
  const able = (found.data ?? []).filter((p) => p.fits && p.person !== seat.person).slice(0, 8);
  const busy = (found.data ?? []).filter((p) => !p.fits && p.exchange).slice(0, 8);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (found.data && able.length + busy.length === 0)
    return <p className="soft">Nobody else with this craft is free then, and nobody can change places.</p>;
  return (
    <>
      {able.map((p) => (
        <div key={p.person} className="row" style={{ padding: "3px 0 3px 10px" }}>
          <span className="grow">
            <span dir="auto">{p.name}</span> <span className="small soft">{p.why.join(" · ")}</span>
          </span>
          <Button
            size="small"
            onClick={() =>
              void edit({ kind: "give", key, seat: seat.seat, person: p.person }).then((ok) => ok && done())
            }
          >
            Take {p.name.split(" ")[0]}
          </Button>
        </div>
      ))}
      {busy.map(
        (p) =>
          p.exchange && (
            <div key={p.person} style={{ padding: "3px 0 3px 10px" }}>
              <div className="row">
                <span className="grow" dir="auto">
                  {p.name}
                </span>
                <Button
                  size="small"
                  onClick={() =>
                    void edit({ kind: "exchange", key, seat: seat.seat, person: p.person }).then(
                      (ok) => ok && done(),
                    )
                  }
                >
                  Change with {p.name.split(" ")[0]}
                </Button>
              </div>
              <Change swap={p.exchange} />
            </div>
          ),
      )}
    </>
  );
}
