import { Button } from "antd";

import type { Shapes } from "../../api/client";
import { at, count, dayName, figure, hours, when } from "../../kit/words";
import { useWeek } from "../week/context";

export type Row = Shapes["ReviewTask"];
export const rowKey = (t: Row) => `${t.day} ${t.job} ${t.task}`;

interface BoardProps {
  rows: Row[];
  picked: Row | undefined;
  pick: (row: Row) => void;
  marked: Set<string>;
  mark: (row: Row) => void;
  say: (rows: Row[], to: "under way" | "done") => void;
}

/** The tasks of a day or the week, how each stands, and by how much it is early or late. */
export function Board({ rows, picked, pick, marked, mark, say }: BoardProps) {
  const { now, can, openJob } = useWeek();
  const mayReport = can("report");
  return (
    <table className="list under tasks" aria-label="Tasks of the week">
      <colgroup>
        {mayReport && <col style={{ width: 26 }} />}
        <col style={{ width: 112 }} />
        <col style={{ width: 72 }} />
        <col />
        <col style={{ width: 108 }} />
        <col style={{ width: 112 }} />
        <col style={{ width: 90 }} />
        <col style={{ width: 96 }} />
        {mayReport && <col style={{ width: 66 }} />}
      </colgroup>
      <thead>
        <tr>
          {mayReport && <th aria-label="Chosen" />}
          <th>When</th>
          <th>WO</th>
          <th>Task</th>
          <th>Who</th>
          <th>State</th>
          <th>Hours</th>
          <th title="Against the revision in force">Promised</th>
          {mayReport && <th />}
        </tr>
      </thead>
      <tbody>
        {rows.map((t) => {
          const key = rowKey(t);
          return (
            <tr
              key={key}
              tabIndex={-1}
              className={picked && rowKey(picked) === key ? "chosen" : ""}
              onClick={() => pick(t)}
            >
              {mayReport && (
                <td onClick={(e) => e.stopPropagation()}>
                  <input
                    type="checkbox"
                    aria-label={`Choose ${t.job} task ${t.task}`}
                    checked={marked.has(key)}
                    onChange={() => mark(t)}
                  />
                </td>
              )}
              <td title={when(t.day, t.start, t.end, now.timezone)}>
                {dayName(t.day, false)}{" "}
                <span className="soft">{t.start ? at(t.start, t.day, now.timezone) : "open"}</span>
              </td>
              <td>
                <button
                  className="plain verdigris"
                  onClick={(e) => {
                    e.stopPropagation();
                    openJob(t.job);
                  }}
                >
                  {t.job}
                </button>
              </td>
              <td title={`${t.title}: ${t.what} · ${t.asset_name}`}>
                {t.must && <span className="strong">must · </span>}
                {t.title}{" "}
                <span className="soft">
                  {t.task} {t.what}
                </span>
              </td>
              <td className="soft" title={t.people.map((p) => p ?? "open").join(", ")}>
                {t.people.map((p) => p ?? "◆ open").join(", ")}
              </td>
              <td>
                <StateOf row={t} />
              </td>
              <td title={t.hours_left ? `${hours(t.hours_left)} left` : undefined}>
                {t.state === "done" && t.hours_spent === t.hours_planned ? (
                  hours(t.hours_spent)
                ) : (
                  <>
                    {figure(t.hours_spent)}
                    <span className="soft"> of {hours(t.hours_planned)}</span>
                  </>
                )}
              </td>
              <td>
                <Promised row={t} published={now.revision > 0} />
              </td>
              {mayReport && (
                <td onClick={(e) => e.stopPropagation()}>
                  {t.state === "done" ? (
                    <Button size="small" onClick={() => say([t], "under way")} title="Not done after all">
                      Open
                    </Button>
                  ) : t.state === "under way" && !t.reason ? (
                    <Button size="small" type="primary" onClick={() => say([t], "done")}>
                      Done
                    </Button>
                  ) : (
                    <Button size="small" onClick={() => say([t], "under way")}>
                      Start
                    </Button>
                  )}
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
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
