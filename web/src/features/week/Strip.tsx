import { NavLink } from "react-router";

import type { Overview } from "../../api/client";
import { useCompliance, useSummary } from "../../api/queries";
import { count, percent } from "../../look/words";
import { STEP_NAMES, STEPS, type Step } from "./steps";

/** The six steps with a live figure each: the strip alone tells how the week stands. */
export function Strip({ week, now }: { week: string; now: Overview }) {
  const summary = useSummary(week).data;
  const compliance = useCompliance(week).data;
  const assets = now.conflicts.filter((c) => ["window", "one job", "tool", "earliest", "latest", "order"].includes(c.code)).length;
  const people = now.conflicts.length - assets;
  const fill = now.hours_available ? now.hours_placed / now.hours_available : 0;
  const figures: Record<Step, [string, string]> = {
    gather: summary ? [`${summary.ready} ready`, summary.waiting ? `${summary.waiting} waiting` : ""] : ["", ""],
    balance: [`${percent(fill, 0)} of hours placed`, now.over ? `▲ ${now.over} over` : ""],
    agree: [now.status === "drafting" ? "not agreed" : "agreed", assets ? `▲ ${count(assets, "conflict")}` : ""],
    crew: [count(now.open_seats, "open seat"), people ? `▲ ${count(people, "conflict")}` : ""],
    publish: [now.revision ? `revision ${now.revision}` : "nothing yet", now.changed_since ? "changed since" : ""],
    run: [compliance && compliance.by_jobs !== null ? `${percent(compliance.by_jobs, 0)} of WOs done` : "not begun", ""],
  };
  return (
    <nav className="strip" aria-label="Steps of the week">
      {STEPS.map((step, n) => (
        <NavLink key={step} to={`/week/${week}/${step}`}>
          <span className="num">{n + 1}</span>
          <span className="grow">
            <span className="strong">{STEP_NAMES[step]}</span>
            <span className="small soft cut" style={{ display: "block" }}>
              {figures[step][0]}
              {figures[step][1] && <span className="brick"> · {figures[step][1]}</span>}
            </span>
          </span>
        </NavLink>
      ))}
    </nav>
  );
}
