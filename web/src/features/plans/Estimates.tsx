import { Button } from "antd";

import type { Shapes } from "../../api/client";
import { count, hours } from "../../kit/words";

type Estimate = Shapes["Estimate"];
const WIDTH = 120;
const HEIGHT = 26;

interface Props {
  estimates: Estimate[];
  /** Plan with the hours that are suggested for these tasks; absent for those who may not. */
  accept?: (tasks: string[]) => void;
}

/**
 * Hours planned against hours spent of the last uses, of the whole and of each task, with what they suggest.
 */
export function Estimates({ estimates, accept }: Props) {
  if (!estimates.length) return <p className="soft">Not used yet: hours spent are told here after a use.</p>;
  const suggested = estimates.filter((e) => e.suggested !== null).map((e) => e.task!);
  return (
    <>
      <ul className="estimates">
        {estimates.map((e) => (
          <li key={e.task ?? "all"}>
            <div>
              <span className="strong">{e.task ?? "All tasks"}</span>{" "}
              {e.task && <span dir="auto">{e.title}</span>}
              {e.off && <span className="brick small"> ▲ off by more than a third</span>}
            </div>
            <div className="row">
              <Picture of={e} />
              <span className="small grow">
                planned {hours(e.planned)}, spent {hours(e.median)}{" "}
                <span className="soft">
                  (half of {count(e.uses, "use")}: {hours(e.low)} to {hours(e.high)})
                </span>
              </span>
            </div>
            {accept && e.suggested !== null && (
              <Button size="small" onClick={() => accept([e.task!])}>
                Plan {hours(e.suggested)} for task {e.task}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {accept && suggested.length > 1 && (
        <Button size="small" style={{ marginTop: 6 }} onClick={() => accept(suggested)}>
          Plan all {suggested.length} as suggested
        </Button>
      )}
    </>
  );
}

/** Each use as a dot, the oldest faintest, over a line for what is planned and a band for the middle half. */
function Picture({ of: e }: { of: Estimate }) {
  const most = Math.max(e.planned, ...e.spent) * 1.08;
  const x = (h: number) => 4 + (WIDTH - 8) * (h / most);
  const between = `${hours(Math.min(...e.spent))} to ${hours(Math.max(...e.spent))}`;
  const said = `${count(e.uses, "use")}, ${between}, planned ${hours(e.planned)}`;
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={said}>
      <title>{said}</title>
      <line x1={4} x2={WIDTH - 4} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke="var(--line)" />
      <rect
        x={x(e.low)}
        y={6}
        width={Math.max(2, x(e.high) - x(e.low))}
        height={HEIGHT - 12}
        fill="var(--verdigris2)"
        opacity={0.7}
      />
      <line
        x1={x(e.planned)}
        x2={x(e.planned)}
        y1={2}
        y2={HEIGHT - 2}
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
      {e.spent.map((h, n) => (
        <circle
          key={n}
          cx={x(h)}
          cy={HEIGHT / 2}
          r={3}
          fill="var(--verdigris)"
          opacity={0.35 + (0.65 * (n + 1)) / e.spent.length}
        />
      ))}
    </svg>
  );
}
