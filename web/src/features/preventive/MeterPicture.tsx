import type { Shapes } from "../../api/client";
import { dayName, figure } from "../../kit/words";

const WIDE = 340;
const HIGH = 150;
const LEFT = 44;
const FOOT = 18;
const days = (day: string) => Date.parse(day) / 86_400_000;

/** What a meter counted, along with where it is going, and the lines at which services fall due. */
export function MeterPicture({ meter: m }: { meter: Shapes["MeterDocument"] }) {
  const read = m.readings.slice(-80);
  if (read.length < 2) return null;
  const dues = m.dues.filter((d) => d.day).slice(0, 6);
  const first = days(read[0]!.day);
  const now = read.at(-1)!;
  const last = Math.max(days(now.day), ...dues.map((d) => Math.min(days(d.day!), days(now.day) + 400)));
  const low = read[0]!.counted;
  const high = Math.max(now.counted, ...dues.filter((d) => days(d.day!) <= last).map((d) => d.target)) * 1.02;
  const x = (day: number) => LEFT + ((WIDE - LEFT - 8) * (day - first)) / Math.max(1, last - first);
  const y = (value: number) =>
    HIGH - FOOT - ((HIGH - FOOT - 12) * (value - low)) / Math.max(1e-9, high - low);
  const path = read.map((r, n) => `${n ? "L" : "M"} ${x(days(r.day))} ${y(r.counted)}`).join(" ");
  const ahead = dues.at(-1);
  return (
    <svg
      className="meterpicture"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="img"
      aria-label={`${figure(now.counted)} ${m.meter.unit} counted by ${dayName(now.day)}; ${dues
        .map((d) => `${d.rung} at ${figure(d.target)} on ${dayName(d.day!)}`)
        .join(", ")}`}
    >
      <line x1={LEFT} x2={WIDE - 8} y1={HIGH - FOOT} y2={HIGH - FOOT} className="axis" />
      {dues.map((d) => (
        <g key={d.plan + d.asset + d.rung}>
          <line x1={LEFT} x2={WIDE - 8} y1={y(d.target)} y2={y(d.target)} className="dueline" />
          <text x={LEFT - 4} y={y(d.target) + 3} textAnchor="end">
            {figure(Math.round(d.target))}
          </text>
          {days(d.day!) <= last && (
            <circle cx={x(days(d.day!))} cy={y(d.target)} r={3.5} className="duedot" />
          )}
        </g>
      ))}
      <path d={path} className="counted" />
      {ahead && m.rate && (
        <line
          x1={x(days(now.day))}
          y1={y(now.counted)}
          x2={x(last)}
          y2={y(Math.min(high, now.counted + m.rate.a_day * (last - days(now.day))))}
          className="projected"
        />
      )}
      {read.map(
        (r) =>
          r.fresh && <circle key={r.day} cx={x(days(r.day))} cy={y(r.counted)} r={3} className="fresh" />,
      )}
      <text x={LEFT} y={HIGH - 4}>
        {dayName(read[0]!.day)} {read[0]!.day.slice(0, 4)}
      </text>
      <text x={x(days(now.day))} y={HIGH - 4} textAnchor="middle">
        {dayName(now.day)}
      </text>
      <text x={LEFT - 4} y={y(low)} textAnchor="end">
        {figure(low)}
      </text>
    </svg>
  );
}
