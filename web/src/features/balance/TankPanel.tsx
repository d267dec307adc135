import { Button, Checkbox, Dropdown } from "antd";
import { useState } from "react";

import type { Key, Shapes } from "../../api/client";
import { useTank } from "../../api/queries";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Priority } from "../gather/Marks";
import { at, count, dayName, hours } from "../../kit/words";
import { useWeek } from "../week/context";
import { nextWeek } from "../week/nextWeek";
import { written, type Carried } from "./carried";

/** A tank's jobs; what brings it back inside; moving one or many. */
export function TankPanel({
  craft,
  day,
  carry,
  elsewhere,
}: {
  craft: string;
  day: string;
  carry: (carried: Carried, day: string) => Promise<boolean>;
  /** Days on the board that belong to the week beside this one. */
  elsewhere: string[];
}) {
  const { week, now, edit, can, openJob, openGive, craftName, areas } = useWeek();
  const detail = useTank(week, craft, day, areas).data;
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [row, setRow] = useState(0);
  const jobs = detail?.jobs ?? [];
  const here = detail && detail.tank.row === craft && detail.tank.day === day;
  const picked = jobs.filter((j) => chosen.has(j.job));
  const meant = picked.length ? picked : jobs.slice(row, row + 1);
  const keys = meant.flatMap((j) => j.keys as Key[]);
  const names = meant.map((j) => j.job);
  const mayEdit = can("edit") && meant.length > 0;
  const move = (to: string, whole = true) =>
    mayEdit && void edit({ kind: "move", keys, day: to, whole }).then((ok) => ok && setChosen(new Set()));
  const out = () =>
    mayEdit && void edit({ kind: "take out", jobs: names }).then((ok) => ok && setChosen(new Set()));
  const later = (to: string | null) =>
    mayEdit &&
    void edit({ kind: "next week", jobs: names, day: to }).then((ok) => ok && setChosen(new Set()));
  const pin = () => mayEdit && void edit({ kind: "pin", keys, on: !meant.every((j) => j.pinned) });
  const give = () => mayEdit && openGive({ jobs: names, keys });
  const flip = (job: string) =>
    setChosen((s) => {
      const t = new Set(s);
      if (!t.delete(job)) t.add(job);
      return t;
    });
  const follow = useFollow(".job.at");
  const walk = (by: number) => {
    setRow(Math.min(Math.max(row + by, 0), jobs.length - 1));
    follow();
  };
  useShortcuts([
    { keys: "j", what: "Next job of the tank", group: "Balance", run: () => walk(1) },
    { keys: "k", what: "Job before in the tank", group: "Balance", run: () => walk(-1) },
    { keys: "x", what: "Choose the job", group: "Balance", run: () => jobs[row] && flip(jobs[row].job) },
    { keys: "Enter", what: "Open the job", group: "Balance", run: () => jobs[row] && openJob(jobs[row].job) },
    { keys: "o", what: "Take out", group: "Balance", run: out },
    { keys: "n", what: "Into next week, where it fits first", group: "Balance", run: () => later(null) },
    { keys: "p", what: "Pin or unpin", group: "Balance", run: pin },
    { keys: "g", what: "Give to a person or crew", group: "Balance", run: give },
    ...now.days.map((d, n) => ({
      keys: `Shift+${"qwertyu"[n]}`,
      what: `Move to ${dayName(d)}`,
      group: "Balance",
      run: () => move(d),
    })),
  ]);
  if (!detail || !here) return <p className="soft">Loading …</p>;
  const t = detail.tank;
  return (
    <>
      <section>
        <h1>
          {craftName(craft)}, {dayName(day)}
        </h1>
        <p className={t.mood === "over" ? "brick" : t.mood === "tight" ? "ochre" : "soft"}>
          {count(t.jobs, "job")} · {hours(t.load)} of {hours(t.available)}
          {t.mood === "over" && ` · ▲ ${hours(-t.free)} over`}
          {t.mood === "tight" && ` · ◆ into the ${hours(t.held_back)} held back`}
          {t.mood === "fits" && ` · ${hours(t.free)} free`}
        </p>
        <p className="soft small">
          {count(t.people, "person", "people")}
          {t.overtime > 0 && ` · ${hours(t.overtime)} of overtime offered`}
        </p>
      </section>
      {detail.relief.length > 0 && (
        <section className="box">
          <h2>Could go elsewhere</h2>
          {detail.relief.map((r) => (
            <div key={r.job} className="row item">
              <span className="grow">
                {r.job} to {dayName(r.day)}, {hours(r.hours)}
              </span>
              {can("edit") && (
                <Button
                  size="small"
                  type="link"
                  onClick={() => edit({ kind: "move", keys: r.keys as Key[], day: r.day, whole: true })}
                >
                  Move
                </Button>
              )}
            </div>
          ))}
        </section>
      )}
      <section>
        <div className="row wrap tankbar">
          <h2 className="grow">{picked.length ? `${picked.length} chosen` : "Jobs"}</h2>
          {can("edit") && jobs.length > 0 && (
            <Actions
              now={now}
              move={move}
              out={out}
              later={later}
              beside={(to) =>
                mayEdit &&
                void carry({ week, jobs: names, keys }, to).then((ok) => ok && setChosen(new Set()))
              }
              elsewhere={elsewhere}
              pin={pin}
              give={give}
              allPinned={meant.every((j) => j.pinned)}
              others={meant.some((j) => j.others > 0)}
              day={day}
            />
          )}
        </div>
        {jobs.length === 0 && (
          <p className="soft">Nothing placed here. Build (B), or put jobs in from Gather.</p>
        )}
        {jobs.map((j, n) => (
          <div
            key={j.job}
            className={`job ${n === row ? "at" : ""} ${n === row || chosen.has(j.job) ? "chosen" : ""}`}
            tabIndex={-1}
            draggable={can("edit")}
            onClick={() => setRow(n)}
            onDragStart={(e) =>
              e.dataTransfer.setData(
                "text/plain",
                written(
                  chosen.has(j.job)
                    ? { week, jobs: picked.map((p) => p.job), keys: picked.flatMap((p) => p.keys as Key[]) }
                    : { week, jobs: [j.job], keys: j.keys as Key[] },
                ),
              )
            }
          >
            <Checkbox
              checked={chosen.has(j.job)}
              aria-label={`Choose ${j.job}`}
              onChange={() => flip(j.job)}
            />
            <Priority value={j.priority} must={j.must} />
            <button
              className="plain"
              style={{ minWidth: 0 }}
              onClick={() => openJob(j.job)}
              title={`${j.title} · ${j.asset}`}
            >
              <span className="strong cut">{j.title}</span>
              <span className="soft small cut">
                {j.job} · {j.start ? at(j.start, day, now.timezone) : "time open"} · {j.asset}
                {j.pinned ? " · pinned" : ""}
                {j.gates_open ? "" : " · ◆ gate shut"}
              </span>
            </button>
            <span className="strong">{hours(j.hours)}</span>
          </div>
        ))}
      </section>
    </>
  );
}

interface ActionsProps {
  now: Shapes["Overview"];
  move: (day: string, whole?: boolean) => void;
  out: () => void;
  /** Into next week: on a day of it, or where it fits first. */
  later: (day: string | null) => void;
  /** To a day of the board that lies in the week beside this one. */
  beside: (day: string) => void;
  elsewhere: string[];
  pin: () => void;
  give: () => void;
  allPinned: boolean;
  /** Whether the jobs have tasks outside of the tank, which go along unless they are told to stay. */
  others: boolean;
  day: string;
}

function Actions({
  now,
  move,
  out,
  later,
  beside,
  elsewhere,
  pin,
  give,
  allPinned,
  others,
  day,
}: ActionsProps) {
  const days = now.days.filter((d) => d !== day);
  const alone = {
    key: "alone",
    label: "Only these tasks",
    children: days.map((d) => ({ key: `alone ${d}`, label: dayName(d) })),
  };
  const items = [
    ...days.map((d) => ({ key: d, label: dayName(d) })),
    ...elsewhere.map((d) => ({ key: `beside ${d}`, label: `${dayName(d)} ›` })),
    ...(others ? [alone] : []),
    { type: "divider" as const },
    { key: "next", label: "Next week", children: nextWeek(now) },
  ];
  const go = (key: string) => {
    if (key.startsWith("next ")) later(key.slice(5) || null);
    else if (key.startsWith("beside ")) beside(key.slice(7));
    else if (key.startsWith("alone ")) move(key.slice(6), false);
    else move(key);
  };
  return (
    <>
      <Dropdown trigger={["click"]} autoFocus menu={{ items, onClick: ({ key }) => go(key) }}>
        <Button size="small">Move to ▾</Button>
      </Dropdown>
      <Button size="small" onClick={out}>
        Take out
      </Button>
      <Button size="small" onClick={pin}>
        {allPinned ? "Unpin" : "Pin"}
      </Button>
      <Button size="small" onClick={give}>
        Give <kbd>G</kbd>
      </Button>
    </>
  );
}
