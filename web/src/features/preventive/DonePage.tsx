import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import type { Column, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { Choice } from "../../kit/Choice";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { count, dayName, hours, percent } from "../../kit/words";
import { PreventiveTabs } from "./PreventiveTabs";
import { PreventiveView } from "./PreventiveView";

const WHERE = { list: "done services" };
const HEARD = ["done services", "preventive"];
const MOST = 12;
const ORDER: Sort[] = [{ column: "done", down: true }];
const RANGES = [
  { days: 91, label: "A quarter" },
  { days: 365, label: "A year" },
  { days: 1095, label: "Three years" },
];

/** What became of preventive services, and how much of what fell due was done in time. */
export function DonePage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const [opened, setOpened] = useKept("open");
  return (
    <ListPage
      page={page}
      tabs={<PreventiveTabs />}
      heard={HEARD}
      name="What became of services"
      noun="service"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      cell={(column, row) => doneCell(column, row, me.week)}
      empty={{
        title: "No service fits",
        text: "Take a filter off; what is raised of preventive plans stands here with what became of it.",
      }}
      side={{
        name: "The record",
        about: opened,
        shown: opened ? (
          <>
            <Button size="small" onClick={() => setOpened("")}>
              The record of all
            </Button>
            <PreventiveView number={opened.slice(0, opened.indexOf(" / "))} week={me.week} />
          </>
        ) : (
          <Record areas={me.areas} />
        ),
      }}
    />
  );
}

function Record({ areas }: { areas: string[] }) {
  const [days, setDays] = useState(365);
  const found = useQuery({
    queryKey: ["preventive", "record", days, areas],
    queryFn: () => need(http.GET("/api/preventive/record", { params: { query: { days, areas } } })),
  });
  const r = found.data;
  const longer = r?.plans.filter((p) => p.longer) ?? [];
  const worst = [...(r?.plans ?? [])]
    .filter((p) => p.due > 0 && p.in_time < p.due)
    .sort((a, b) => a.in_time / a.due - b.in_time / b.due)
    .slice(0, 8);
  return (
    <>
      <div className="row wrap">
        {RANGES.map((range) => (
          <Button
            key={range.days}
            size="small"
            type={range.days === days ? "primary" : "default"}
            aria-pressed={range.days === days}
            onClick={() => setDays(range.days)}
          >
            {range.label}
          </Button>
        ))}
      </div>
      {found.error && <p className="brick">{found.error.message}</p>}
      {r && (
        <section aria-label="In time">
          <h1>
            {r.compliance === null ? "Nothing was due" : `${percent(r.compliance)} in time`}
            <span className="secondline soft small light">
              of {r.due} due since {dayName(r.first)} {r.first.slice(0, 4)}
            </span>
          </h1>
          <p>
            {r.in_time} in time · {r.late} late · {r.left_out} left out ·{" "}
            <span className={r.open_late ? "brick" : ""}>
              {r.open_late ? "▲ " : ""}
              {r.open_late} open past tolerance
            </span>
          </p>
          <p className="soft small">{r.formula}</p>
        </section>
      )}
      {worst.length > 0 && (
        <section aria-label="Least in time">
          <h2>Least in time</h2>
          {worst.map((p) => (
            <p key={p.plan} className="item row">
              <span className="grow" dir="auto">
                {p.title} <span className="soft small">{p.plan}</span>
              </span>
              <span>
                {p.in_time} of {p.due}
              </span>
            </p>
          ))}
        </section>
      )}
      <HoursOf days={days} areas={areas} />
      {longer.length > 0 && (
        <section aria-label="May be too often">
          <h2>May be too often</h2>
          <p className="soft small">
            Nothing corrective followed on these within two weeks. A longer interval may do; only somebody who
            knows the asset can tell.
          </p>
          {longer.map((p) => (
            <p key={p.plan} className="item row">
              <span className="grow" dir="auto">
                {p.title} <span className="soft small">{p.plan}</span>
              </span>
              <span>{count(p.done, "time")}, nothing found</span>
            </p>
          ))}
        </section>
      )}
    </>
  );
}

const BY = { person: "by person", asset: "by asset", task: "by task" } as const;

function HoursOf({ days, areas }: { days: number; areas: string[] }) {
  const [by, setBy] = useState<keyof typeof BY>("person");
  const found = useQuery({
    queryKey: ["preventive", "record", "hours", by, days, areas],
    queryFn: () => need(http.GET("/api/preventive/record/hours", { params: { query: { by, days, areas } } })),
    placeholderData: keepPreviousData,
  }).data;
  if (!found?.length) return null;
  return (
    <section aria-label="Hours spent">
      <div className="row">
        <h2 className="grow">Hours spent</h2>
        <Choice
          hidden
          label="Hours by"
          width={110}
          value={by}
          change={(v) => setBy(v as keyof typeof BY)}
          options={Object.entries(BY).map(([value, label]) => ({ value, label }))}
        />
      </div>
      {found.slice(0, MOST).map((line) => (
        <p key={line.name} className="item row">
          <span className="grow" dir="auto">
            {line.name || "nobody said who"} <span className="soft small">{count(line.tasks, "task")}</span>
          </span>
          <span>{hours(line.hours)}</span>
        </p>
      ))}
      {found.length > MOST && <p className="soft small">the {MOST} with the most hours</p>}
    </section>
  );
}

function doneCell(column: Column, row: ListRow, week: string) {
  const c = row.cells;
  if (column.name === "order" && typeof c.order === "string")
    return <Link to={`/week/${week}/gather?job=${encodeURIComponent(c.order)}`}>{c.order}</Link>;
  if (column.name === "late" && Number(c.late) > 0) return <span className="brick">▲ {String(c.late)}</span>;
  if (column.name === "state" && c.state === "done") return <span className="verdigris">✓ done</span>;
  return undefined;
}
