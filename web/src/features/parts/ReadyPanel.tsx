import { useQuery } from "@tanstack/react-query";
import { Button, Spin } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { count, dayLater, dayName, figure } from "../../kit/words";

type Ready = Shapes["ReadyLine"];
type Part = Ready["parts"][number];

/** When the parts of a WO are there, and why; and what would change if it came before all others. */
export function ReadyPanel({ order, close }: { order: string; close: () => void }) {
  const [tried, setTried] = useState(false);
  const found = useQuery({
    queryKey: ["parts", "ready", order],
    queryFn: () => need(http.GET("/api/parts/ready/{number}", { params: { path: { number: order } } })),
  });
  const now = found.data;
  return (
    <Panel title={`When the parts of ${order} are there`} width={560} close={close}>
      {found.error && <p className="brick">{found.error.message}</p>}
      {found.isPending && <Spin />}
      {now && (
        <>
          <p className="strong">{told(now.known, now.ready, now.today)}</p>
          <TimeLine now={now} />
          {now.parts.map((p) => (
            <PartTold key={p.part} part={p} today={now.today} />
          ))}
          {!tried && (
            <Button size="small" onClick={() => setTried(true)}>
              What if it came first?
            </Button>
          )}
          {tried && <First now={now} />}
        </>
      )}
    </Panel>
  );
}

function told(known: boolean, day: string | null, today: string): string {
  if (!known) return "Nobody knows when all are there";
  return day && day > today ? `All are there from ${dayName(day)}` : "All are there";
}

function First({ now }: { now: Ready }) {
  const same = now.first === now.ready && now.first_known === now.known;
  return (
    <section aria-label="If it came first">
      <h2>If it came before all others</h2>
      <p>
        {same && "Nothing would change for it. "}
        {told(now.first_known, now.first, now.today)}.
      </p>
      {now.shifted.length > 0 && (
        <>
          <p className="soft">
            {count(now.shifted.length, "other WO")} would have their parts on another day:
          </p>
          {now.shifted.map((s) => (
            <p key={s.order} className="item small">
              <span className="strong">{s.order}</span> <span dir="auto">{s.title}</span>
              <span className="secondline">
                {when(s.was)} → <span className="ochre">{when(s.becomes)}</span>
              </span>
            </p>
          ))}
        </>
      )}
      <p className="soft small">Tried only: nothing was saved. Its priority says who comes first.</p>
    </section>
  );
}

const when = (day: string | null) => (day ? dayName(day) : "nobody knows");

function PartTold({ part: p, today }: { part: Part; today: string }) {
  const rest = p.wanted - p.reserved;
  return (
    <section aria-label={p.part}>
      <h2>
        {figure(p.wanted)} {p.unit} {p.part} <span dir="auto">{p.title}</span>
        {!p.must && <span className="soft"> may be used</span>}
      </h2>
      <p className="small">
        {figure(p.on_hand)} on hand, {figure(p.reserved)} reserved for it
        {rest > 0 && ` · ${how(p, today)}`}
      </p>
      {p.ahead.length > 0 && (
        <p className="small soft">
          Before it: {p.ahead.map((a) => `${a.order} (${figure(a.quantity)})`).join(", ")}
        </p>
      )}
      {p.coming.length > 0 && (
        <p className="small soft">
          On its way:{" "}
          {p.coming
            .map(
              (c) =>
                `${figure(c.quantity)} ${dayName(c.day)} with ${c.purchase}${c.straight ? ", straight" : ""}`,
            )
            .join("; ")}
        </p>
      )}
    </section>
  );
}

function how(p: Part, today: string): string {
  if (p.how === "alternate") return `${p.name} does instead`;
  if (p.how === "transfer") return `from another storeroom ${when(p.day)}`;
  if (p.how === "receipt") return `the rest ${when(p.day)} with ${p.name}`;
  if (p.how === "bought") return `the rest ${when(p.day)}, if bought today (${p.lead_days} days)`;
  if (p.day === null) return "nobody knows when the rest comes, and it can not be bought";
  return p.day > today ? `the rest ${when(p.day)}` : "it is there";
}

const WIDTH = 528;
const NAMED = 92;
const ROW = 26;

/** Each part along its days: what comes, and from when the WO has all of it. */
function TimeLine({ now }: { now: Ready }) {
  const days = now.parts.flatMap((p) => [p.day, ...p.coming.map((c) => c.day)]).filter((d) => d !== null);
  const last = days.reduce((a, b) => (b > a ? b : a), dayLater(now.today, 7));
  const span = Math.max(7, (Date.parse(last) - Date.parse(now.today)) / 86_400_000);
  const x = (day: string) =>
    NAMED + ((Date.parse(day) - Date.parse(now.today)) / 86_400_000 / span) * (WIDTH - NAMED - 16);
  const height = ROW * (now.parts.length + 1);
  const step = Math.ceil(span / 5);
  const marks = Array.from({ length: Math.floor(span / step) + 1 }, (_, n) => dayLater(now.today, n * step));
  return (
    <svg
      className="readyline"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="img"
      aria-label={`Time line: ${now.parts.map((p) => `${p.part} ${when(p.day)}`).join(", ")}`}
    >
      {marks.map((day) => (
        <g key={day}>
          <line x1={x(day)} x2={x(day)} y1={16} y2={height} className="mark" />
          <text x={x(day)} y={11} className="soft" textAnchor="middle">
            {day === now.today ? "today" : dayName(day).split(" ").slice(1).join(" ")}
          </text>
        </g>
      ))}
      {now.parts.map((p, n) => {
        const y = ROW * (n + 1) + 12;
        return (
          <g key={p.part}>
            <text x={0} y={y + 4}>
              {p.part}
            </text>
            {p.day === null ? (
              <line x1={NAMED} x2={WIDTH - 16} y1={y} y2={y} className="unknown" />
            ) : (
              <>
                <line x1={NAMED} x2={x(p.day)} y1={y} y2={y} className="waits" />
                <line x1={x(p.day)} x2={WIDTH - 16} y1={y} y2={y} className="there" />
                <circle cx={x(p.day)} cy={y} r={5} className="ready" />
              </>
            )}
            {p.coming.map((c, k) => (
              <path key={k} d={`M${x(c.day)} ${y - 9} l4 -5 h-8 z`} className="comes">
                <title>{`${figure(c.quantity)} with ${c.purchase}, ${dayName(c.day)}`}</title>
              </path>
            ))}
          </g>
        );
      })}
    </svg>
  );
}
