import { memo } from "react";

import type { Shapes } from "../../api/client";
import { hours } from "../../kit/words";
import { Checks } from "./Checks";
import { PartsNeeded } from "./PartsNeeded";

const STATE_WORDS: Record<string, string> = {
  stopped: "asset stopped",
  running: "asset running",
  any: "asset in any state",
};

interface Props {
  job: Shapes["WholeJob"];
  task: Shapes["WholeJob"]["tasks"][number];
  today: string;
  /** Whoever looks may ask to buy what is short. */
  buys: boolean;
}

/** A task of the job: how long, who, in which order, how it is done, with what, what is checked. */
export const TaskOfJob = memo(function TaskOfJob({ job, task: t, today, buys }: Props) {
  return (
    <div className="item longitem">
      <div className="row">
        <span className="strong">{t.number}</span>
        <span className="grow">{t.title}</span>
        <span>{hours(t.hours)}</span>
      </div>
      <p className="soft small">
        {t.needs
          .map(
            (n) =>
              `${n.people} ${n.craft_name.toLowerCase()}` +
              (n.level > 1 ? ` level ${n.level}` : "") +
              (n.certificate ? `, ${n.certificate}` : ""),
          )
          .join("; ") || "no crew need"}
        {" · "}
        {STATE_WORDS[t.asset_state]}
        {t.after.length > 0 &&
          ` · after ${t.after.map((a) => a.task + (a.lag ? ` + ${a.lag} h` : "")).join(", ")}`}
        {t.splittable && " · may be split"}
        {t.tools.length > 0 && ` · ${t.tools.join(", ")}`}
        {t.outside.map((o) => ` · ${o.people} of ${o.contract}`).join("")}
        {t.state !== "to do" && ` · ${t.state}`}
        {t.state === "under way" &&
          ` · ${hours(t.hours_spent)} spent${t.hours_left ? `, ${hours(t.hours_left)} left` : ""}`}
      </p>
      {t.text && (
        <details className="small">
          <summary>¶ How it is done</summary>
          <p dir="auto" style={{ whiteSpace: "pre-wrap" }}>
            {t.text}
          </p>
        </details>
      )}
      <PartsNeeded lines={t.parts} today={today} order={job.number} buys={buys} />
      <Checks job={job} task={t.number} lines={t.checklist} />
    </div>
  );
});
