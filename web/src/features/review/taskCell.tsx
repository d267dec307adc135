import { Button } from "antd";
import type { ReactNode } from "react";

import type { Shapes } from "../../api/client";
import type { Column } from "../../api/lists";
import { at, count, dayName, figure, hours, when } from "../../kit/words";

export type Row = Shapes["ReviewTask"];
export const rowKey = (t: Row) => `${t.day} ${t.job} ${t.task}`;

type Say = (rows: Row[], to: "under way" | "done") => void;

/** Cells of a task that say more than their value; undefined leaves the others to the list. */
export function taskCell(
  column: Column,
  t: Row | undefined,
  zone: string,
  published: boolean,
  openJob: (number: string) => void,
  say: Say | null,
): ReactNode | undefined {
  if (!t) return undefined;
  switch (column.name) {
    case "day":
      return <span title={when(t.day, t.start, t.end, zone)}>{dayName(t.day, false)}</span>;
    case "start":
      return <span className="soft">{t.start ? at(t.start, t.day, zone) : "open"}</span>;
    case "number":
      return (
        <button
          className="plain verdigris"
          onClick={(e) => {
            e.stopPropagation();
            openJob(t.job);
          }}
        >
          {t.job}
        </button>
      );
    case "title":
      return (
        <span title={`${t.title}: ${t.what} · ${t.asset_name}`}>
          {t.must && <span className="strong">must · </span>}
          {t.kit && <span title="Its parts are set aside there">▣ {t.kit} · </span>}
          {t.title}{" "}
          <span className="soft">
            {t.task} {t.what}
          </span>
        </span>
      );
    case "people":
      return <span className="soft">{t.people.map((p) => p ?? "◆ open").join(", ")}</span>;
    case "state":
      return (
        <>
          <StateOf row={t} /> {say && <Next row={t} say={say} />}
        </>
      );
    case "spent":
      return t.state === "done" && t.hours_spent === t.hours_planned ? (
        hours(t.hours_spent)
      ) : (
        <span title={t.hours_left ? `${hours(t.hours_left)} left` : undefined}>
          {figure(t.hours_spent)}
          <span className="soft"> of {hours(t.hours_planned)}</span>
        </span>
      );
    case "promise":
      return <Promised row={t} published={published} />;
    default:
      return undefined;
  }
}

/** What is said most often of a task that stands so, one press away. */
function Next({ row: t, say }: { row: Row; say: Say }) {
  const press = (to: "under way" | "done", word: string, title?: string) => (
    <Button
      size="small"
      title={title}
      onClick={(e) => {
        e.stopPropagation();
        say([t], to);
      }}
    >
      {word}
    </Button>
  );
  if (t.state === "done") return press("under way", "Again", "Not done after all");
  return t.state === "under way" ? press("done", "Done") : press("under way", "Start");
}

function StateOf({ row: t }: { row: Row }) {
  if (t.state === "done") return <span className="verdigris strong">✓ done</span>;
  if (t.reason)
    return (
      <span className="brick" title={t.reason}>
        ✕ {t.reason}
      </span>
    );
  if (t.state === "under way")
    return <span className="ochre">◆ under way{t.hours_left ? `, ${hours(t.hours_left)} left` : ""}</span>;
  return <span className="soft">{t.state}</span>;
}

/** Early, late, overdue or new, against the revision that was in force when the week began. */
function Promised({ row: t, published }: { row: Row; published: boolean }) {
  if (!t.published_day)
    return published ? (
      <span className="ochre" title="Came in after the revision in force">
        break-in
      </span>
    ) : null;
  const promised = `promised for ${dayName(t.published_day)}`;
  if (t.days_off === null)
    return t.published_day === t.day ? null : (
      <span className="soft" title={promised}>
        was {dayName(t.published_day, false)}
      </span>
    );
  if (t.days_off === 0)
    return (
      <span className="verdigris" title={promised}>
        on its day
      </span>
    );
  if (t.state !== "done")
    return (
      <span className="brick" title={promised}>
        ▲ {count(t.days_off, "day")} over
      </span>
    );
  return (
    <span className={t.days_off > 0 ? "ochre" : "verdigris"} title={promised}>
      {count(Math.abs(t.days_off), "day")} {t.days_off > 0 ? "late" : "early"}
    </span>
  );
}
