import { App, Button, Spin } from "antd";

import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { count, dayName, figure } from "../../kit/words";
import { PreventiveState } from "./PreventiveState";
import { numberOf, RaisedAs } from "./RaisedAs";
import { usePreventive, usePreventiveWrites, type Preventive } from "./usePreventive";

const span = (written: string) => (/%/.test(written) ? `${written} of its interval` : count(+written, "day"));
const signed = (points: number) => (points > 0 ? `+${figure(points)}` : `−${figure(-points)}`);
const VERBS: Record<string, string> = { running: "Start it", "on hold": "Put on hold", ended: "End it" };

/**
 * One preventive plan: how often, on which assets, what falls due next on each, and what became of the last.
 */
export function PreventiveView({
  number,
  week,
  change,
  another,
}: {
  number: string;
  week: string;
  change?: (plan: Preventive) => void;
  /** Makes one after its pattern. */
  another?: (plan: Preventive) => void;
}) {
  const found = usePreventive(number);
  const { move, hold, raisePicked } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const plan = found.data;
  const p = plan.plan;
  const act = async (what: string, work: Promise<unknown>) => {
    try {
      await work;
      void message.success(what);
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const raise = async (asset: string) => {
    try {
      const { made, not_made } = await raisePicked([{ plan: number, asset }]);
      if (made[0]) void message.success(`${numberOf(made[0])} is raised`);
      else void message.warning(not_made[0]?.why ?? "Nothing is to be raised of it now");
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <>
      <section>
        <h1 dir="auto">{p.title}</h1>
        <p>
          <span className="strong">{p.number}</span> · <PreventiveState state={p.state!} /> · {p.kind}
        </p>
        <p>
          {p.rungs!.split(";").map((r) => (
            <span key={r} className="secondline">
              {r.trim()}
            </span>
          ))}
        </p>
        <p className="soft small">
          {p.basis === "fixed"
            ? "keeps its dates, whatever happens"
            : "counts from the day on which it was done"}
          {` · from ${span(p.before!)} before to ${span(p.behind!)} after · notice ${span(p.notice!)}`}
          {p.job_plan && ` · ${p.job_plan}`}
          {p.crew && ` · ${p.crew}`}
          {Number(p.correction) !== 0 && ` · priority ${signed(Number(p.correction))}`}
          {p.raises === "request" && " · raised as a request"}
        </p>
        {p.description && (
          <p dir="auto" style={{ whiteSpace: "pre-wrap", marginTop: 8 }}>
            {p.description}
          </p>
        )}
        {change && (
          <div className="row wrap" style={{ marginTop: 8 }}>
            <Button size="small" type="primary" onClick={() => change(plan)}>
              Change <kbd>E</kbd>
            </Button>
            {another && (
              <Button
                size="small"
                title={p.state === "running" ? "It runs as soon as it is made" : undefined}
                onClick={() => another(plan)}
              >
                Another like it
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
      <section aria-label="On its assets">
        <h2>On {count(plan.services.length, "asset")}</h2>
        {plan.services.map((s) => (
          <div key={s.asset} className="item">
            <div className="row">
              <span className="grow" dir="auto">
                {s.name}
              </span>
              <span>{s.held ? "held" : s.next_due ? dayName(s.next_due) : "–"}</span>
            </div>
            <p className="soft small">
              {s.next_rungs.join(", takes in ")}
              {s.last_done && ` · last done ${dayName(s.last_done)} ${s.last_done.slice(0, 4)}`}
              {numberOf(s) && (
                <>
                  {" · raised as "}
                  <RaisedAs one={s} week={week} />
                </>
              )}
            </p>
            {change && (
              <div className="row">
                {!numberOf(s) && !s.held && p.state === "running" && (
                  <Button size="small" onClick={() => void raise(s.asset)}>
                    Raise it now
                  </Button>
                )}
                <Button
                  size="small"
                  onClick={() =>
                    void act(
                      `${s.name} is ${s.held ? "taken up again" : "held"}`,
                      hold(number, s.asset, !s.held),
                    )
                  }
                >
                  {s.held ? "Take it up again" : "Hold it here"}
                </Button>
              </div>
            )}
          </div>
        ))}
      </section>
      <Happened plan={plan} week={week} />
      <History key={p.number} noun="preventive plan" of={[p.number!]} />
    </>
  );
}

function Happened({ plan, week }: { plan: Preventive; week: string }) {
  const over = plan.happened.filter((h) => h.state !== "raised");
  const done = over.filter((h) => h.state === "done");
  const onTime = done.filter((h) => h.late === 0).length;
  return (
    <section aria-label="What became of it">
      <h2>What became of it</h2>
      {over.length === 0 && <p className="soft">Nothing is over yet.</p>}
      {done.length > 0 && (
        <p>
          {onTime} of {done.length} done within tolerance
          {over.length > done.length && `, ${over.length - done.length} left out`}
        </p>
      )}
      {plan.happened.slice(0, 12).map((h) => (
        <p key={h.asset + h.due} className="item small">
          <span className={h.late > 0 ? "brick" : ""}>
            {h.late > 0 ? `▲ ${count(h.late, "day")} late` : h.state === "done" ? "✓ done" : h.state}
          </span>{" "}
          <span dir="auto">{h.asset}</span>{" "}
          <span className="soft">
            due {dayName(h.due)} {h.due.slice(0, 4)}
            {h.done && `, done ${dayName(h.done)}`}
            {h.order && (
              <>
                {" · "}
                <RaisedAs one={h} week={week} />
              </>
            )}
          </span>
        </p>
      ))}
    </section>
  );
}
