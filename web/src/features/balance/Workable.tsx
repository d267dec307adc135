import { Button } from "antd";

import type { Shapes } from "../../api/client";
import { useLooseEnds } from "../../api/queries";
import { count, dayName, hours } from "../../kit/words";
import { useWeek } from "../week/context";

type Figures = Shapes["WorkableFigures"];
export type Part = keyof Shapes["LooseEnds"];

/** The figures in their order: what stands on the button, and which list it opens. */
export function figuresOf(f: Figures): { part: Part; words: string; told: string }[] {
  return [
    {
      part: "in_one_go",
      words: `${f.in_one_go} of ${f.jobs}`,
      told: `${f.jobs === 1 ? "job" : "jobs"} in one go`,
    },
    {
      part: "open_nights",
      words: `${f.open_nights}`,
      told: `left open overnight${f.over_run ? `, ${f.over_run} while the asset must run` : ""}`,
    },
    { part: "handovers", words: `${f.handovers}`, told: f.handovers === 1 ? "handover" : "handovers" },
    {
      part: "area_changes",
      words: `${f.area_changes}`,
      told: `${f.area_changes === 1 ? "change" : "changes"} of area`,
    },
    { part: "area_changes", words: hours(Math.round(10 * f.hours_on_the_way) / 10), told: "on the way" },
  ];
}

/** How the week can be worked: five figures, each opening its list. */
export function Workable({ open }: { open: (part: Part) => void }) {
  const { now } = useWeek();
  const f = now.workable;
  if (!now.jobs_placed) return null;
  return (
    <section className="workable" aria-label="How the week can be worked">
      <span className="soft">How the week can be worked</span>
      {figuresOf(f).map((x) => (
        <button key={x.told} className="plain" onClick={() => open(x.part)}>
          <span className="strong">{x.words}</span> {x.told}
        </button>
      ))}
    </section>
  );
}

const TITLES: Record<Part, { title: string; none: string }> = {
  in_one_go: { title: "Jobs in one go", none: "No job of several tasks has all its times yet." },
  in_pieces: { title: "Jobs with gaps", none: "No job waits between its tasks." },
  open_nights: { title: "Left open overnight", none: "No job is left open overnight." },
  handovers: { title: "Handovers", none: "Whoever begins a job finishes it." },
  area_changes: { title: "Changes of area", none: "Nobody changes area within a shift." },
};

/** What is behind a figure: each row opens its job. */
export function LooseEndsPanel({
  part,
  close,
  open,
}: {
  part: Part;
  close: () => void;
  open: (part: Part) => void;
}) {
  const { week, openJob } = useWeek();
  const found = useLooseEnds(week).data;
  const rows = found?.[part] ?? [];
  const words = TITLES[part];
  return (
    <>
      <section>
        <div className="row">
          <h1 className="grow">{words.title}</h1>
          <Button size="small" type="text" aria-label="Close the list" onClick={close}>
            ×
          </Button>
        </div>
        <p className="soft">
          {found
            ? rows.length
              ? count(rows.length, part === "in_one_go" ? "job" : "time")
              : words.none
            : "Loading …"}
        </p>
        {part === "in_one_go" && found && found.in_pieces.length > 0 && (
          <p>
            <button className="plain verdigris" onClick={() => open("in_pieces")}>
              Those with gaps: {count(new Set(found.in_pieces.map((r) => r.job)).size, "job")}
            </button>
          </p>
        )}
      </section>
      <section>
        {rows.map((r, n) => (
          <div key={`${r.job}${n}`} className="item">
            <div className="row">
              <button className="plain verdigris" onClick={() => openJob(r.job)}>
                {r.job}
              </button>
              <span className="grow cut" title={r.title}>
                {r.title}
              </span>
              <span className="soft">{dayName(r.day)}</span>
            </div>
            <p className="soft small">{r.text}</p>
          </div>
        ))}
      </section>
    </>
  );
}

/** The five figures now and as a build would have them. */
export function WorkableBeside({ before, after }: { before: Figures; after: Figures }) {
  const was = figuresOf(before),
    will = figuresOf(after);
  const lost = after.points ? after.prices.total / after.points : 0;
  return (
    <section aria-label="How the week could be worked" style={{ margin: "12px 0" }}>
      <h2>How the week could be worked</h2>
      <table className="plain small">
        <tbody>
          {will.map((x, n) => (
            <tr key={n}>
              <td>{x.told}</td>
              <td className="soft number">{was[n]!.words}</td>
              <td>→</td>
              <td className="strong number">{x.words}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {lost > 0.0005 && (
        <p className="soft small">Its loose ends cost {(100 * lost).toFixed(1)} % of its points.</p>
      )}
    </section>
  );
}
