import { useQueryClient } from "@tanstack/react-query";
import { Alert, App, Button, InputNumber, Select } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { keys, useBacklog, useBuild, useParameters, useRefresh } from "../../api/queries";
import { Panel } from "../../kit/Panel";
import { count, dayName, percent, thousands } from "../../kit/words";
import { useRefusal } from "../../kit/useRefusal";
import { WorkableBeside } from "../balance/Workable";
import { useWeek } from "../week/context";

/** Build: ask, watch value against bound, stop, compare, accept. */
export function BuildPanel({ close }: { close: () => void }) {
  const { week } = useWeek();
  const build = useBuild(week).data ?? null;
  const going = build && ["waiting", "running"].includes(build.state);
  return (
    <Panel close={close} title={`Build week ${Number(week.slice(6))}`}>
      {build?.state === "failed" && (
        <Alert
          type="error"
          showIcon
          style={{ marginBottom: 12 }}
          title="The build ended without a plan"
          description={build.error ?? ""}
        />
      )}
      {going ? (
        <Going build={build} />
      ) : build?.state === "ready" ? (
        <Ready build={build} close={close} />
      ) : (
        <Ask />
      )}
    </Panel>
  );
}

function useDo() {
  const { week } = useWeek();
  const client = useQueryClient();
  const refuse = useRefusal();
  return async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
    await client.invalidateQueries({ queryKey: keys.part(week, "build") });
  };
}

function Ask() {
  const { week, now, areas: mine } = useWeek();
  const areas = now.areas;
  const usual = useParameters().data?.seconds;
  const [form, setForm] = useState<Shapes["BuildForm"]>({
    seconds: 0,
    crafts: null,
    areas: mine.length ? mine : null,
    days: null,
    mode: "all",
  });
  const seconds = form.seconds || usual || 10;
  const run = useDo();
  const some = (list: string[]) => (list.length ? list : null);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void run(() =>
          need(
            http.POST("/api/weeks/{week}/builds", { params: { path: { week } }, body: { ...form, seconds } }),
          ),
        );
      }}
    >
      <label>
        Seconds to search
        <br />
        <InputNumber
          min={1}
          max={600}
          value={seconds}
          onChange={(v) => setForm({ ...form, seconds: v ?? 0 })}
        />
      </label>
      <p className="soft small" style={{ margin: "2px 0 12px" }}>
        The first whole plan is there at once; more time makes it better.
      </p>
      <label style={{ display: "block", marginBottom: 12 }}>
        What to decide
        <Select
          style={{ width: "100%" }}
          aria-label="What to decide"
          value={form.mode ?? "all"}
          onChange={(mode) => setForm({ ...form, mode })}
          options={[
            { value: "all", label: "Jobs with days, times and people" },
            { value: "days", label: "Jobs and days alone; crew them later" },
            { value: "seats", label: "Only times and open seats of what is placed" },
          ]}
        />
      </label>
      {(
        [
          ["Only crafts", "crafts", now.crafts.map((c) => ({ value: c.key, label: c.name }))],
          ["Only areas", "areas", areas.map((a) => ({ value: a.key, label: a.name }))],
          ["Only days", "days", now.days.map((d) => ({ value: d, label: dayName(d) }))],
        ] as const
      ).map(([label, name, options]) => (
        <label key={name} style={{ display: "block", marginBottom: 12 }}>
          {label}
          <Select
            mode="multiple"
            allowClear
            style={{ width: "100%" }}
            placeholder="all"
            aria-label={label}
            options={[...options]}
            value={form[name] ?? []}
            onChange={(v: string[]) => setForm({ ...form, [name]: some(v) })}
          />
        </label>
      ))}
      <Button type="primary" htmlType="submit" autoFocus>
        Start building
      </Button>
      <p className="soft small" style={{ marginTop: 14 }}>
        Pins, and whatever was put, moved or crewed by hand, stay.{" "}
        <Offered crafts={form.crafts ?? []} areas={form.areas ?? []} />
      </p>
    </form>
  );
}

/** So many jobs are fitted in at once. */
const MOST_TO_FIT = 50;

/** How many jobs the build may take: those that the backlog shows as ready for the same choice. */
function Offered({ crafts, areas }: { crafts: string[]; areas: string[] }) {
  const { week } = useWeek();
  const found = useBacklog(week, { page: 1, size: 1, ready: true, area: areas, craft: crafts }).data;
  return found ? (
    <>
      {count(found.total, "job")} {found.total === 1 ? "is" : "are"} offered.
    </>
  ) : null;
}

function Curve({ points }: { points: Shapes["BuildPoint"][] }) {
  if (points.length < 2) return null;
  const last = points[points.length - 1];
  const top = Math.max(...points.map((p) => p.bound ?? p.value));
  const low = Math.min(...points.map((p) => p.value)) * 0.98;
  const x = (s: number) => (300 * s) / Math.max(last.seconds, 0.01);
  const y = (v: number) => 84 - (76 * (v - low)) / Math.max(top - low, 1);
  const bound = last.bound;
  return (
    <svg
      className="curve"
      viewBox="0 0 300 90"
      preserveAspectRatio="none"
      role="img"
      aria-label="Value of the plan over time against the proven bound"
    >
      {bound && (
        <line
          x1="0"
          x2="300"
          y1={y(bound)}
          y2={y(bound)}
          stroke="var(--ochre)"
          strokeDasharray="5 4"
          vectorEffect="non-scaling-stroke"
        />
      )}
      <polyline
        fill="none"
        stroke="var(--verdigris)"
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
        points={points.map((p) => `${x(p.seconds)},${y(p.value)}`).join(" ")}
      />
    </svg>
  );
}

function Figures({ point, seconds }: { point: Shapes["BuildPoint"]; seconds: number }) {
  return (
    <>
      <p>
        <span className="strong">{thousands(point.value)}</span> points
        {point.bound ? (
          <>
            {" "}
            of at most {thousands(point.bound)}:{" "}
            <span className="strong">{percent(point.value / point.bound)}</span>
          </>
        ) : (
          <span className="soft"> · bound being proven</span>
        )}
      </p>
      <p className="soft">
        {point.placed} of {point.jobs} jobs placed · {point.seconds.toFixed(1)} of {seconds} s
      </p>
    </>
  );
}

function Going({ build }: { build: Shapes["BuildShape"] }) {
  const { week } = useWeek();
  const run = useDo();
  const last = build.progress[build.progress.length - 1];
  return (
    <section aria-live="polite">
      <h2>{build.state === "waiting" || !last ? "Waiting for the worker …" : "Building …"}</h2>
      {build.waits_for && <p className="soft">{build.waits_for} Your build is next.</p>}
      <Curve points={build.progress} />
      {last && <Figures point={last} seconds={build.seconds} />}
      {last && !last.compiled && (
        <p className="ochre">
          The engine is still being compiled, which is done once and takes minutes; until then builds find
          less in the same time.
        </p>
      )}
      <Button
        style={{ marginTop: 12 }}
        onClick={() =>
          run(() =>
            need(
              http.POST("/api/weeks/{week}/builds/{build}/stop", {
                params: { path: { week, build: build.id } },
              }),
            ),
          )
        }
      >
        Stop and keep the best so far
      </Button>
    </section>
  );
}

function Ready({ build, close }: { build: Shapes["BuildShape"]; close: () => void }) {
  const { week, openJob, openMend } = useWeek();
  const client = useQueryClient();
  const refresh = useRefresh();
  const { notification } = App.useApp();
  const run = useDo();
  const [busy, setBusy] = useState(false);
  const c = build.changes!;
  const accept = () =>
    run(async () => {
      setBusy(true);
      try {
        const done = await need(
          http.POST("/api/weeks/{week}/builds/{build}/accept", {
            params: { path: { week, build: build.id } },
          }),
        );
        client.setQueryData(keys.part(week, "overview"), done.week);
        void refresh(week);
        const rest = done.to_fit.slice(0, MOST_TO_FIT);
        const named = done.left.slice(0, 12).join(", ") + (done.left.length > 12 ? " …" : "");
        if (done.left.length)
          notification.info({
            key: "left",
            title: `${count(done.left.length, "job")} left as they were`,
            description: `Edited meanwhile, or no longer fitting beside those edits: ${named}`,
            placement: "bottomRight",
            duration: rest.length ? 0 : 10,
            actions: rest.length > 0 && (
              <Button
                size="small"
                type="primary"
                onClick={() => {
                  notification.destroy("left");
                  openMend(rest);
                }}
              >
                Fit {count(rest.length, "job")} in again
              </Button>
            ),
          });
        close();
      } finally {
        setBusy(false);
      }
    });
  const list = (title: string, jobs: string[]) =>
    jobs.length > 0 && (
      <details style={{ margin: "6px 0" }}>
        <summary>
          {title}: <span className="strong">{jobs.length}</span>
        </summary>
        <p className="small">
          {jobs.map((j) => (
            <button
              key={j}
              className="plain verdigris"
              style={{ marginRight: 8 }}
              onClick={() => {
                openJob(j);
                close();
              }}
            >
              {j}
            </button>
          ))}
        </p>
      </details>
    );
  return (
    <section>
      <h2>What would change</h2>
      <Curve points={build.progress} />
      <p>
        Value {thousands(build.value_before)} → <span className="strong">{thousands(build.value ?? 0)}</span>
        {build.bound ? (
          <>
            , proven to be at least{" "}
            <span className="strong">{percent((build.value ?? 0) / build.bound)}</span> of what any schedule
            around your pins and hand work could hold
          </>
        ) : null}
        .
      </p>
      {c.workable && <WorkableBeside before={c.workable.before} after={c.workable.after} />}
      {list("Come in", c.added)}
      {list("Go out", c.removed)}
      {c.moved.length > 0 && (
        <details style={{ margin: "6px 0" }}>
          <summary>
            Change day, time or people: <span className="strong">{c.moved.length}</span>
          </summary>
          {c.moved.slice(0, 200).map((m) => (
            <p key={m.job + m.task} className="small">
              {m.job} task {m.task}:{" "}
              {m.what.includes("day")
                ? `${dayName(m.day_before)} → ${dayName(m.day)}`
                : `${dayName(m.day)}, ${m.what.join(" and ")}`}
            </p>
          ))}
        </details>
      )}
      <p className="soft">
        {c.kept === 0
          ? "No job stays as it is"
          : c.kept === 1
            ? "1 job stays as it is"
            : `${c.kept} jobs stay as they are`}{" "}
        · {build.not_placed} left out, each with a reason
      </p>
      {c.held_up.length > 0 && (
        <Alert
          type="info"
          style={{ marginTop: 8 }}
          title={
            c.held_up.length === 1
              ? "1 job edited meanwhile stays as it is now"
              : `${c.held_up.length} jobs edited meanwhile stay as they are now`
          }
        />
      )}
      <div className="row" style={{ marginTop: 16 }}>
        <Button type="primary" onClick={accept} loading={busy} autoFocus>
          Accept
        </Button>
        <Button
          onClick={() =>
            run(() =>
              need(
                http.POST("/api/weeks/{week}/builds/{build}/drop", {
                  params: { path: { week, build: build.id } },
                }),
              ),
            )
          }
        >
          Drop it
        </Button>
      </div>
    </section>
  );
}
