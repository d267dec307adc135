import type { Shapes } from "../../api/client";
import { hours, percent } from "../../kit/words";

const BAR = 20;
const STEP = 27;
const HIGH = 50;
/** Above the hours that there are, so much is drawn at most. */
const OVER = 12;

interface Props {
  craft: Shapes["CraftForecast"];
  /** Of their hours, so much may be preventive work; the hours of weeks are those. */
  share: number;
  picked: { craft: string; week: string } | null;
  pick: (cell: { craft: string; week: string }) => void;
}

/** The weeks of one craft as a strip of vessels: what falls due in them, of the hours that there are. */
export function CraftStrip({ craft: c, share, picked, pick }: Props) {
  const due = c.weeks.reduce((all, w) => all + w.due, 0);
  const there = c.weeks.reduce((all, w) => all + w.there, 0);
  return (
    <section className="craftstrip" aria-label={c.name}>
      <div className="craftname">
        <span className="strong">{c.name}</span>
        <span className="secondline soft small">
          {there ? `${percent((due * share) / there, 0)} of hours` : "no hours"}
        </span>
      </div>
      <div className="row" style={{ gap: STEP - BAR, alignItems: "end" }}>
        {c.weeks.map((w) => {
          const most = Math.max(w.there, 1e-9);
          const high = Math.min(HIGH, (HIGH * w.due) / most);
          const dark = Math.min(high, (HIGH * w.raised) / most);
          const over = w.due > w.there + 0.005;
          const at = picked?.craft === c.craft && picked.week === w.week;
          return (
            <button
              key={w.week}
              className={`vessel ${at ? "at" : ""}`}
              title={`${w.week}: ${hours(w.due)} of ${hours(w.there)}`}
              aria-label={
                `${w.week}: ${hours(w.due)} fall due of ${hours(w.there)}` + (over ? ", overfull" : "")
              }
              aria-pressed={at}
              onClick={() => pick({ craft: c.craft, week: w.week })}
            >
              <svg width={BAR} height={HIGH + OVER + 14} aria-hidden>
                <text x={BAR / 2} y={9} className="weekno">
                  {w.week.slice(6)}
                </text>
                {over && <rect x={1} y={14} width={BAR - 2} height={OVER - 2} className="overfull" />}
                <rect x={1} y={HIGH + OVER + 12 - high} width={BAR - 2} height={high} className="falls" />
                <rect x={1} y={HIGH + OVER + 12 - dark} width={BAR - 2} height={dark} className="raised" />
                <path
                  d={`M 0.5 ${OVER + 12} V ${HIGH + OVER + 12.5} H ${BAR - 0.5} V ${OVER + 12}`}
                  className="rim"
                />
              </svg>
            </button>
          );
        })}
      </div>
    </section>
  );
}
