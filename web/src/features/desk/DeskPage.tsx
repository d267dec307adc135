import { useQuery } from "@tanstack/react-query";
import { Spin } from "antd";
import { Link } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { useTitle } from "../../app/title";
import { count, figure, hours } from "../../kit/words";
import { WorkTabs } from "../work/WorkTabs";

type Craft = Shapes["CraftDesk"];
type PastWeek = Craft["past"][number];
const WIDTH = 222;
const HEIGHT = 34;
/** Weeks of ready work below which a craft soon stands idle. Common practice, no source. */
const ENOUGH = 2;

/**
 * Whether next week will have enough ready work: what is asked for, being planned, ready and placed, craft by
 * craft.
 */
export function DeskPage({ me }: { me: Shapes["Me"] }) {
  useTitle("Planning desk");
  const found = useQuery({
    queryKey: keys.part(me.week, "desk"),
    queryFn: () => need(http.GET("/api/weeks/{week}/planning-desk", { params: { path: { week: me.week } } })),
  });
  return (
    <main className="lists">
      <WorkTabs />
      <div className="page desk">
        {found.error && <p className="brick">{found.error.message}</p>}
        {found.isPending && <Spin />}
        {found.data && <Desk desk={found.data} />}
      </div>
    </main>
  );
}

function Desk({ desk: d }: { desk: Shapes["Desk"] }) {
  const low = d.crafts.filter((c) => c.weeks !== null && c.weeks < ENOUGH);
  return (
    <>
      <p className="stages">
        <Link to="/work/requests">
          <b>{d.requests_new}</b> new requests
        </Link>
        {d.requests_asked_back > 0 && <span className="soft">, {d.requests_asked_back} asked back</span>}
        <span aria-hidden> → </span>
        <b>{d.being_planned}</b> WOs being planned
        <span aria-hidden> → </span>
        <b>{d.ready}</b> ready
        <span aria-hidden> → </span>
        <b>{d.placed}</b> placed in {d.week}
      </p>
      <p className={low.length ? "ochre" : "soft"}>
        {low.length
          ? `◆ Under ${ENOUGH} weeks of ready work: ${low.map((c) => c.name).join(", ")}. Plan these first.`
          : `Every craft has ${ENOUGH} weeks of ready work or more.`}
      </p>
      <table className="desktable">
        <thead>
          <tr>
            <th scope="col">Craft</th>
            <th scope="col">Being planned</th>
            <th scope="col">Ready</th>
            <th scope="col">Placed</th>
            <th scope="col">Has in {d.week}</th>
            <th scope="col" title="Ready and placed hours by the hours that the craft has">
              Weeks of ready work
            </th>
            <th scope="col">The last twelve weeks</th>
          </tr>
        </thead>
        <tbody>
          {d.crafts.map((c) => (
            <tr key={c.craft}>
              <th scope="row">{c.name}</th>
              <td>{hours(c.being_planned)}</td>
              <td>{hours(c.ready)}</td>
              <td>{hours(c.placed)}</td>
              <td>{hours(c.hours_a_week)}</td>
              <td>
                <Weeks craft={c} />
              </td>
              <td>
                <Past craft={c} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft small">
        Each WO counts once: placed in {d.week}, else ready, else being planned. Hours are work hours left.
        Past weeks as they began: placed at the bottom, ready on it, being planned on top; a column that is
        empty tells what was open after it, where its stages were not kept.
      </p>
    </>
  );
}

function Weeks({ craft: { weeks } }: { craft: Craft }) {
  if (weeks === null) return <span className="soft">no hours</span>;
  return weeks < ENOUGH ? <span className="ochre">◆ {figure(weeks)}</span> : <>{figure(weeks)}</>;
}

/**
 * The stages of each past week as a column: placed at the bottom, ready on it, being planned on top; an empty
 * one where only what was open is known.
 */
function Past({ craft: { past, name } }: { craft: Craft }) {
  const last = past.at(-1);
  if (!last) return null;
  const all = (p: PastWeek) =>
    p.ready == null ? p.open : (p.placed ?? 0) + p.ready + (p.being_planned ?? 0);
  const most = Math.max(1, ...past.map(all));
  const high = (h: number) => ((HEIGHT - 4) * h) / most;
  const step = WIDTH / past.length;
  const flow = `${hours(sum(past, "raised"))} raised, ${hours(sum(past, "done"))} finished`;
  const said = `${name}, ${last.week}: ${told(last)}; in ${count(past.length, "week")} ${flow}`;
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={said}>
      {past.map((p, n) => {
        const x = n * step + 2;
        const column = (from: number, h: number, fill: string) => (
          <rect x={x} width={step - 5} y={HEIGHT - high(from + h)} height={high(h)} fill={fill} />
        );
        return (
          <g key={p.week}>
            <title>
              {p.week}: {told(p)}; {hours(p.raised)} raised, {hours(p.done)} finished
            </title>
            {p.ready == null ? (
              <rect
                x={x + 0.5}
                width={step - 6}
                y={HEIGHT - high(p.open)}
                height={high(p.open)}
                fill="none"
                stroke="var(--edge2)"
              />
            ) : (
              <>
                {column(0, p.placed ?? 0, "var(--verdigris)")}
                {column(p.placed ?? 0, p.ready, "var(--verdigris2)")}
                {column((p.placed ?? 0) + p.ready, p.being_planned ?? 0, "var(--edge2)")}
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}

const told = (p: PastWeek) =>
  p.ready == null
    ? `${hours(p.open)} open`
    : `${hours(p.placed ?? 0)} placed, ${hours(p.ready)} ready, ${hours(p.being_planned ?? 0)} being planned`;
const sum = (past: Craft["past"], what: "raised" | "done") => past.reduce((all, p) => all + p[what], 0);
