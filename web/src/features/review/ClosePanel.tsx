import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Spin } from "antd";
import { memo, useCallback, useMemo, useState } from "react";
import { useNavigate } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { Panel } from "../../kit/Panel";
import { count, hours, percent } from "../../kit/words";
import { Priority } from "../gather/Marks";
import { useWeek } from "../week/context";

/** Closing: what is not finished, why, and whether it goes straight into next week. */
export function ClosePanel({ close }: { close: () => void }) {
  const { week, now } = useWeek();
  const go = useNavigate();
  const client = useQueryClient();
  const found = useQuery({
    queryKey: keys.part(week, "closing", now.edits),
    queryFn: () => need(http.GET("/api/weeks/{week}/closing", { params: { path: { week } } })),
  });
  const [why, setWhy] = useState<Record<string, string>>({});
  const [into, setInto] = useState<Set<string> | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [early, setEarly] = useState(false);
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const d = found.data;
  const start = useMemo(
    () => new Set(d?.unfinished.filter((r) => r.must || r.begun).map((r) => r.number)),
    [d],
  );
  const carried = into ?? start;
  const say = useCallback(
    (number: string, reason: string) => setWhy((w) => ({ ...w, [number]: reason })),
    [],
  );
  const carry = useCallback(
    (number: string, on: boolean) =>
      setInto((before) => {
        const next = new Set(before ?? start);
        if (on) next.add(number);
        else next.delete(number);
        return next;
      }),
    [start],
  );
  const choose = useCallback(
    (number: string, on: boolean) =>
      setChosen((before) => {
        const next = new Set(before);
        if (on) next.add(number);
        else next.delete(number);
        return next;
      }),
    [],
  );
  const reasonOf = (r: Shapes["Left"]) => why[r.number] ?? r.reason ?? "";
  const without = d?.unfinished.filter((r) => !reasonOf(r)) ?? [];
  const about = chosen.size ? [...chosen] : without.map((r) => r.number);
  const sayAll = (reason: string) => {
    setWhy((w) => ({ ...w, ...Object.fromEntries(about.map((n) => [n, reason])) }));
    setChosen(new Set());
  };
  const all = (on: boolean) => setInto(new Set(on ? d!.unfinished.map((r) => r.number) : []));
  const send = async () => {
    setBusy(true);
    setWrong(null);
    try {
      const made = await need(
        http.POST("/api/weeks/{week}/closing", {
          params: { path: { week } },
          body: { why, into_next: [...carried], early },
        }),
      );
      close();
      void client.invalidateQueries({ queryKey: ["week"] });
      if (made.carried) go(`/week/${made.next_week}/balance`);
    } catch (bad) {
      setWrong((bad as Error).message);
      setBusy(false);
    }
  };
  return (
    <Panel
      close={close}
      title={`Close week ${Number(week.slice(6))}`}
      width={700}
      footer={
        d && (
          <div className="row">
            <Button
              type="primary"
              disabled={!d.may_close || without.length > 0 || (d.ahead !== null && !early)}
              loading={busy}
              onClick={() => void send()}
            >
              Close the week
            </Button>
            <Button onClick={close}>Not yet</Button>
            <span className="soft small grow">
              {without.length > 0
                ? `${count(without.length, "WO")} still need a reason. `
                : d.ahead && !early
                  ? "Hours of the week lie ahead: say that it is to be closed all the same. "
                  : ""}
              A closed week can only be read; its review stays as it is now.
            </span>
          </div>
        )
      }
    >
      {found.error && <Alert type="error" title="It can not be closed" description={found.error.message} />}
      {!d && !found.error && (
        <div className="empty">
          <Spin />
        </div>
      )}
      {d && (
        <>
          <p>
            {d.compliance.by_jobs !== null && (
              <>
                <span className="strong">{percent(d.compliance.by_jobs, 0)}</span> of WOs and{" "}
                <span className="strong">{percent(d.compliance.by_hours ?? 0, 0)}</span> of hours done as
                scheduled ·{" "}
              </>
            )}
            {count(d.break_ins.length, "break-in")} · {count(d.unfinished.length, "WO")} not finished
          </p>
          {d.ahead && d.may_close && (
            <Alert
              style={{ marginTop: 10 }}
              type="warning"
              showIcon
              title={
                d.ahead.begun
                  ? `${count(d.ahead.hours_of_week, "hour")} of this week still lie ahead`
                  : "This week has not begun"
              }
              description={
                <>
                  <p>
                    {count(d.ahead.placements, "placement")} with {hours(d.ahead.work_hours)} of work are
                    still to come. Closing now sends what is not carried back to the backlog; only an
                    administrator can open the week again.
                  </p>
                  <label>
                    <input type="checkbox" checked={early} onChange={() => setEarly(!early)} /> Close it all
                    the same
                  </label>
                </>
              }
            />
          )}
          {d.unfinished.length > 0 && (
            <div className="row" style={{ margin: "12px 0 6px" }}>
              <span className="grow">
                What is not carried goes back to the backlog with its remaining hours.
              </span>
              <Button size="small" onClick={() => all(true)}>
                All into {d.next_week}
              </Button>
              <Button size="small" onClick={() => all(false)}>
                All back
              </Button>
            </div>
          )}
          {d.unfinished.length > 0 && (
            <div className="row" style={{ marginBottom: 6 }}>
              <span className="grow">
                {without.length ? (
                  <span className="ochre">◆ {count(without.length, "WO")} without a reason</span>
                ) : (
                  <span className="soft">Each has its reason; those that were known are filled in.</span>
                )}
              </span>
              <select
                className="plainselect"
                style={{ width: 270 }}
                aria-label="Reason for many"
                value=""
                disabled={about.length === 0}
                onChange={(e) => sayAll(e.target.value)}
              >
                <option value="">
                  {chosen.size
                    ? `one reason for the ${chosen.size} chosen …`
                    : `one reason for all ${without.length} without …`}
                </option>
                {d.reasons.map((v) => (
                  <option key={v}>{v}</option>
                ))}
              </select>
            </div>
          )}
          <table className="list" aria-label="Not finished">
            <colgroup>
              <col style={{ width: 26 }} />
              <col style={{ width: 44 }} />
              <col style={{ width: 78 }} />
              <col />
              <col style={{ width: 56 }} />
              <col style={{ width: 58 }} />
              <col style={{ width: 140 }} />
              <col style={{ width: 104 }} />
            </colgroup>
            <thead>
              <tr>
                <th aria-label="Chosen" />
                <th>Pri</th>
                <th>WO</th>
                <th>Work</th>
                <th>Tasks</th>
                <th>Left</th>
                <th>Why not</th>
                <th>Into {d.next_week.slice(5)}</th>
              </tr>
            </thead>
            <tbody>
              {d.unfinished.map((r) => (
                <Line
                  key={r.number}
                  row={r}
                  reasons={d.reasons}
                  next={d.next_week}
                  why={reasonOf(r)}
                  carried={carried.has(r.number)}
                  chosen={chosen.has(r.number)}
                  setWhy={say}
                  carry={carry}
                  choose={choose}
                />
              ))}
            </tbody>
          </table>
          {wrong && (
            <Alert
              style={{ marginTop: 10 }}
              type="error"
              showIcon
              title="The week was not closed"
              description={wrong}
            />
          )}
          {!d.may_close && (
            <Alert
              style={{ marginTop: 10 }}
              type="info"
              title="Only a published week can be closed"
              description={`This one is ${now.status}.`}
            />
          )}
        </>
      )}
    </Panel>
  );
}

interface LineProps {
  row: Shapes["Left"];
  reasons: string[];
  next: string;
  why: string;
  carried: boolean;
  chosen: boolean;
  setWhy: (number: string, reason: string) => void;
  carry: (number: string, on: boolean) => void;
  choose: (number: string, on: boolean) => void;
}

/**
 * One WO that was not finished. Hundreds of them stand below each other: plain controls, drawn again only
 * when they change.
 */
const Line = memo(function Line({
  row,
  reasons,
  next,
  why,
  carried,
  chosen,
  setWhy,
  carry,
  choose,
}: LineProps) {
  return (
    <tr>
      <td>
        <input
          type="checkbox"
          aria-label={`Choose ${row.number}`}
          checked={chosen}
          onChange={(e) => choose(row.number, e.target.checked)}
        />
      </td>
      <td>
        <Priority value={row.priority} must={row.must} />
      </td>
      <td>{row.number}</td>
      <td title={row.title}>
        {row.out && (
          <span className="ochre" title="It was published and is no longer in the week">
            left the week ·{" "}
          </span>
        )}
        {row.title}
      </td>
      <td className="soft">
        {row.done} of {row.tasks}
        {row.begun && row.done === 0 ? ", begun" : ""}
      </td>
      <td>{hours(row.hours)}</td>
      <td>
        <select
          className="plainselect"
          aria-label={`Why ${row.number} was not finished`}
          value={why}
          onChange={(e) => setWhy(row.number, e.target.value)}
        >
          {!why && <option value="">choose …</option>}
          {reasons.map((v) => (
            <option key={v}>{v}</option>
          ))}
        </select>
      </td>
      <td>
        <label>
          <input
            type="checkbox"
            aria-label={`${row.number} into ${next}`}
            checked={carried}
            onChange={(e) => carry(row.number, e.target.checked)}
          />{" "}
          carry over
        </label>
      </td>
    </tr>
  );
});
