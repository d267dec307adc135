import { Button, Input, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useKept } from "../../app/address";
import { useFollow } from "../../app/follow";
import { useShortcuts } from "../../app/keys";
import { Side } from "../../kit/Side";
import { count, localDay, zoned } from "../../kit/words";
import { useWeek } from "../week/context";
import { InWeekOf, JobShown } from "../week/InWeek";
import { SpanChoice, useSpan } from "../week/useSpan";
import { AsksPanel } from "./AsksPanel";
import { SpotPanel, WindowPanel } from "./Answers";
import { DRAWN, gapAfter, same, sameWindow, type AgreeWindow as Window, type Spot } from "./drawing";
import { Lines } from "./Lines";
import { useShownAgree } from "./useShownAgree";
import { WindowForm, type Drawn } from "./WindowForm";

const SHOW = [
  ["all", "All assets"],
  ["waiting", "Where work waits"],
  ["placed", "With work"],
  ["asking", "To be answered"],
  ["conflicts", "With conflicts"],
] as const;

/**
 * States into which the week goes from here, and what the button for it says; it is published on its own
 * step.
 */
const MOVES: Record<string, string> = { agreed: "The week is agreed", drafting: "Back to drafting" };

/** Which assets are shown. */
const SHOWN: Record<string, (a: Shapes["AgreeAsset"]) => boolean> = {
  waiting: (a) => a.waiting.jobs > 0,
  placed: (a) => a.placements.length > 0,
  asking: (a) => a.placements.some((p) => p.asset_state !== "any" && !p.answer),
  conflicts: (a) => a.placements.some((p) => p.conflict),
};

/**
 * When may we touch the assets: windows and placements by asset and hour, conflicts, answers of operations.
 */
export function Agree() {
  const view = useWeek();
  const { now, job, edit, can, openMend, inAreas, shown } = view;
  const { agree, error } = useShownAgree(view);
  const [spot, setSpot] = useState<Spot | null>(null);
  const [win, setWin] = useState<Window | null>(null);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [only, setOnly] = useKept("show", "all");
  const [find, setFind] = useKept("asset");
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const named = (a: Shapes["AgreeAsset"]) =>
    words.every((w) => `${a.name} ${a.key}`.toLowerCase().includes(w));
  const wanted = (a: Shapes["AgreeAsset"]) => SHOWN[only]?.(a) ?? true;
  const assets = (agree?.assets ?? []).filter((a) => inAreas(a.area) && named(a) && wanted(a));
  const flat = assets.flatMap((a) => a.placements);
  const liveWindow = assets.flatMap((a) => a.windows).find((w) => sameWindow(win, w)) ?? null;
  const current = flat.find((p) => same(spot, p)) ?? null;
  const follow = useFollow(".agree .picked");
  const span = useSpan(shown, "Agree", current?.day);
  const pick = (p: Spot | null, w: Window | null = null) => {
    const day = p?.day ?? (w && localDay(w.start, now.timezone));
    if (day && shown.includes(day)) span.follow(day);
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
      Date.parse(current?.start ?? zoned(current?.day ?? span.days[0]!, "06:00", now.timezone)),
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
  if (error)
    return (
      <div className="empty">
        <h2>The assets can not be shown</h2>
        <p>{error.message}</p>
      </div>
    );
  if (!agree)
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
              · {agree.to_answer} to be answered · {agree.refused} refused
            </span>
          </span>
          {can("answer") && assets.length > 0 && (
            <Button onClick={draw}>
              Draw a window <kbd>V</kbd>
            </Button>
          )}
          <SpanChoice of={span} />
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
            days={span.days}
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
          <JobShown number={job} />
        ) : drawn ? (
          <InWeekOf day={localDay(drawn.start, now.timezone)}>
            <WindowForm
              key={drawn.asset + drawn.start + drawn.end + drawn.was}
              drawn={drawn}
              close={() => setDrawn(null)}
            />
          </InWeekOf>
        ) : liveWindow ? (
          <InWeekOf day={localDay(liveWindow.start, now.timezone)}>
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
          </InWeekOf>
        ) : current ? (
          <InWeekOf day={current.day}>
            <SpotPanel key={current.job + current.task} spot={current} />
          </InWeekOf>
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
              {agree.conflicts.length === 0 && (
                <p className="soft">None: every placement keeps to windows, order and tools.</p>
              )}
              {agree.conflicts.map((c) => (
                <p key={c.text} className="brick item">
                  ▲ {c.text}
                </p>
              ))}
              {can("edit") && agree.conflicts.length > 0 && (
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
