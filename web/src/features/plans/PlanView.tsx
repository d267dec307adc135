import { App, Button, Spin } from "antd";

import type { Shapes } from "../../api/client";
import { useMe } from "../../api/queries";
import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { clock, count, dayName, hours, localDay } from "../../kit/words";
import { networkOf, workOf } from "../orders/network";
import { Estimates } from "./Estimates";
import { PlanState } from "./PlanState";
import { usePlan, usePlanWrites, type Plan } from "./usePlans";

const VERBS: Record<string, string> = { "in force": "Put in force", retired: "Retire" };

/** One job plan: its tasks, what it applies to, what its uses teach, what changed between its editions. */
export function PlanView({ number, change }: { number: string; change?: (plan: Plan) => void }) {
  const found = usePlan(number);
  const me = useMe().data;
  const { move, accept } = usePlanWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const plan = found.data;
  const p = plan.plan;
  const zone = me?.timezone ?? "UTC";
  const act = async (what: string, work: Promise<unknown>) => {
    try {
      await work;
      void message.success(what);
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const { hours: elapsed } = networkOf(plan.tasks);
  const work = plan.tasks.reduce((all, t) => all + workOf(t), 0);
  return (
    <>
      <section>
        <h1 dir="auto">{p.title}</h1>
        <p>
          <span className="strong">{p.number}</span> · <PlanState state={p.state!} />
          {` · edition ${p.edition} · ${p.kind}`}
        </p>
        {p.valid_from && (
          <p>
            holds from {dayName(p.valid_from)} {p.valid_from.slice(0, 4)} on
          </p>
        )}
        <p className="soft">{appliesTo(plan)}</p>
        {p.description && (
          <p dir="auto" style={{ whiteSpace: "pre-wrap", marginTop: 8 }}>
            {p.description}
          </p>
        )}
        {change && (
          <div className="row wrap" style={{ marginTop: 8 }}>
            {p.state !== "retired" && (
              <Button size="small" type="primary" onClick={() => change(plan)}>
                Change <kbd>E</kbd>
              </Button>
            )}
            {plan.moves.map(({ to, why }) => (
              <Button
                key={to}
                size="small"
                disabled={why !== null}
                title={why ?? undefined}
                onClick={() => void act(`${p.number} is ${to}`, move(plan, to))}
              >
                {VERBS[to] ?? to}
              </Button>
            ))}
          </div>
        )}
      </section>
      <section aria-label="Tasks">
        <h2>Tasks</h2>
        <ol className="plaintasks">
          {plan.tasks.map((t) => (
            <li key={t.task} className="item">
              <span className="strong">{t.task}</span> <span dir="auto">{t.title}</span>{" "}
              <span className="soft small">
                {hours(Number(t.hours))} · {t.needs || "nobody named"}
                {t.asset_state !== "any" && ` · asset ${t.asset_state}`}
                {t.after && ` · after ${t.after}`}
              </span>
            </li>
          ))}
        </ol>
        <p className="soft small">
          {hours(work)} of work{elapsed > 0 && `, ${hours(elapsed)} from first to last`}
        </p>
      </section>
      <section aria-label="Planned and spent">
        <h2>Planned and spent</h2>
        <Estimates
          estimates={plan.estimates}
          accept={
            change && p.state !== "retired"
              ? (tasks) =>
                  void act(
                    `${count(tasks.length, "task")} of ${p.number} planned as suggested`,
                    accept(plan, tasks),
                  )
              : undefined
          }
        />
        {plan.uses.slice(0, 5).map((u) => (
          <p key={u.number} className="item small">
            <span className="strong">{u.number}</span> <span dir="auto">{u.asset}</span>{" "}
            <span className="soft">
              {dayName(u.raised)} {u.raised.slice(0, 4)} · {hours(u.spent)} of {hours(u.planned)}
            </span>
          </p>
        ))}
      </section>
      <Editions editions={plan.editions} zone={zone} />
      <History key={p.number} noun="job plan" of={[p.number!]} />
    </>
  );
}

function appliesTo({ plan, asset_names }: Plan): string {
  const single = Object.values(asset_names);
  const parts = [
    ...(plan.words ? [`assets named ${plan.words.split(/\s+/).join(", ")}`] : []),
    ...(single.length ? [single.join(", ")] : []),
  ];
  return parts.length ? `For ${parts.join("; and for ")}` : "For any asset";
}

function Editions({ editions, zone }: { editions: Shapes["EditionLine"][]; zone: string }) {
  if (!editions.length) return null;
  return (
    <section aria-label="Editions">
      <h2>Editions</h2>
      {editions.map((e) => (
        <div key={e.edition} className="item">
          <span className="strong">{e.edition}</span>{" "}
          <span className="soft small">
            {dayName(localDay(e.at, zone))} {clock(e.at, zone)}
            {e.by && `, ${e.by}`}
          </span>
          {e.changes.map((c) => (
            <p key={`${c.task} ${c.field}`} className="small">
              {c.task && `Task ${c.task}, `}
              {c.field}: <s className="soft">{c.before}</s> → {c.after}
            </p>
          ))}
        </div>
      ))}
    </section>
  );
}
