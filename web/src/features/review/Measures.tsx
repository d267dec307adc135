import type { Shapes } from "../../api/client";
import { Download } from "../../kit/Download";
import { count, figure, hours, percent } from "../../kit/words";
import { useWeek } from "../week/context";

/** The week's measures, each with a small picture and its formula. */
export function Measures({ review }: { review: Shapes["Review"] }) {
  const { week } = useWeek();
  const c = review.compliance;
  return (
    <>
      <section>
        <h1>Schedule compliance</h1>
        {review.baseline === null ? (
          <p className="soft">
            It is counted against the last revision before the week began. Publish one first.
          </p>
        ) : (
          <>
            <p className="soft small">against revision {review.baseline}</p>
            <Measure name="By WOs" share={c.by_jobs} words={`${c.jobs_done} of ${c.jobs} finished`} />
            <Measure
              name="By hours"
              share={c.by_hours}
              words={`${hours(c.hours_done)} of ${hours(c.hours)}`}
            />
            <p className="soft small">{c.source}</p>
            <Measure
              name="Break-ins"
              share={review.break_in_share}
              words={
                review.break_ins.length
                  ? `${count(review.break_ins.length, "WO")} came in: ` +
                    review.break_ins.slice(0, 4).join(", ")
                  : "nothing came in; hours that came in of all hours"
              }
            />
          </>
        )}
      </section>
      {review.closing && <Closed closing={review.closing} />}
      {review.crafts.length > 0 && <Crafts crafts={review.crafts} />}
      <section>
        <Download href={`/api/weeks/${week}/review.csv`}>Review as CSV</Download>
      </section>
    </>
  );
}

function Measure({ name, share, words }: { name: string; share: number | null; words: string }) {
  return (
    <div style={{ margin: "8px 0" }}>
      <div className="row">
        <span className="grow">{name}</span>
        <span className="strong">{share === null ? "–" : percent(share, 0)}</span>
      </div>
      <div className="meter">
        <i style={{ width: `${100 * (share ?? 0)}%` }} />
      </div>
      <p className="soft small">{words}</p>
    </div>
  );
}

/** Hours spent beside hours planned, of tasks that are done. */
function Crafts({ crafts }: { crafts: Shapes["CraftFigures"][] }) {
  const { now } = useWeek();
  const most = Math.max(1, ...crafts.flatMap((c) => [c.planned, c.spent]));
  return (
    <section aria-label="Hours by craft">
      <h2>Hours spent, against planned</h2>
      <p className="soft small">of tasks done; the thin line is the plan</p>
      {crafts.map((c) => (
        <div key={c.craft} style={{ marginTop: 6 }}>
          <div className="row small">
            <span className="grow">{now.crafts.find((x) => x.key === c.craft)?.name ?? c.craft}</span>
            <span className={c.ratio !== null && c.ratio > 1.1 ? "brick" : ""}>
              {figure(c.spent)} of {hours(c.planned)}
              {c.ratio !== null && Math.abs(c.ratio - 1) > 0.005
                ? `, ${c.ratio > 1 ? "▲" : "▼"} ${percent(Math.abs(c.ratio - 1), 0)}`
                : ""}
            </span>
          </div>
          <div className="meter">
            <i style={{ width: `${(100 * c.spent) / most}%` }} />
            <b style={{ left: `${(100 * c.planned) / most}%` }} />
          </div>
        </div>
      ))}
    </section>
  );
}

function Closed({ closing }: { closing: Shapes["ClosedWeek"] }) {
  const by = new Map<string, number>();
  for (const r of closing.unfinished) by.set(r.reason ?? "other", (by.get(r.reason ?? "other") ?? 0) + 1);
  const rows = [...by].sort((a, b) => b[1] - a[1]);
  const carried = closing.unfinished.filter((r) => r.to === "next week").length;
  return (
    <section aria-label="Closed">
      <h2>Not finished: {count(closing.unfinished.length, "WO")}</h2>
      <p className="soft small">
        {carried} carried into next week, {closing.unfinished.length - carried} back to the backlog
      </p>
      {rows.map(([reason, n]) => (
        <div key={reason} style={{ marginTop: 5 }}>
          <div className="row small">
            <span className="grow">{reason}</span>
            <span>{n}</span>
          </div>
          <div className="meter">
            <i style={{ width: `${(100 * n) / rows[0]![1]}%` }} />
          </div>
        </div>
      ))}
      <h2 style={{ marginTop: 14 }}>Weeks of ready backlog</h2>
      <p className="soft small">when it was published, and at closing</p>
      {closing.backlog.before.map((b) => {
        const after = closing.backlog.after.find((a) => a.craft === b.craft)?.weeks;
        return (
          <p key={b.craft} className="row small">
            <span className="grow">{b.name}</span>
            <span>
              {b.weeks ?? "–"} → <span className="strong">{after ?? "–"}</span>
            </span>
          </p>
        );
      })}
    </section>
  );
}
