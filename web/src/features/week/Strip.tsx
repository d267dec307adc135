import { useEffect, useRef, type MouseEvent } from "react";
import { NavLink, useLocation, useNavigate } from "react-router";

import type { Overview, Shapes } from "../../api/client";
import { useCompliance, useSummary, useTanks } from "../../api/queries";
import { sameView } from "../../app/address";
import { count, percent } from "../../kit/words";
import { useWeek } from "./context";
import { STEP_NAMES, STEPS, type Step } from "./steps";

/** A click that does not ask for another tab. */
const plain = (e: MouseEvent) => !e.ctrlKey && !e.metaKey && !e.shiftKey && e.button === 0;

/** The six steps with a live figure each: the strip alone tells how the week stands. */
export function Strip({ week, now }: { week: string; now: Overview }) {
  const { areas } = useWeek();
  const go = useNavigate();
  const summary = useSummary(week, areas).data;
  const compliance = useCompliance(week, areas).data;
  const own = useTanks(week, areas).data;
  const tanks = areas.length ? (own ?? now.tanks) : now.tanks;
  const sum = (of: (t: Shapes["TankFigures"]) => number) => tanks.reduce((all, t) => all + of(t), 0);
  const conflicts = now.conflicts.filter(
    (c) => !areas.length || !c.areas.length || c.areas.some((a) => areas.includes(a)),
  );
  const seats = areas.length
    ? areas.reduce((all, a) => all + (now.open_seats_of[a] ?? 0), 0)
    : now.open_seats;
  const assets = conflicts.filter((c) =>
    ["window", "out of service", "one job", "tool", "earliest", "latest", "order"].includes(c.code),
  ).length;
  const people = conflicts.length - assets;
  const available = sum((t) => t.available);
  const fill = available ? sum((t) => t.load) / available : 0;
  const over = tanks.filter((t) => t.mood === "over").length;
  const bar = useRef<HTMLElement>(null);
  const { pathname } = useLocation();
  useEffect(() => {
    bar.current?.querySelector("a.active")?.scrollIntoView({ block: "nearest", inline: "center" });
  }, [pathname]);
  const figures: Record<Step, [string, string]> = {
    gather: summary
      ? [`${summary.ready} ready`, summary.waiting ? `${summary.waiting} waiting` : ""]
      : ["", ""],
    balance: [`${percent(fill, 0)} of hours placed`, over ? `▲ ${over} over` : ""],
    agree: [
      now.status === "drafting" ? "not agreed" : "agreed",
      assets ? `▲ ${count(assets, "conflict")}` : "",
    ],
    crew: [count(seats, "open seat"), people ? `▲ ${count(people, "conflict")}` : ""],
    publish: [
      now.revision ? `revision ${now.revision}` : "nothing yet",
      now.changed_since ? "changed since" : "",
    ],
    run: [
      compliance && compliance.by_jobs !== null
        ? `${percent(compliance.by_jobs, 0)} of WOs done`
        : "not begun",
      "",
    ],
  };
  return (
    <nav ref={bar} className="strip" aria-label="Steps of the week">
      {STEPS.map((step, n) => (
        <NavLink
          key={step}
          to={`/week/${week}/${step}`}
          onClick={(e) => {
            if (plain(e)) {
              e.preventDefault();
              go(`/week/${week}/${step}${sameView()}`);
            }
          }}
        >
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
