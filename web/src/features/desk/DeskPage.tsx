import { useQuery } from "@tanstack/react-query";
import { Spin } from "antd";
import { Link } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { useTitle } from "../../app/title";
import { count, figure, hours } from "../../kit/words";
import { WorkTabs } from "../work/WorkTabs";

type Craft = Shapes["CraftDesk"];
const WIDTH = 220;
const HEIGHT = 34;
/** Weeks of ready work below which a craft soon stands idle. Common practice, no source. */
const ENOUGH = 2;

/** Whether next week will have enough ready work: what is asked for, being planned, ready and placed, craft by craft. */
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
            <th scope="col">Open work, last twelve weeks</th>
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
        Each WO counts once: placed in {d.week}, else ready, else being planned. Hours are work hours left;
        those of past weeks as planned: the line is what was open after each week, bars up what was raised,
        bars down what was finished in it.
      </p>
    </>
  );
}

function Weeks({ craft: { weeks } }: { craft: Craft }) {
  if (weeks === null) return <span className="soft">no hours</span>;
  return weeks < ENOUGH ? <span className="ochre">◆ {figure(weeks)}</span> : <>{figure(weeks)}</>;
}

/** Open work at the end of each week as a line, what was raised and finished in it as bars up and down. */
function Past({ craft: { past, name } }: { craft: Craft }) {
  const first = past[0];
  const last = past.at(-1);
  if (!first || !last) return null;
  const most = Math.max(1, ...past.map((p) => p.open));
  const flow = Math.max(1, ...past.flatMap((p) => [p.raised, p.done]));
  const x = (n: number) => 6 + (n * (WIDTH - 12)) / Math.max(1, past.length - 1);
  const y = (h: number) => HEIGHT - 3 - ((HEIGHT - 6) * h) / most;
  const bar = (h: number) => ((HEIGHT / 2 - 2) * h) / flow;
  const said = `${name}: ${hours(first.open)} open after ${first.week}, ${hours(last.open)} after ${last.week}; in ${count(past.length, "week")} ${hours(sum(past, "raised"))} raised, ${hours(sum(past, "done"))} finished`;
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={said}>
      <title>{said}</title>
      {past.map((p, n) => (
        <g key={p.week}>
          <rect
            x={x(n) - 4}
            width={4}
            y={HEIGHT / 2 - bar(p.raised)}
            height={bar(p.raised)}
            fill="var(--edge2)"
          />
          <rect x={x(n)} width={4} y={HEIGHT / 2} height={bar(p.done)} fill="var(--verdigris2)" />
        </g>
      ))}
      <polyline
        points={past.map((p, n) => `${x(n)},${y(p.open)}`).join(" ")}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
    </svg>
  );
}

const sum = (past: Craft["past"], what: "raised" | "done") => past.reduce((all, p) => all + p[what], 0);
