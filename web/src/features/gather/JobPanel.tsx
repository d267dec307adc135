import { useQueryClient } from "@tanstack/react-query";
import { Button, Dropdown, Spin } from "antd";
import { useEffect } from "react";

import { http, need, type Key, type Shapes } from "../../api/client";
import { keys, useJob, useWhy } from "../../api/queries";
import { useKept } from "../../app/address";
import { dayName, figure, hours, localDay, when } from "../../kit/words";
import { Download } from "../../kit/Download";
import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { GiveNow } from "../give/GiveNow";
import { OneStop } from "../preventive/OneStop";
import { useWeek } from "../week/context";
import { nextWeek } from "../week/nextWeek";
import { Beside } from "./Beside";
import { Costs } from "./Costs";
import { Line } from "./Line";
import { Gates, Priority } from "./Marks";
import { Permits } from "./Permits";
import { PutOnDay } from "./PutOnDay";
import { TaskOfJob } from "./TaskOfJob";

/** The job over the whole page, in columns, while nothing else is looked at; kept in the address. */
function useWide(): [boolean, (on: boolean) => void] {
  const [kept, keep] = useKept("wide");
  const wide = kept === "job";
  useEffect(() => {
    document.documentElement.classList.toggle("widejob", wide);
    return () => document.documentElement.classList.remove("widejob");
  }, [wide]);
  return [wide, (on) => keep(on ? "job" : "")];
}

/** The whole job: what, where it stands, why it is not in, its tasks. */
export function JobPanel({ number }: { number: string }) {
  const view = useWeek();
  const { week, now, edit, openJob } = view;
  const [wide, setWide] = useWide();
  const job = useJob(week, number);
  const j = job.data;
  const placed = (j?.placements.length ?? 0) > 0;
  const why = useWhy(week, number, j !== undefined && !placed);
  if (job.error) return <p className="brick">{job.error.message}</p>;
  if (!j) return <Spin />;
  const placements: Key[] = j.placements.map((p) => [number, p.task, p.portion]);
  const pinned = j.placements.some((p) => p.pinned);
  const mayEdit = view.can("edit");
  return (
    <div className="jobpage">
      <section>
        <div className="row">
          <Priority value={j.priority} must={j.must} />
          <h1 className="grow">{j.title}</h1>
          {view.can("plan") && (
            <Button size="small" onClick={() => view.openOrder("change")}>
              Change
            </Button>
          )}
          <Button
            size="small"
            type="text"
            aria-label="On the whole page"
            aria-pressed={wide}
            title={wide ? "Beside the list again" : "On the whole page"}
            onClick={() => setWide(!wide)}
          >
            {wide ? "⇥" : "⇤"}
          </Button>
          <Button size="small" type="text" aria-label="Close the job" onClick={() => openJob(null)}>
            ×
          </Button>
        </div>
        <p className="soft">
          {j.number} · {j.asset} · {j.area}
        </p>
        <p>
          {j.must && <span className="strong">must · </span>}
          {j.kind} · {j.state} · {hours(j.hours)} of work
          {j.due && <> · due {dayName(localDay(j.due, now.timezone))}</>}
        </p>
        <p style={{ marginTop: 4 }}>
          <Gates shut={Object.keys(j.gates).filter((g) => !j.gates[g as keyof typeof j.gates])} />{" "}
          {j.parts_ready && <span className="soft small"> parts from {dayName(j.parts_ready)}</span>}
          {j.earliest && (
            <span className="soft small"> not before {dayName(localDay(j.earliest, now.timezone))}</span>
          )}
        </p>
        {j.kit && <p className="small">▣ parts set aside: {j.kit}</p>}
        <Facts job={j} />
        {j.description && <p style={{ marginTop: 6 }}>{j.description}</p>}
        <p className="small">
          <Download href={`/api/weeks/${week}/order-sheet.pdf?number=${encodeURIComponent(number)}`}>
            Sheet
          </Download>{" "}
          <span className="soft">PDF</span>
        </p>
      </section>
      {j.changes.length > 0 && <Changes number={number} changes={j.changes} mayEdit={mayEdit} />}
      <section>
        <h2>{placed ? "In the week" : "Not in the week"}</h2>
        {j.conflicts.map((c) => (
          <p key={c} className="brick">
            ▲ {c}
          </p>
        ))}
        {j.placements.map((p) => (
          <p key={`${p.task}-${p.portion}`}>
            task {p.task}: {when(p.day, p.start, p.end, now.timezone)}{" "}
            {p.people.some((x) => !x) && (
              <span className="ochre">◆ {p.people.filter((x) => !x).length} open</span>
            )}
            {p.pinned && <span className="soft"> · pinned</span>}
          </p>
        ))}
        {placed &&
          j.shut.map((g) => (
            <p key={g.gate} className="ochre">
              ◆ {g.gate} gate shut: {g.text}
            </p>
          ))}
        {!placed && j.why_not_placed && <p className="brick">It can not be placed: {j.why_not_placed}.</p>}
        {!placed && why.isPending && <p className="soft">Finding out why …</p>}
        {why.data?.reasons.map((r) => (
          <p key={r.text}>
            <span className="strong">{r.code}</span>: {r.text}.
          </p>
        ))}
        {(why.data?.would_help.length ?? 0) > 0 && (
          <div className="box" style={{ marginTop: 8 }}>
            <h2>What would let it in</h2>
            {why.data!.would_help.map((h) => (
              <p key={h.text}>· {h.text}</p>
            ))}
          </div>
        )}
        {mayEdit && (
          <div className="row wrap" style={{ marginTop: 10 }}>
            {!placed && (
              <Button
                size="small"
                type="primary"
                disabled={j.why_not_placed !== null}
                onClick={() => edit({ kind: "put", jobs: [number], day: null })}
              >
                {j.shut.length ? "Put it in all the same" : "Put it in"}
              </Button>
            )}
            {!placed && j.why_not_placed === null && <PutOnDay key={number} job={number} />}
            {placed && (
              <Button size="small" onClick={() => edit({ kind: "pin", keys: placements, on: !pinned })}>
                {pinned ? "Unpin" : "Pin"}
              </Button>
            )}
            {placed && (
              <Button size="small" onClick={() => edit({ kind: "take out", jobs: [number] })}>
                Take out
              </Button>
            )}
            {placed && (
              <Dropdown
                trigger={["click"]}
                autoFocus
                menu={{
                  items: nextWeek(now),
                  onClick: ({ key }) =>
                    void edit({ kind: "next week", jobs: [number], day: key.slice(5) || null }),
                }}
              >
                <Button size="small">Next week ▾</Button>
              </Dropdown>
            )}
          </div>
        )}
        {mayEdit && placed && <GiveNow key={number} job={number} />}
      </section>
      <Line job={j} />
      {j.history.length > 0 && (
        <section>
          <h2>Left over before</h2>
          {j.history.map((h) => (
            <p key={h.week}>
              {h.week}: {h.reason}{" "}
              <span className="soft">
                · {hours(h.hours)} left, to {h.to === "backlog" ? "the backlog" : h.to}
              </span>
            </p>
          ))}
        </section>
      )}
      <section>
        <h2>Tasks</h2>
        {j.guessed.length > 0 && (
          <p className="small ochre">
            ≈ Guessed: {j.guessed.join(", ")}. The export that it came in by did not say; change it and it
            counts as said.
          </p>
        )}
        {j.tasks.map((t) => (
          <TaskOfJob key={t.number} job={j} task={t} today={now.today} buys={view.can("stock")} />
        ))}
        {j.isolation.length > 0 && (
          <p className="small" style={{ marginTop: 6 }}>
            <span className="soft">Shut off and locked:</span> {j.isolation.join(" · ")}
          </p>
        )}
      </section>
      <OneStop key={`stop ${number}`} number={number} may={view.can("plan")} />
      <Permits number={number} />
      <Costs number={number} />
      <Beside key={`beside ${number}`} number={number} />
      <History key={number} noun="work order" of={[number]} />
    </div>
  );
}

/** What an export changed of a placed job: told until somebody has seen it. */
function Changes({
  number,
  changes,
  mayEdit,
}: {
  number: string;
  changes: Shapes["MarkLine"][];
  mayEdit: boolean;
}) {
  const client = useQueryClient();
  const { week } = useWeek();
  const refuse = useRefusal();
  const seen = async () => {
    try {
      await need(http.POST("/api/foreign/marks/{number}/seen", { params: { path: { number } } }));
      void client.invalidateQueries({ queryKey: keys.week(week) });
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  return (
    <section className="box" aria-label="Changed in the export">
      <p className="strong ochre">◆ Changed by the export of {changes[0]!.source}</p>
      {changes.map((c) => (
        <p key={c.what + c.at} className="small">
          {c.what}: {c.before} → <span className="strong">{c.after}</span>
        </p>
      ))}
      <p className="small soft">It stays where it was placed.</p>
      {mayEdit && (
        <Button size="small" style={{ marginTop: 6 }} onClick={() => void seen()}>
          Seen
        </Button>
      )}
    </section>
  );
}

/** How its priority comes about, and who pays for it, is answerable and knows more. */
function Facts({ job: j }: { job: Shapes["WholeJob"] }) {
  const { criticality, kind_weight, ageing, correction } = j.priority_parts;
  const told = [
    j.sub_kind,
    j.crew && `answerable ${j.crew}`,
    j.contact && `ask ${j.contact}`,
    j.department,
    j.cost_account && `account ${j.cost_account}`,
    j.plan && `made of ${j.plan}`,
  ].filter(Boolean);
  return (
    <p className="soft small" style={{ marginTop: 4 }}>
      priority: criticality {criticality} × {figure(kind_weight)} for {j.kind}
      {ageing > 0 && `, ${figure(Math.round(ageing * 10) / 10)} for its age`}
      {correction !== 0 && `, ${correction > 0 ? "+" : "−"}${figure(Math.abs(correction))} by hand`}
      {told.length > 0 && <br />}
      {told.join(" · ")}
    </p>
  );
}
