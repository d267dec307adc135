import { Button, Input } from "antd";
import { useState } from "react";

import { useQuery } from "@tanstack/react-query";
import { http, need, type Shapes } from "../../api/client";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { keysOf, Picked } from "../../kit/Picked";
import { Typed } from "../../kit/Typed";
import { Day, Hours } from "../../kit/When";
import { Worded } from "../../kit/Worded";
import { dayName, hours } from "../../kit/words";
import { Remarks } from "../orders/DoesNotHold";
import { FormEnd } from "../orders/FormEnd";
import { Crew } from "../orders/TaskCrew";
import { useChoices } from "../orders/useOrders";
import { useWorkForm, type Start } from "../orders/workForm";
import { usePlanChoices } from "../plans/usePlans";
import { RungRows } from "./RungRows";
import { rungsOf } from "./rungs";
import { Season } from "./Season";
import { TaskGrid } from "./TaskGrid";
import { formOf, preventiveNow, useAhead, usePreventiveWrites } from "./usePreventive";

const TOLERANCE = "Days, or a share of the interval, like 10 %";

export const FRESH_PREVENTIVE: Start = {
  order: {
    title: "",
    kind: "preventive",
    basis: "fixed",
    rungs: "service: 1 month",
    notice: "14",
    assets: "",
  },
  tasks: [],
  revision: null,
};

/**
 * A preventive plan by hand: what recurs where, how often; what comes next is drawn while it is filled in.
 */
export function PreventivePanel({
  start,
  close,
}: {
  start: Start & { like?: string };
  close: (made?: string) => void;
}) {
  const number = start.revision === null ? null : start.order.number!;
  const { save } = usePreventiveWrites();
  const { assets, tree, used } = useChoices();
  const plans = usePlanChoices("");
  const [started, setStarted] = useState("");
  const form = useWorkForm({ start, close, fresh: async () => formOf(await preventiveNow(number!)) });
  const { order: p, set, base, wrong, changed, act } = form;
  const status = (field: string) => (wrong?.field === field ? "error" : undefined);
  const tasks = useTasks(p.job_plan ?? "");
  const daysOrShare = (name: string, label: string, empty: string, title: string) => (
    <label style={{ width: 92 }}>
      {label}
      <Input
        aria-label={label}
        title={title}
        status={status(name)}
        value={p[name] ?? ""}
        placeholder={empty}
        onChange={(e) => set(name, e.target.value)}
      />
    </label>
  );
  const figure = (name: string, label: string) => (
    <label style={{ width: 92 }}>
      {label}
      <Input
        inputMode="numeric"
        aria-label={label}
        status={status(name)}
        value={p[name] ?? ""}
        placeholder="0"
        onChange={(e) => set(name, e.target.value.replace(/\D/g, "").slice(0, 3))}
      />
    </label>
  );
  return (
    <Panel
      close={() => close()}
      title={number ?? (start.like ? `New plan, like ${start.like}` : "New preventive plan")}
      width={560}
      unsaved={changed}
    >
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(() => save(p, started, base.revision, start.like ?? null));
        }}
      >
        <label>
          Title
          <Input
            aria-label="Title"
            autoFocus
            status={status("title")}
            value={p.title}
            maxLength={200}
            onChange={(e) => set("title", e.target.value)}
          />
        </label>
        <div className="row">
          <Typed
            label="Job plan"
            options={plans
              .filter((c) => !c.site)
              .map((c) => ({ value: c.number, label: `${c.title} · ${c.number}` }))}
            value={p.job_plan || null}
            change={(v) => set("job_plan", v ?? "")}
            placeholder="type a part of its name"
            wrong={wrong?.field === "job_plan"}
          />
          <Choice
            label="Kind"
            width={130}
            value={p.kind || "preventive"}
            change={(v) => set("kind", v)}
            options={["preventive", "statutory"]}
          />
          <Choice
            label="Raised as"
            width={130}
            value={p.raises || "work order"}
            change={(v) => set("raises", v)}
            options={[
              { value: "work order", label: "a WO" },
              { value: "request", label: "a request" },
            ]}
          />
        </div>
        <Picked
          group="Assets"
          label="On these assets"
          options={assets}
          cell={p.assets ?? ""}
          change={(v) => set("assets", v)}
          wrong={wrong?.field === "assets"}
        />
        <AllOf cell={p.assets ?? ""} tree={tree} change={(v) => set("assets", v)} />
        {!p.job_plan && (
          <section aria-label="Work typed in" className="stack">
            <p className="soft small">
              Without a job plan its work is what the description says, with these hours and people.
            </p>
            <div className="row">
              <label style={{ width: 120 }}>
                Hours
                <Hours
                  bare
                  empty
                  label="Hours"
                  value={p.hours ?? ""}
                  change={(v) => set("hours", v)}
                  wrong={wrong?.field === "hours"}
                />
              </label>
              <Choice
                label="Asset state"
                width={130}
                value={p.asset_state || "any"}
                change={(v) => set("asset_state", v)}
                options={["any", "stopped", "running"]}
              />
            </div>
            <Crew
              task={{ task: "10", needs: p.needs ?? "", hours: p.hours ?? "" }}
              change={(v) => set("needs", v)}
              wrong={wrong?.field === "needs"}
              setHours={(v) => set("hours", v)}
            />
          </section>
        )}
        <RungRows cell={p.rungs ?? ""} change={(v) => set("rungs", v)} wrong={wrong?.field === "rungs"} />
        <div className="row">
          <Choice
            label="Counts from"
            width={230}
            value={p.basis || "fixed"}
            change={(v) => set("basis", v)}
            options={[
              { value: "fixed", label: "its dates, whatever happens" },
              { value: "floating", label: "the day on which it was done" },
            ]}
          />
          <label className="grow">
            {number ? "New assets begin on" : "Last done on"}
            <Day
              bare
              empty
              label={number ? "New assets begin on" : "Last done on"}
              placeholder="today"
              value={started}
              change={setStarted}
            />
          </label>
        </div>
        <div className="row">
          {daysOrShare("before", "May be early", "0", TOLERANCE)}
          {daysOrShare("behind", "May be late", "0", TOLERANCE)}
          {daysOrShare(
            "notice",
            "Notice",
            "14",
            "Days before it is due, or a share of its interval, like 75 %",
          )}
          {rungsOf(p.rungs ?? "").length > 1 && figure("together", "One within")}
        </div>
        <p className="soft small" style={{ margin: 0 }}>
          Each in days, or as a share of the interval, like 10 %. What is done later than it may be counts as
          late.
        </p>
        <Season
          cell={p.season ?? ""}
          outside={p.outside || "skip"}
          change={(cell) => set("season", cell)}
          setOutside={(v) => set("outside", v)}
        />
        <TaskGrid
          tasks={tasks}
          rungs={rungsOf(p.rungs ?? "").map((r) => r.name.trim())}
          cell={p.grid ?? ""}
          change={(v) => set("grid", v)}
        />
        <div className="row">
          <Worded
            label="Answerable crew or person"
            used={used.crews}
            value={p.crew ?? ""}
            change={(v) => set("crew", v)}
          />
          <Worded
            label="Priority corrected by, points"
            used={[]}
            value={p.correction === "0.0" ? "" : (p.correction ?? "")}
            change={(v) => set("correction", v)}
            wrong={wrong?.field === "correction"}
            placeholder="0"
            width={220}
          />
        </div>
        <ComesNext plan={p} started={started} />
        <FormEnd form={form} send={number ? "Save" : "Make the plan"} leave={() => close()} />
      </form>
    </Panel>
  );
}

/** All assets of an area, or all that are part of one, at once. */
function AllOf({
  cell,
  tree,
  change,
}: {
  cell: string;
  tree: Shapes["AssetChoice"][];
  change: (cell: string) => void;
}) {
  const areas = [...new Set(tree.map((a) => a.area))].sort();
  const add = (area: string) => {
    const its = tree.filter((a) => a.area === area).map((a) => a.key);
    change([...new Set([...keysOf(cell), ...its])].join("; "));
  };
  return (
    <span className="row small wrap">
      <span className="soft">all of</span>
      {areas.map((area) => (
        <Button
          key={area}
          size="small"
          type="link"
          aria-label={`All assets of ${area}`}
          onClick={() => add(area)}
        >
          {area}
        </Button>
      ))}
    </span>
  );
}

/** The tasks of the job plan that is chosen. */
function useTasks(plan: string) {
  const found = useQuery({
    queryKey: ["plans", plan],
    queryFn: () => need(http.GET("/api/plans/{number}", { params: { path: { number: plan } } })),
    enabled: plan !== "",
  }).data;
  return (found?.tasks ?? []).map((t) => ({ task: t.task!, title: t.title!, hours: Number(t.hours) }));
}

/** What would fall due next, drawn from what stands in the form. */
function ComesNext({ plan, started }: { plan: Record<string, string>; started: string }) {
  const ahead = useAhead({ ...plan, title: plan.title || "…" }, started);
  const drawn = ahead.error ? [] : (ahead.data?.ahead ?? []);
  return (
    <section aria-label="What comes next" className="comesnext">
      <h2>What comes next</h2>
      {ahead.error && <p className="soft small">{ahead.error.message}</p>}
      {!ahead.error && <Remarks of={ahead.data?.remarks ?? []} />}
      <div className="row wrap" style={{ gap: 6 }}>
        {drawn.map((d) => (
          <span key={d.day} className={`due rung${Math.min(d.rungs.length, 3)}`}>
            {dayName(d.day)} {d.day.slice(0, 4)}
            <span className="soft small">
              {" "}
              {d.rungs[0]}
              {d.hours > 0 && ` · ${hours(d.hours)}`}
            </span>
          </span>
        ))}
      </div>
    </section>
  );
}
