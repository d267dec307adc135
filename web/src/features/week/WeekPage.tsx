import { Button, Select, Spin, Tooltip } from "antd";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";

import type { Shapes } from "../../api/client";
import { useOverview } from "../../api/queries";
import { sameView, sameViewOfAnotherWeek } from "../../app/address";
import { Broken } from "../../app/Broken";
import { Help } from "../../app/Help";
import { useShortcuts } from "../../app/keys";
import { Palette } from "../../app/Palette";
import { useTitle } from "../../app/title";
import { count, percent, weekBeside, weekName } from "../../kit/words";
import { BuildPanel } from "../build/BuildPanel";
import { GivePanel, type Selection } from "../give/GivePanel";
import { MendPanel } from "../mend/MendPanel";
import { UsedPanel } from "../parts/UsedPanel";
import { usePartsUsed } from "../parts/usePartsUsed";
import { BreakIn } from "../orders/BreakIn";
import { OrderPanel } from "../orders/OrderPanel";
import { WeekContext } from "./context";
import { FirstDay } from "./FirstDay";
import { SCREEN_FILES } from "./screens";
import { STEP_NAMES, STEPS, type Step } from "./steps";
import { Strip } from "./Strip";
import { useAreas } from "./useAreas";
import { useShownWeek } from "./useShownWeek";

const SCREENS: Record<Step, React.LazyExoticComponent<() => React.ReactNode>> = {
  gather: lazy(SCREEN_FILES.gather),
  balance: lazy(SCREEN_FILES.balance),
  agree: lazy(SCREEN_FILES.agree),
  crew: lazy(SCREEN_FILES.crew),
  publish: lazy(SCREEN_FILES.publish),
  run: lazy(SCREEN_FILES.run),
};

export function WeekPage({ me }: { me: Shapes["Me"] }) {
  const { week = "", step = "gather" } = useParams();
  const overview = useOverview(week);
  if (overview.error)
    return (
      <div className="empty">
        <h2>This week can not be shown</h2>
        <p>{overview.error.message}</p>
      </div>
    );
  if (!overview.data || overview.data.week !== week)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  return (
    <Opened
      key={week}
      me={me}
      week={week}
      step={(STEPS as readonly string[]).includes(step) ? (step as Step) : "gather"}
      now={overview.data}
    />
  );
}

function Opened({
  me,
  week,
  step,
  now,
}: {
  me: Shapes["Me"];
  week: string;
  step: Step;
  now: Shapes["Overview"];
}) {
  const go = useNavigate();
  const visit = useLocation().key;
  const { areas, choose } = useAreas(
    me,
    now.areas.map((a) => a.key),
  );
  const chosen = areas.join(" ");
  const toStep = (s: Step) => go(`/week/${week}/${s}${sameView()}`);
  const toWeek = (name: string) => go(`/week/${name}/${step}${sameViewOfAnotherWeek()}`);
  const [shown, show] = useState<
    "help" | "palette" | "build" | "mend" | "break-in" | "give" | "new" | "change" | null
  >(null);
  const [coming, setComing] = useState<string[]>([]);
  const [giving, setGiving] = useState<Selection>({ jobs: [] });
  useTitle(`${STEP_NAMES[step]} ${weekName(week)}`);
  useEffect(() => localStorage.setItem("step", step), [step]);
  const around = useMemo(
    () => ({
      me,
      areas: chosen ? chosen.split(" ") : [],
      inAreas: (area: string | null) => !chosen || (area !== null && chosen.split(" ").includes(area)),
      openBuild: () => show("build"),
      openMend: (jobs: string[] = []) => {
        setComing(jobs);
        show("mend");
      },
      openBreakIn: () => show("break-in"),
      openGive: (what: Selection) => {
        setGiving(what);
        show("give");
      },
      openOrder: (what: "new" | "change") => show(what),
    }),
    [me, chosen],
  );
  const parts = usePartsUsed();
  const { view, from, keepFrom } = useShownWeek(week, now, around, parts.ask);
  const { edit, busy, job, openJob } = view;
  const mayEdit = view.can("edit");
  useShortcuts([
    ...STEPS.map((s, n) => ({ keys: String(n + 1), what: `Go to ${STEP_NAMES[s]}`, run: () => toStep(s) })),
    { keys: "?", what: "Keyboard shortcuts", run: () => show("help") },
    { keys: "Ctrl+k", what: "Command palette", run: () => show("palette") },
    { keys: "[", what: "The week before", run: () => toWeek(weekBeside(week, -1)) },
    { keys: "]", what: "The week after", run: () => toWeek(weekBeside(week, 1)) },
    ...(mayEdit
      ? [
          { keys: "z", what: "Undo my last edit", run: () => void edit({ kind: "undo" }) },
          { keys: "Shift+z", what: "Redo", run: () => void edit({ kind: "redo" }) },
          { keys: "b", what: "Build the week", run: () => show("build") },
          {
            keys: "m",
            what: "Mend the week",
            run: () => {
              setComing([]);
              show("mend");
            },
          },
          { keys: "u", what: "Break-in: work that comes in now", run: () => show("break-in") },
          { keys: "w", what: "Make a new WO", run: () => show("new") },
        ]
      : []),
    { keys: "Escape", what: "Close the panel", run: () => (shown ? show(null) : openJob(null)) },
  ]);
  const Screen = SCREENS[step];
  return (
    <WeekContext.Provider value={view}>
      <main className="week">
        <header className="weekhead">
          <h1>{weekName(week)}</h1>
          <FirstDay
            step={step}
            from={from}
            keep={keepFrom}
            toDay={(name, day) => go(`/week/${name}/${step}${sameViewOfAnotherWeek({ from: day })}`)}
          />
          <Tooltip title="The week before">
            <Button size="small" aria-label="The week before" onClick={() => toWeek(weekBeside(week, -1))}>
              ‹
            </Button>
          </Tooltip>
          <Tooltip title="The week after">
            <Button size="small" aria-label="The week after" onClick={() => toWeek(weekBeside(week, 1))}>
              ›
            </Button>
          </Tooltip>
          <span className="grow" />
          {now.changed_jobs.length > 0 && now.status !== "closed" && (
            <button
              className="plain ochre"
              title={
                "Changed by an export since they were placed: " + now.changed_jobs.slice(0, 8).join(", ")
              }
              onClick={() => openJob(now.changed_jobs[0]!)}
            >
              ◆ {now.changed_jobs.length} changed
            </button>
          )}
          <AreaChoice now={now} areas={areas} choose={choose} />
          <Share now={now} />
          <Button onClick={() => show("palette")} title="Command palette, Ctrl+K">
            Find <kbd>Ctrl K</kbd>
          </Button>
          {mayEdit && (
            <Button onClick={() => edit({ kind: "undo" })} disabled={busy}>
              Undo <kbd>Z</kbd>
            </Button>
          )}
          {mayEdit && (
            <Button type="primary" onClick={() => show("build")}>
              Build <kbd>B</kbd>
            </Button>
          )}
        </header>
        <Strip week={week} now={now} />
        <Broken key={`${step} ${visit}`}>
          <Suspense
            fallback={
              <div className="empty">
                <Spin />
              </div>
            }
          >
            <Screen />
          </Suspense>
        </Broken>
      </main>
      {shown === "mend" && <MendPanel key={coming.join()} start={coming} close={() => show(null)} />}
      {shown === "give" && <GivePanel selection={giving} close={() => show(null)} />}
      {shown === "break-in" && (
        <BreakIn
          close={() => show(null)}
          fit={(number) => {
            setComing([number]);
            show("mend");
          }}
        />
      )}
      {(shown === "new" || (shown === "change" && job)) && (
        <OrderPanel
          number={shown === "change" ? job : null}
          close={(made) => {
            show(null);
            if (made) openJob(made);
          }}
        />
      )}
      {parts.telling && <UsedPanel lines={parts.telling} close={parts.leave} />}
      {shown === "build" && <BuildPanel close={() => show(null)} />}
      <Help open={shown === "help"} close={() => show(null)} />
      <Palette
        open={shown === "palette"}
        close={() => show(null)}
        week={week}
        first={now.days[0]!}
        openJob={(n) => {
          openJob(n);
          if (step !== "gather" && step !== "balance") toStep("gather");
        }}
      />
    </WeekContext.Provider>
  );
}

/** Which areas one looks after today; what others do stays theirs. */
function AreaChoice({
  now,
  areas,
  choose,
}: {
  now: Shapes["Overview"];
  areas: string[];
  choose: (areas: string[]) => void;
}) {
  if (now.areas.length < 2) return null;
  return (
    <Select
      mode="multiple"
      size="small"
      allowClear
      maxTagCount={areas.length > 1 ? 0 : 1}
      maxTagPlaceholder={`${areas.length} areas`}
      aria-label="Areas that I look at"
      placeholder="All areas"
      value={areas}
      onChange={choose}
      options={now.areas.map((a) => ({ value: a.key, label: a.name }))}
      showSearch={{ optionFilterProp: "label" }}
      style={{ width: 112, flexShrink: 0 }}
    />
  );
}

/** What is proven of the draft; nothing is claimed while seats are open or rules broken. */
function Share({ now }: { now: Shapes["Overview"] }) {
  if (now.share != null) {
    const lost = now.workable.points ? now.workable.prices.total / now.workable.points : 0;
    const given = lost >= 0.0005 ? `; ${percent(lost)} for loose ends` : "";
    return (
      <span
        className="soft cut"
        title={
          `points ${now.workable.points}, loose ends ${now.workable.prices.total}, ` +
          `value ${now.value}, proven bound ${now.bound}`
        }
      >
        at least {percent(now.share)} of what any schedule could hold{given}
      </span>
    );
  }
  if (!now.jobs_placed) return <span className="soft">nothing placed yet</span>;
  if (now.conflicts.length)
    return <span className="brick">▲ {count(now.conflicts.length, "broken rule")}</span>;
  if (now.open_seats || now.without_time)
    return (
      <span className="soft">
        draft unfinished: {now.open_seats} open seats
        {now.without_time ? `, ${now.without_time} without a time` : ""}
      </span>
    );
  return <span className="soft">bound being proven …</span>;
}
