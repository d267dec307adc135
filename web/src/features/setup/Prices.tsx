import { InputNumber, Slider } from "antd";

import type { Shapes } from "../../api/client";
import { Line } from "./Line";
import { PRICES } from "./prices";
import { Tried } from "./Tried";

type Weights = Shapes["WeightsShape"];
type Usual = Shapes["PricesForm"];
/** The slider moves these four by one share of what a site begins with, up to so much. */
const MOVED = ["waiting_per_hour", "handover", "area_change", "away_per_hour"] as const;
const MOST = 2;

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
      <h2 id="loose">Loose ends</h2>
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
