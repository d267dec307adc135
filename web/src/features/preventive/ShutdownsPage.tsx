import { App, Button, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useKept } from "../../app/address";
import { useShortcuts } from "../../app/keys";
import { useTitle } from "../../app/title";
import { useRefusal } from "../../kit/useRefusal";
import { count, dayName, hours, percent } from "../../kit/words";
import { PreventiveTabs } from "./PreventiveTabs";
import { RaisedPanel } from "./RaisedPanel";
import { NEW_SHUTDOWN, ShutdownPanel, type ShutdownStart } from "./ShutdownPanel";
import { Timeline } from "./Timeline";
import { useMeterWrites, useShutdown, useShutdowns } from "./useMeters";

/**
 * Shutdowns with what hangs on them: when each job is planned, required, begun and done; hours against those
 * that there are.
 */
export function ShutdownsPage({ me }: { me: Shapes["Me"] }) {
  useTitle("Shutdowns");
  const list = useShutdowns();
  const [kept, setKept] = useKept("open");
  const [form, setForm] = useState<ShutdownStart | null>(null);
  const plans = me.rights.includes("plan");
  const shown = kept || list.data?.[0]?.shutdown || null;
  useShortcuts(
    plans
      ? [{ keys: "n", what: "A new shutdown", group: "Shutdowns", run: () => setForm(NEW_SHUTDOWN) }]
      : [],
  );
  return (
    <main className="lists">
      <PreventiveTabs />
      <div className="main shutdown">
        <div className="bar wrap">
          {list.data?.map((s) => (
            <Button
              key={s.shutdown}
              type={s.shutdown === shown ? "primary" : "default"}
              aria-pressed={s.shutdown === shown}
              onClick={() => setKept(s.shutdown)}
            >
              {s.name}
            </Button>
          ))}
          {plans && (
            <Button onClick={() => setForm(NEW_SHUTDOWN)}>
              New shutdown <kbd>N</kbd>
            </Button>
          )}
        </div>
        {list.error && <p className="brick">{list.error.message}</p>}
        {list.data?.length === 0 && (
          <div className="empty">
            <h2>No shutdown yet</h2>
            <p>Make one: WOs and preventive plans hang on it, and move with it if you say so.</p>
          </div>
        )}
        {shown && <Shown key={shown} shutdown={shown} me={me} change={plans ? setForm : undefined} />}
      </div>
      {form && (
        <ShutdownPanel
          key={form.cells.shutdown}
          start={form}
          zone={me.timezone}
          close={(made) => {
            setForm(null);
            if (made !== undefined) setKept(made);
          }}
        />
      )}
    </main>
  );
}

function Shown({
  shutdown,
  me,
  change,
}: {
  shutdown: string;
  me: Shapes["Me"];
  change?: (start: ShutdownStart) => void;
}) {
  const found = useShutdown(shutdown);
  const [raised, setRaised] = useState<Shapes["Raised"] | null>(null);
  const { raiseWith } = useMeterWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const s = found.data;
  const done = s.jobs.filter((j) => j.state === "done" || j.state === "closed").length;
  const raise = async () => {
    try {
      setRaised(await raiseWith(shutdown));
      void message.success("What hangs on it is raised");
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <>
      <div className="row wrap shutdownhead">
        <h1 dir="auto" className="grow">
          {s.shutdown.name}
          <span className="secondline soft small light">
            {dayName(s.shutdown.first!)} to {dayName(s.shutdown.last!)} {s.shutdown.last!.slice(0, 4)}
            {s.shutdown.series && ` · series ${s.shutdown.series}`} ·{" "}
            {s.shutdown.moves_work === "yes" ? "its WOs move with it" : "its WOs keep their dates"}
          </span>
        </h1>
        <p>
          {done} of {count(s.jobs.length, "WO")} done · longest chain {hours(s.path)}
        </p>
        {change && (
          <Button onClick={() => change({ cells: s.shutdown, revision: s.revision })}>Change or move</Button>
        )}
      </div>
      {s.services.length > 0 && (
        <p className="row">
          <span className="grow ochre">
            ◆ {count(s.services.length, "service")} {s.services.length === 1 ? "falls" : "fall"} due with it
            and {s.services.length === 1 ? "is" : "are"} not raised:{" "}
            {[...new Set(s.services.map((x) => x.title))].slice(0, 3).join(", ")}
          </span>
          {change && (
            <Button onClick={() => void raise()}>Raise {s.services.length === 1 ? "it" : "them"}</Button>
          )}
        </p>
      )}
      <Crafts crafts={s.crafts} />
      <Timeline shutdown={s} me={me} />
      {raised && <RaisedPanel raised={raised} week={me.week} close={() => setRaised(null)} />}
    </>
  );
}

/** Hours of each craft against those that there are: over all its days, and day by day. */
function Crafts({ crafts }: { crafts: Shapes["ShutdownCraft"][] }) {
  if (!crafts.length) return null;
  return (
    <section aria-label="Hours by craft" className="shutcrafts">
      {crafts.map((c) => {
        const most = Math.max(...c.days.map((d) => Math.max(d.there, d.planned)), 1e-9);
        const over = c.needed > c.there;
        return (
          <div key={c.craft} className="row">
            <span className="craftname">{c.name}</span>
            <span className={over ? "brick" : "soft"} style={{ width: 190 }}>
              {over && "▲ "}
              {hours(c.needed)} of {hours(c.there)}
              {c.there > 0 && ` · ${percent(c.needed / c.there, 0)}`}
            </span>
            <svg
              width={c.days.length * 9}
              height={22}
              role="img"
              aria-label={`${c.name}, hours placed day by day`}
            >
              {c.days.map((d, n) => (
                <g key={d.day}>
                  <title>{`${dayName(d.day)}: ${hours(d.planned)} placed of ${hours(d.there)}`}</title>
                  <rect
                    x={n * 9}
                    width={7}
                    y={21 - (20 * d.there) / most}
                    height={(20 * d.there) / most}
                    className="there"
                  />
                  <rect
                    x={n * 9}
                    width={7}
                    y={21 - (20 * d.planned) / most}
                    height={(20 * d.planned) / most}
                    className="placed"
                  />
                </g>
              ))}
            </svg>
          </div>
        );
      })}
    </section>
  );
}
