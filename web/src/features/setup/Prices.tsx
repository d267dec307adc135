import { InputNumber, Slider } from "antd";

import type { Shapes } from "../../api/client";
import { Line } from "./Line";
import { Tried } from "./Tried";

type Weights = Shapes["WeightsShape"];
type Usual = Shapes["PricesForm"];
type Name = "waiting_per_hour" | "waiting_cap_hours" | "handover" | "area_change" | "away_per_hour";

/** The slider moves these four by one share of what a site begins with, up to so much. */
const MOVED = ["waiting_per_hour", "handover", "area_change", "away_per_hour"] as const;
const MOST = 2;

const PRICES: { name: Name; label: string; unit: string; most: number; why: string }[] = [
  {
    name: "waiting_per_hour",
    label: "A job that waits",
    unit: "points an hour",
    most: 1000,
    why: "For each hour in which nobody works on an opened job. Buys jobs that are done in one go, and assets that are back sooner.",
  },
  {
    name: "waiting_cap_hours",
    label: "Waiting counts for",
    unit: "hours at most",
    most: 168,
    why: "A longer gap costs no more than this: a job that lies open over a weekend is as bad as it gets.",
  },
  {
    name: "handover",
    label: "A handover",
    unit: "points each",
    most: 10000,
    why: "When entirely other people of the same craft go on. Buys people who finish what they began: above some 16 hours of waiting they come back tomorrow, below the next shift takes over.",
  },
  {
    name: "area_change",
    label: "A change of area",
    unit: "points each",
    most: 10000,
    why: "When somebody goes to another area within a shift. Buys days in one valley.",
  },
  {
    name: "away_per_hour",
    label: "An hour away",
    unit: "points an hour",
    most: 1000,
    why: "For each hour that somebody works outside the area of the shift. Buys work near home.",
  },
];

/** The share of the usual prices that all four stand at; null where they are set singly. */
export function shareOf(w: Weights, usual: Usual): number | null {
  const shares = MOVED.map((n) => w[n] / usual[n]);
  return Math.max(...shares) - Math.min(...shares) < 1e-6 && shares[0]! <= MOST ? shares[0]! : null;
}

/** What loose ends cost: one slider for all four, and each by itself. */
export function Prices({
  weights,
  usual,
  set,
}: {
  weights: Weights;
  usual: Usual;
  set: (w: Weights) => void;
}) {
  const share = shareOf(weights, usual);
  const all = (s: number) => set({ ...weights, ...Object.fromEntries(MOVED.map((n) => [n, s * usual[n]])) });
  return (
    <>
      <h2>Loose ends</h2>
      <p className="soft">
        What makes a week hard to work costs points, so that a build avoids it where that is worth it. At
        nothing, a build holds the most work and leaves jobs open, hands them over and sends people about.
      </p>
      <div className="parameter">
        <span className="strong">How tidy a week is to be</span>
        <span className="row" style={{ gridColumn: "2 / 4" }}>
          <span className="soft">most work</span>
          <Slider
            aria-label="From most work to fewest loose ends"
            ariaLabelForHandle="From most work to fewest loose ends"
            min={0}
            max={MOST}
            step={0.25}
            value={share ?? 1}
            onChange={all}
            style={{ width: 240, margin: "0 10px" }}
            tooltip={{ formatter: (s) => `${s} × the usual prices` }}
          />
          <span className="soft">fewest loose ends</span>
        </span>
        <span />
        <span className="soft" style={{ gridColumn: "2 / 4" }}>
          {share === null
            ? "The prices below are set one by one; moving this sets all four."
            : `All four at ${share} times the usual prices.`}
        </span>
      </div>
      <Tried weights={weights} />
      <details>
        <summary>Each price by itself</summary>
        {PRICES.map((p) => (
          <Line key={p.name} label={p.label} unit={p.unit} why={p.why}>
            <InputNumber
              aria-label={p.label}
              min={0}
              max={p.most}
              value={weights[p.name]}
              onChange={(v) => set({ ...weights, [p.name]: v ?? 0 })}
            />
          </Line>
        ))}
      </details>
    </>
  );
}
