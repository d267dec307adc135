import type { Shapes } from "../../api/client";
import { count, dayLater, dayName, hours, localDay, tone, when, zoned } from "../../kit/words";
import { useWeek } from "../week/context";
import { drag, lanes, same, sameWindow, type AgreeWindow as Window, type Spot } from "./drawing";
import { hourTicks } from "./hourTicks";
import type { Drawn } from "./WindowForm";

/** Assets down the side, the hours of the days across: windows, and placements inside. */
export function Lines({
  assets,
  days,
  spot,
  pick,
  win,
  pickWindow,
  draw,
}: {
  assets: Shapes["AgreeAsset"][];
  /** The days that are spread out. */
  days: string[];
  spot: Spot | null;
  pick: (p: Spot) => void;
  win: Window | null;
  pickWindow: (w: Window) => void;
  draw: ((d: Drawn) => void) | null;
}) {
  const { now } = useWeek();
  const midnight = (day: string) => Date.parse(zoned(day, "00:00", now.timezone));
  const [start, end] = [midnight(days[0]!), midnight(dayLater(days.at(-1)!, 1))];
  const clips = (a: string, b: string) => Date.parse(b) <= start || Date.parse(a) >= end;
  const at = (moment: string) =>
    Math.min(100, Math.max(0, (100 * (Date.parse(moment) - start)) / (end - start)));
  const box = (a: string, b: string) => ({ left: `${at(a)}%`, width: `${Math.max(at(b) - at(a), 0.15)}%` });
  const dayAt = days.map((d) => (100 * (midnight(d) - start)) / (end - start));
  const marks = hourTicks(days, now.timezone).map((m) => ({
    ...m,
    at: (100 * (m.moment - start)) / (end - start),
  }));
  const flat0 = assets.flatMap((a) => a.placements)[0];
  return (
    <div className="agree" role="list">
      <div className="line head">
        <div />
        <div className="hours" style={{ height: 44 }}>
          {days.map((d, n) => (
            <span
              key={d}
              className="strong small"
              style={{ position: "absolute", left: `${dayAt[n]}%`, padding: "8px 4px" }}
            >
              {dayName(d, days.length < 7)}
            </span>
          ))}
          {marks.map((m) => (
            <span key={m.moment} className="tick small soft" aria-hidden style={{ left: `${m.at}%` }}>
              {m.label}
            </span>
          ))}
        </div>
      </div>
      {assets
        .map((a) => ({ a, stack: lanes(a.placements) }))
        .map(({ a, stack }) => (
          <div key={a.key} className="line" role="listitem">
            <div className="name">
              <div className="strong cut" title={a.name}>
                {a.name}
              </div>
              <div className="small soft cut" title={aboutAsset(a)}>
                {a.key}
                {a.waiting.jobs > 0 && (
                  <span className="ochre">
                    {" "}
                    · ◆ {a.waiting.jobs} waiting, {hours(a.waiting.hours)}
                  </span>
                )}
                {a.one_job_at_a_time ? " · one job" : ""}
              </div>
            </div>
            <div
              className="hours"
              style={{ height: Math.max(38, 8 + 15 * stack.count), touchAction: "none" }}
              {...(draw
                ? drag(start, end, (from, to) =>
                    draw({
                      line: a.line,
                      asset: a.key,
                      kind: a.limited ? "work" : "run",
                      was: null,
                      start: from,
                      end: to,
                    }),
                  )
                : {})}
            >
              {a.windows
                .filter((w) => !clips(w.start, w.end))
                .sort((x, y) => (x.kind === "run" ? 0 : 1) - (y.kind === "run" ? 0 : 1))
                .map((w) => {
                  const at = when(localDay(w.start, now.timezone), w.start, w.end, now.timezone);
                  const words = `${w.kind === "run" ? "must run" : "work window"} ${at}${then(w.answer)}`;
                  const tones = w.kind === "run" ? "run hatch" : "work";
                  return (
                    <button
                      key={w.asset + w.kind + w.start}
                      className={`plain ${tones} ${sameWindow(win, w) ? "picked" : ""}`}
                      tabIndex={sameWindow(win, w) ? 0 : -1}
                      style={box(w.start, w.end)}
                      aria-label={`${w.asset} ${words}`}
                      title={words}
                      onClick={() => pickWindow(w)}
                    >
                      {w.answer && (
                        <span className={`answer ${w.answer === "refused" ? "brick" : "verdigris"}`}>
                          {w.answer === "refused" ? "✕" : "✓"}
                        </span>
                      )}
                    </button>
                  );
                })}
              {days.length < 7 &&
                marks.map((m) => (
                  <div key={m.moment} className="daymark faint" style={{ left: `${m.at}%` }} />
                ))}
              {dayAt.map((x) => (
                <div key={x} className="daymark" style={{ left: `${x}%` }} />
              ))}
              {a.placements.map((p, n) => {
                if (p.start && p.end ? clips(p.start, p.end) : !days.includes(p.day)) return null;
                const place =
                  p.start && p.end
                    ? box(p.start, p.end)
                    : { left: `${dayAt[days.indexOf(p.day)]! + 1}%`, width: `${84 / days.length}%` };
                const mark = p.conflict
                  ? "▲"
                  : p.answer === "agreed"
                    ? "✓"
                    : p.answer === "refused"
                      ? "✕"
                      : "";
                const riding = p.asset_state !== "stopped";
                const words =
                  `${p.job} ${p.title}, task ${p.task}, ${when(p.day, p.start, p.end, now.timezone)}` +
                  then(riding && "may be done while the asset runs") +
                  then(p.conflict && "conflict") +
                  then(p.answer);
                const tones = `${tone(p)} ${p.conflict ? "wrong" : riding ? "riding" : ""}`;
                return (
                  <button
                    key={p.job + p.task + p.portion}
                    className={`plain spot block ${tones} ${same(spot, p) ? "picked" : ""}`}
                    tabIndex={same(spot, p) || (!spot && !win && p === flat0) ? 0 : -1}
                    aria-label={words}
                    title={words}
                    style={{
                      ...place,
                      top: 5 + 15 * stack.lane[n],
                      bottom: "auto",
                      lineHeight: "13px",
                      fontSize: 9.5,
                      opacity: p.start ? 1 : 0.55,
                    }}
                    onClick={() => pick(p)}
                  >
                    {mark} {p.asset_state === "stopped" ? "" : "∿ "}
                    <span className="spotname">{p.title}</span>
                  </button>
                );
              })}
            </div>
          </div>
        ))}
      <p className="legend soft small" style={{ paddingTop: 10 }}>
        <i className="hatch" style={{ marginLeft: 0, border: "1px solid var(--edge)" }} />
        must run
        <i style={{ border: "1.5px solid var(--verdigris2)", background: "var(--sheet)" }} />
        work window
        <i className="must" />
        must
        <i className="preventive" />
        preventive
        <i className="other" />
        other<span style={{ marginLeft: 14 }}>✓ agreed · ✕ refused · ▲ conflict</span>
        <span style={{ marginLeft: 14 }}>∿ rounded: may be done while the asset runs</span>
      </p>
    </div>
  );
}

const then = (what: string | false | null) => (what ? `, ${what}` : "");

/** What is to be known of an asset, in words. */
function aboutAsset(a: Shapes["AgreeAsset"]): string {
  const waits = a.waiting.jobs
    ? `${count(a.waiting.jobs, "job")} with ${hours(a.waiting.hours)} of work could be done here ` +
      `and ${a.waiting.jobs === 1 ? "has" : "have"} no place yet`
    : "";
  return [
    a.limited ? "in work windows only" : "at any time but when it must run",
    a.one_job_at_a_time ? "one job at a time" : "",
    waits,
  ]
    .filter(Boolean)
    .join(", ");
}
