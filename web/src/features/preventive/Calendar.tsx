import { Button } from "antd";

import { count, dayLater, dayName } from "../../kit/words";
import { numberOf } from "./RaisedAs";
import type { ForecastLine } from "./usePreventive";

const SHOWN = 4;
const NAMES = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** Days with what falls due on each: a month, or one week with all of it. */
export function Calendar({
  first,
  weeks,
  month,
  lines,
  picked,
  pick,
}: {
  first: string;
  weeks: number;
  /** The month that is shown, `2026-12`; days of others are paler. */
  month: string | null;
  lines: ForecastLine[];
  picked: string | null;
  pick: (day: string) => void;
}) {
  const of = new Map<string, ForecastLine[]>();
  for (const l of lines) {
    const its = of.get(l.day);
    if (its) its.push(l);
    else of.set(l.day, [l]);
  }
  const most = weeks === 1 ? 40 : SHOWN;
  return (
    <table className={`duecalendar ${weeks === 1 ? "oneweek" : ""}`} aria-label="What falls due">
      <thead>
        <tr>
          {NAMES.map((n) => (
            <th key={n}>{n}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {Array.from({ length: weeks }, (_, w) => (
          <tr key={w}>
            {NAMES.map((n, d) => {
              const day = dayLater(first, w * 7 + d);
              const its = of.get(day) ?? [];
              const other = month !== null && !day.startsWith(month);
              return (
                <td key={n} className={`${day === picked ? "at" : ""} ${other ? "other" : ""}`}>
                  <Button
                    type="text"
                    size="small"
                    aria-label={`${dayName(day)}: ${count(its.length, "service")}`}
                    aria-pressed={day === picked}
                    onClick={() => pick(day)}
                  >
                    {Number(day.slice(8))}
                    {its.length > 0 && <span className="soft small"> {its.length}</span>}
                  </Button>
                  {its.slice(0, most).map((l) => (
                    <span
                      key={l.plan + l.asset}
                      className={`dueline ${toneOf(l)}`}
                      dir="auto"
                      title={told(l)}
                    >
                      {markOf(l)} {l.title}
                    </span>
                  ))}
                  {its.length > most && (
                    <button className="more soft small" onClick={() => pick(day)}>
                      and {its.length - most} more
                    </button>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Done, raised, or to come, by a mark that does not hang on its colour. */
export const markOf = (l: ForecastLine) =>
  l.state === "done" ? "✓" : l.state === "left out" ? "–" : numberOf(l) ? "■" : l.can_raise ? "□" : "▫";
const toneOf = (l: ForecastLine) =>
  l.state === "done" ? "verdigris" : l.kind === "statutory" ? "strong" : "";
const told = (l: ForecastLine) =>
  `${l.title}, ${l.asset_name}` +
  (numberOf(l) ? `, ${numberOf(l)} ${l.state}` : "") +
  (l.rungs.length > 1 ? `, ${l.rungs[0]!} takes in ${l.rungs.slice(1).join(", ")}` : "");
