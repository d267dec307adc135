import { Button, Input, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useAgree } from "../../api/queries";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { count, dayName, hours, localDay, tone, when, zoned } from "../../kit/words";
import { JobPanel } from "../gather/JobPanel";
import { useWeek } from "../week/context";
import { AsksPanel } from "./AsksPanel";
import { SpotPanel, WindowPanel } from "./Answers";
import { drag, DRAWN, gapAfter, lanes, type AgreeWindow as Window, type Spot } from "./drawing";
import { WindowForm, type Drawn } from "./WindowForm";

const sameWindow = (a: Window | null, b: Window) =>
  a !== null && a.asset === b.asset && a.kind === b.kind && a.start === b.start;
const same = (a: Spot | null, b: Spot) =>
  a !== null && a.job === b.job && a.task === b.task && a.portion === b.portion;

const SHOW = [
  ["all", "All assets"],
  ["waiting", "Where work waits"],
  ["placed", "With work"],
  ["asking", "To be answered"],
  ["conflicts", "With conflicts"],
] as const;

/** States into which the week goes from here, and what the button for it says; it is published on its own step. */
const MOVES: Record<string, string> = { agreed: "The week is agreed", drafting: "Back to drafting" };

/** Which assets are shown. */
const SHOWN: Record<string, (a: Shapes["AgreeAsset"]) => boolean> = {
  waiting: (a) => a.waiting.jobs > 0,
  placed: (a) => a.placements.length > 0,
  asking: (a) => a.placements.some((p) => p.asset_state !== "any" && !p.answer),
  conflicts: (a) => a.placements.some((p) => p.conflict),
};

/** When may we touch the assets: windows and placements by asset and hour, conflicts, answers of operations. */
export function Agree() {
  const { week, now, job, edit, can, openMend, inAreas } = useWeek();
  const agree = useAgree(week);
  const [spot, setSpot] = useState<Spot | null>(null);
  const [win, setWin] = useState<Window | null>(null);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [only, setOnly] = useKept("show", "all");
  const [find, setFind] = useKept("asset");
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const named = (a: Shapes["AgreeAsset"]) =>
    words.every((w) => `${a.name} ${a.key}`.toLowerCase().includes(w));
  const wanted = (a: Shapes["AgreeAsset"]) => SHOWN[only]?.(a) ?? true;
  const assets = (agree.data?.assets ?? []).filter((a) => inAreas(a.area) && named(a) && wanted(a));
  const flat = assets.flatMap((a) => a.placements);
  const liveWindow = assets.flatMap((a) => a.windows).find((w) => sameWindow(win, w)) ?? null;
  const current = flat.find((p) => same(spot, p)) ?? null;
  const follow = useFollow(".agree .picked");
  const pick = (p: Spot | null, w: Window | null = null) => {
    setSpot(p);
    setWin(w);
    setDrawn(null);
  };
  const onLine = assets.find(
    (a) => a.placements.some((p) => same(spot, p)) || a.windows.some((w) => sameWindow(win, w)),
  );
  const step = (by: number) => {
    const at = current
      ? flat.indexOf(current) + by
      : onLine?.placements[0]
        ? flat.indexOf(onLine.placements[0])
        : 0;
    pick(flat[Math.min(Math.max(at, 0), flat.length - 1)] ?? null);
    follow();
  };
  const stepWindow = (by: number) => {
    const at = (w: { start: string }) => Date.parse(w.start);
    const windows = [...((onLine ?? assets[0])?.windows ?? [])].sort((a, b) => at(a) - at(b));
    const from =
      Date.parse(liveWindow?.start ?? current?.start ?? current?.day ?? now.start) -
      (liveWindow || current ? 0 : 1);
    const to = by > 0 ? windows.find((w) => at(w) > from) : windows.findLast((w) => at(w) < from);
    if (to) pick(null, to);
    follow();
  };
  const draw = () => {
    const asset = onLine ?? assets[0];
    if (!asset) return;
    const start = gapAfter(
      asset.windows,
      Date.parse(current?.start ?? zoned(current?.day ?? now.days[0]!, "06:00", now.timezone)),
    );
    const [from, to] = [start, start + DRAWN].map((t) => new Date(t).toISOString());
    setDrawn({
      line: asset.line,
      asset: asset.line.at(-1)!.key,
      kind: asset.limited ? "work" : "run",
      was: null,
      start: from!,
      end: to!,
    });
  };
  useShortcuts([
    { keys: "ArrowDown", what: "Next placement", group: "Agree", run: () => step(1) },
    { keys: "ArrowUp", what: "Placement before", group: "Agree", run: () => step(-1) },
    { keys: "ArrowRight", what: "Next window of the asset", group: "Agree", run: () => stepWindow(1) },
    { keys: "ArrowLeft", what: "Window before of the asset", group: "Agree", run: () => stepWindow(-1) },
    ...(can("answer") ? [{ keys: "v", what: "Draw a window", group: "Agree", run: () => draw() }] : []),
  ]);
  if (agree.error)
    return (
      <div className="empty">
        <h2>The assets can not be shown</h2>
        <p>{agree.error.message}</p>
      </div>
    );
  if (!agree.data)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  return (
    <div className="split">
      <div className="main">
        <div className="bar">
          <Input
            allowClear
            aria-label="Find an asset"
            placeholder="Find an asset"
            value={find}
            onChange={(e) => setFind(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Escape" || e.key === "Enter") e.currentTarget.blur();
            }}
            style={{ width: 140 }}
          />
          <select
            className="plainselect"
            aria-label="Show"
            value={only}
            onChange={(e) => setOnly(e.target.value)}
          >
            {SHOW.map(([v, label]) => (
              <option key={v} value={v}>
                {label}
              </option>
            ))}
          </select>
          <span className="grow cut">
            <span className="strong">{count(assets.length, "asset")}</span>{" "}
            <span className="soft">
              · {agree.data.to_answer} to be answered · {agree.data.refused} refused
            </span>
          </span>
          {can("answer") && assets.length > 0 && (
            <Button onClick={draw}>
              Draw a window <kbd>V</kbd>
            </Button>
          )}
        </div>
        {assets.length === 0 ? (
          <div className="empty">
            <h2>
              {only === "all" && !find
                ? "No asset has windows or work in this week"
                : "No asset is like this"}
            </h2>
            <p>
              {only === "all" && !find
                ? "Bring in assets, windows and work orders under Files."
                : "Show all, or look for another name."}
            </p>
          </div>
        ) : (
          <Lines
            assets={assets}
            spot={current}
            pick={pick}
            win={win}
            pickWindow={(w) => pick(null, w)}
            draw={can("answer") ? setDrawn : null}
          />
        )}
      </div>
      <Side name="Agreement">
        {job ? (
          <JobPanel number={job} />
        ) : drawn ? (
          <WindowForm
            key={drawn.asset + drawn.start + drawn.end + drawn.was}
            drawn={drawn}
            close={() => setDrawn(null)}
          />
        ) : liveWindow ? (
          <WindowPanel
            key={liveWindow.asset + liveWindow.start}
            window={liveWindow}
            change={() =>
              setDrawn({
                line: [],
                asset: liveWindow.asset,
                kind: liveWindow.kind,
                was: liveWindow.start,
                start: liveWindow.start,
                end: liveWindow.end,
              })
            }
            gone={() => setWin(null)}
          />
        ) : current ? (
          <SpotPanel key={current.job + current.task} spot={current} />
        ) : (
          <>
            <section>
              <h1>{now.status === "drafting" ? "Not agreed yet" : `The week is ${now.status}`}</h1>
              <p className="soft">Pick a placement or a window to record what operations said of it.</p>
              {can("edit") &&
                now.moves
                  .filter((m) => m.to in MOVES)
                  .map((m) => (
                    <p key={m.to} style={{ marginTop: 10 }}>
                      <Button
                        type={m.to === "agreed" ? "primary" : "default"}
                        disabled={m.why !== null || (m.to === "agreed" && now.jobs_placed === 0)}
                        onClick={() => edit({ kind: "status", to: m.to })}
                      >
                        {MOVES[m.to]}
                      </Button>
                      {m.why && <span className="ochre small"> {m.why}</span>}
                    </p>
                  ))}
            </section>
            <section>
              <h2>Conflicts</h2>
              {agree.data.conflicts.length === 0 && (
                <p className="soft">None: every placement keeps to windows, order and tools.</p>
              )}
              {agree.data.conflicts.map((c) => (
                <p key={c.text} className="brick item">
                  ▲ {c.text}
                </p>
              ))}
              {can("edit") && agree.data.conflicts.length > 0 && (
                <Button size="small" style={{ marginTop: 8 }} onClick={() => openMend()}>
                  Mend <kbd>M</kbd>
                </Button>
              )}
            </section>
            <AsksPanel />
          </>
        )}
      </Side>
    </div>
  );
}

function Lines({
  assets,
  spot,
  pick,
  win,
  pickWindow,
  draw,
}: {
  assets: Shapes["AgreeAsset"][];
  spot: Spot | null;
  pick: (p: Spot) => void;
  win: Window | null;
  pickWindow: (w: Window) => void;
  draw: ((d: Drawn) => void) | null;
}) {
  const { now } = useWeek();
  const [start, end] = [Date.parse(now.start), Date.parse(now.end)];
  const at = (moment: string) =>
    Math.min(100, Math.max(0, (100 * (Date.parse(moment) - start)) / (end - start)));
  const box = (a: string, b: string) => ({ left: `${at(a)}%`, width: `${Math.max(at(b) - at(a), 0.15)}%` });
  const dayAt = now.days.map((_, n) => (100 * n) / 7);
  const flat0 = assets.flatMap((a) => a.placements)[0];
  return (
    <div className="agree" role="list">
      <div className="line head">
        <div />
        <div className="hours" style={{ height: 32 }}>
          {now.days.map((d, n) => (
            <span
              key={d}
              className="strong small"
              style={{ position: "absolute", left: `${dayAt[n]}%`, padding: "8px 4px" }}
            >
              {dayName(d, false)}
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
              {[...a.windows]
                .sort((x, y) => (x.kind === "run" ? 0 : 1) - (y.kind === "run" ? 0 : 1))
                .map((w) => {
                  const words = `${w.kind === "run" ? "must run" : "work window"} ${when(localDay(w.start, now.timezone), w.start, w.end, now.timezone)}${w.answer ? `, ${w.answer}` : ""}`;
                  return (
                    <button
                      key={w.asset + w.kind + w.start}
                      className={`plain ${w.kind === "run" ? "run hatch" : "work"} ${sameWindow(win, w) ? "picked" : ""}`}
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
              {dayAt.map((x) => (
                <div key={x} className="daymark" style={{ left: `${x}%` }} />
              ))}
              {a.placements.map((p, n) => {
                const place =
                  p.start && p.end
                    ? box(p.start, p.end)
                    : { left: `${dayAt[now.days.indexOf(p.day)] + 1}%`, width: "12%" };
                const mark = p.conflict
                  ? "▲"
                  : p.answer === "agreed"
                    ? "✓"
                    : p.answer === "refused"
                      ? "✕"
                      : "";
                const words = `${p.job} ${p.title}, task ${p.task}, ${when(p.day, p.start, p.end, now.timezone)}${p.conflict ? ", conflict" : ""}${p.answer ? `, ${p.answer}` : ""}`;
                return (
                  <button
                    key={p.job + p.task + p.portion}
                    className={`plain spot block ${tone(p)} ${p.conflict ? "wrong" : ""} ${same(spot, p) ? "picked" : ""}`}
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
                    {mark}
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
      </p>
    </div>
  );
}

/** What is to be known of an asset, in words. */
function aboutAsset(a: Shapes["AgreeAsset"]): string {
  const waits = a.waiting.jobs
    ? `${count(a.waiting.jobs, "job")} with ${hours(a.waiting.hours)} of work could be done here and ${a.waiting.jobs === 1 ? "has" : "have"} no place yet`
    : "";
  return [
    a.limited ? "in work windows only" : "at any time but when it must run",
    a.one_job_at_a_time ? "one job at a time" : "",
    waits,
  ]
    .filter(Boolean)
    .join(", ");
}
