import { Button } from "antd";

import type { Shapes } from "../../api/client";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { count, dayName, hours, percent } from "../../kit/words";
import { useHoursToCome } from "../preventive/useStops";
import { useWeek, weekOfDay } from "../week/context";
import { InWeekOf, JobShown } from "../week/InWeek";
import { carryTo, readCarried } from "./carried";
import { PeopleDayPanel } from "./PeopleDayPanel";
import { Tank } from "./Tank";
import { TankPanel } from "./TankPanel";
import { useBoard, type BoardRow } from "./useBoard";
import { LooseEndsPanel, Workable, type Part } from "./Workable";

/** What fits: a board of tanks, craft or crew by day, which folds out into people. */
export function Balance() {
  const view = useWeek();
  const { now, can, job, openJob, shown } = view;
  const { rows, by, turn, fold, foldAll, unfolded } = useBoard(view);
  const toCome = useHoursToCome(shown[0]!, shown.at(-1)!, view.areas).data ?? [];
  const flat = rows.filter(foldable).flatMap((r) => r.tanks.map((t) => ({ t, key: r.key })));
  const over = flat.find((x) => x.t.mood === "over") ?? flat.find((x) => x.t.mood === "tight");
  const [tank, setTank] = useKept("tank");
  const [ends, setEnds] = useKept("ends");
  const part = (ends || null) as Part | null;
  const [rowAt, dayAt] = tank ? tank.split("~") : [over?.key, over?.t.day];
  const at = Math.max(
    0,
    rows.findIndex((r) => r.key === rowAt),
  );
  const column = Math.max(0, shown.indexOf(dayAt ?? ""));
  const row = rows[at];
  const go = (r: number, c: number) => {
    const to = rows[Math.min(Math.max(r, 0), rows.length - 1)];
    if (!to) return;
    setTank(`${to.key}~${shown[Math.min(Math.max(c, 0), 6)]}`);
    setEnds("");
    openJob(null);
  };
  const follow = useFollow(".tank.picked");
  const walk = (down: number, days: number) => {
    go(at + down, column + days);
    follow();
  };
  useShortcuts([
    { keys: "ArrowUp", what: "Row above", group: "Balance", run: () => walk(-1, 0) },
    { keys: "ArrowDown", what: "Row below", group: "Balance", run: () => walk(1, 0) },
    { keys: "ArrowLeft", what: "Day before", group: "Balance", run: () => walk(0, -1) },
    { keys: "ArrowRight", what: "Day after", group: "Balance", run: () => walk(0, 1) },
    {
      keys: "r",
      what: "People of the row, or fold them in",
      group: "Balance",
      run: () => row && fold(foldable(row) ? row.key : above(rows, at)),
    },
    { keys: "Shift+r", what: "People of all rows, or fold them in", group: "Balance", run: foldAll },
    { keys: "l", what: "Rows by craft, or by crew", group: "Balance", run: turn },
  ]);
  if (now.crafts.length === 0)
    return (
      <div className="empty">
        <h2>There are no crafts yet</h2>
        <p>Bring in crafts, people and shifts under Files; the tanks follow.</p>
      </div>
    );
  const drop = (day: string) => (text: string) => {
    const carried = readCarried(text);
    if (can("edit") && carried) void carryTo(view, carried, day);
  };
  return (
    <div className="split">
      <div className="main">
        <div className="row balancebar">
          <span className="grow">
            <Workable
              open={(p) => {
                setEnds(p);
                openJob(null);
              }}
            />
          </span>
          <Button size="small" onClick={turn} aria-pressed={by === "crew"}>
            {by === "crew" ? "By craft" : "By crew"} <kbd>L</kbd>
          </Button>
          <Button size="small" onClick={foldAll} aria-pressed={unfolded.length > 0}>
            {unfolded.length ? "Fold in" : "People"} <kbd>⇧R</kbd>
          </Button>
        </div>
        <div className="board" role="grid" aria-label={`Hours by ${by} and day`}>
          <div className="gridrow" role="row">
            <div className="dayhead" role="columnheader">
              <span className="unseen">{by === "crew" ? "Crew" : "Craft"}</span>
            </div>
            {shown.map((d) => (
              <div key={d} className="dayhead" role="columnheader">
                {dayName(d)}
              </div>
            ))}
          </div>
          {rows.map((r, n) => (
            <Row
              key={`${r.kind} ${r.key}`}
              row={r}
              toCome={r.kind === "craft" ? toCome.find((c) => c.craft === r.key) : undefined}
              picked={n === at ? column : null}
              unfolded={unfolded.includes(r.key)}
              fold={() => fold(r.key)}
              pick={(c) => go(n, c)}
              drop={drop}
            />
          ))}
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
          <JobShown number={job} />
        ) : part ? (
          <LooseEndsPanel part={part} open={setEnds} close={() => setEnds("")} />
        ) : row ? (
          <InWeekOf day={shown[column]!}>
            {row.kind === "craft" ? (
              <TankPanel
                key={`${row.key}-${shown[column]}`}
                craft={row.key}
                day={shown[column]!}
                carry={(carried, day) => carryTo(view, carried, day)}
                elsewhere={shown.filter((d) => weekOfDay(view, d) !== weekOfDay(view, shown[column]!))}
              />
            ) : (
              <PeopleDayPanel key={`${row.key}-${shown[column]}`} row={row} day={shown[column]!} />
            )}
          </InWeekOf>
        ) : null}
      </Side>
    </div>
  );
}

const foldable = (row: BoardRow) => row.kind === "craft" || row.kind === "crew";

/** The craft or crew above a person's row. */
function above(rows: BoardRow[], at: number): string {
  return rows.slice(0, at).findLast(foldable)?.key ?? "";
}

interface RowProps {
  row: BoardRow;
  /** Preventive work of the days shown that is not raised. */
  toCome?: Shapes["CraftToCome"];
  /** The day that is picked, by its place. */
  picked: number | null;
  unfolded: boolean;
  fold: () => void;
  pick: (column: number) => void;
  drop: (day: string) => (text: string) => void;
}

/** One row of the board; its tanks stand to the scale of its own highest day. */
function Row({ row, toCome, picked, unfolded, fold, pick, drop }: RowProps) {
  const { tanks } = row;
  const highest = Math.max(...tanks.map((t) => Math.max(t.available, t.load)));
  const available = tanks.reduce((sum, t) => sum + t.available, 0);
  const load = tanks.reduce((sum, t) => sum + t.load, 0);
  const told = available ? `${percent(load / available, 0)} loaded` : load ? "nobody there" : "no shift";
  return (
    <div className={`gridrow ${foldable(row) ? "" : "beneath"}`} role="row">
      <div className="craft" role="rowheader">
        {foldable(row) ? (
          <button className="plain" aria-expanded={unfolded} title="People of this row" onClick={fold}>
            <span className="soft" aria-hidden>
              {unfolded ? "▾" : "▸"}
            </span>{" "}
            {row.name}
          </button>
        ) : (
          <span dir="auto">{row.name}</span>
        )}
        <div className="small soft" style={{ fontWeight: 400 }}>
          {told}
          {toCome && (
            <span
              className="secondline"
              title={
                `${count(toCome.services, "preventive service")} fall due in these days ` +
                "and are not raised"
              }
            >
              + {hours(toCome.hours)} to come
            </span>
          )}
        </div>
      </div>
      {tanks.map((t, c) => (
        <Tank
          key={t.day}
          tank={t}
          highest={highest}
          name={`${row.name}, ${dayName(t.day)}`}
          picked={c === picked}
          low={!foldable(row)}
          pick={() => pick(c)}
          drop={drop(t.day)}
        />
      ))}
    </div>
  );
}
