import type { Key } from "../../api/client";
import { useTanks } from "../../api/queries";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { dayName, percent } from "../../kit/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { Tank } from "./Tank";
import { TankPanel } from "./TankPanel";
import { LooseEndsPanel, Workable, type Part } from "./Workable";

/** What fits: a board of craft x day tanks. */
export function Balance() {
  const { week, now, edit, can, job, openJob, areas } = useWeek();
  const own = useTanks(week, areas);
  const all = (areas.length ? own.data : now.tanks) ?? now.tanks;
  const over = all.find((t) => t.mood === "over") ?? all.find((t) => t.mood === "tight");
  const [tank, setTank] = useKept("tank");
  const [ends, setEnds] = useKept("ends");
  const part = (ends || null) as Part | null;
  const [craftAt, dayAt] = tank ? tank.split("~") : [over?.craft, over?.day];
  const row = Math.max(
      0,
      now.crafts.findIndex((c) => c.key === craftAt),
    ),
    column = Math.max(0, now.days.indexOf(dayAt ?? ""));
  const go = (r: number, c: number) => {
    const craft = now.crafts[Math.min(Math.max(r, 0), now.crafts.length - 1)]!;
    setTank(`${craft.key}~${now.days[Math.min(Math.max(c, 0), 6)]}`);
    setEnds("");
    openJob(null);
  };
  const follow = useFollow(".tank.picked");
  const walk = (rows: number, days: number) => {
    go(row + rows, column + days);
    follow();
  };
  useShortcuts([
    { keys: "ArrowUp", what: "Craft above", group: "Balance", run: () => walk(-1, 0) },
    { keys: "ArrowDown", what: "Craft below", group: "Balance", run: () => walk(1, 0) },
    { keys: "ArrowLeft", what: "Day before", group: "Balance", run: () => walk(0, -1) },
    { keys: "ArrowRight", what: "Day after", group: "Balance", run: () => walk(0, 1) },
  ]);
  if (now.crafts.length === 0)
    return (
      <div className="empty">
        <h2>There are no crafts yet</h2>
        <p>Bring in crafts, people and shifts under Files; the tanks follow.</p>
      </div>
    );
  const drop = (day: string) => (data: string) => {
    if (can("edit") && data.startsWith("["))
      void edit({ kind: "move", keys: JSON.parse(data) as Key[], day, whole: true });
  };
  return (
    <div className="split">
      <div className="main">
        <Workable
          open={(p) => {
            setEnds(p);
            openJob(null);
          }}
        />
        <div className="board" role="grid" aria-label="Hours by craft and day">
          <div className="gridrow" role="row">
            <div className="dayhead" role="columnheader">
              <span className="unseen">Craft</span>
            </div>
            {now.days.map((d) => (
              <div key={d} className="dayhead" role="columnheader">
                {dayName(d)}
              </div>
            ))}
          </div>
          {now.crafts.map((craft, r) => {
            const tanks = now.days.map((d) => all.find((t) => t.craft === craft.key && t.day === d)!);
            const highest = Math.max(...tanks.map((t) => Math.max(t.available, t.load)));
            const available = tanks.reduce((sum, t) => sum + t.available, 0);
            const load = tanks.reduce((sum, t) => sum + t.load, 0);
            return (
              <div key={craft.key} className="gridrow" role="row">
                <div className="craft" role="rowheader">
                  {craft.name}
                  <div className="small soft" style={{ fontWeight: 400 }}>
                    {available ? `${percent(load / available, 0)} loaded` : "no shift"}
                  </div>
                </div>
                {tanks.map((t, c) => (
                  <Tank
                    key={t.day}
                    tank={t}
                    highest={highest}
                    name={`${craft.name}, ${dayName(t.day)}`}
                    picked={r === row && c === column}
                    pick={() => go(r, c)}
                    drop={drop(t.day)}
                  />
                ))}
              </div>
            );
          })}
        </div>
        <p className="legend soft small" style={{ paddingTop: 10 }}>
          <i className="must" style={{ marginLeft: 0 }} />
          must
          <i className="preventive" />
          preventive and statutory
          <i className="other" />
          other<span style={{ marginLeft: 14 }}>figures: hours free</span>
          <span style={{ marginLeft: 14 }}>╌ lip: held back for emergencies</span>
          <span className="ochre" style={{ marginLeft: 14 }}>
            ◆ tight: above the lip
          </span>
          <span className="brick" style={{ marginLeft: 14 }}>
            ▲ over
          </span>
        </p>
      </div>
      <Side name={job ? "The job" : part ? "Loose ends" : "The tank"}>
        {job ? (
          <JobPanel number={job} />
        ) : part ? (
          <LooseEndsPanel part={part} open={setEnds} close={() => setEnds("")} />
        ) : (
          <TankPanel key={`${row}-${column}`} craft={now.crafts[row].key} day={now.days[column]} />
        )}
      </Side>
    </div>
  );
}
