import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";

import { http, need, type Shapes } from "../../api/client";
import { keys, useMe, useTidiness } from "../../api/queries";
import { thousands } from "../../kit/words";
import { useRefusal } from "../../kit/useRefusal";
import { figuresOf } from "../balance/Workable";

/**
 * What the prices as they stand on this page would bring on one's week: it is built by them and by those that
 * are saved.
 */
export function Tried({ weights }: { weights: Shapes["WeightsShape"] }) {
  const me = useMe().data;
  const week = me?.week ?? "";
  const found = useTidiness(week).data;
  const client = useQueryClient();
  const refuse = useRefusal();
  if (!week || !me?.rights.includes("edit")) return null;
  const prices = {
    waiting_per_hour: weights.waiting_per_hour,
    waiting_cap_hours: weights.waiting_cap_hours,
    handover: weights.handover,
    area_change: weights.area_change,
    away_per_hour: weights.away_per_hour,
  };
  const ask = async () => {
    try {
      client.setQueryData(
        keys.part(week, "tidiness"),
        await need(http.POST("/api/weeks/{week}/tidiness", { params: { path: { week } }, body: prices })),
      );
    } catch (bad) {
      refuse("Not tried", bad);
    }
  };
  const same = found?.prices && JSON.stringify(found.prices) === JSON.stringify(prices);
  const { now, then } = found ?? {};
  return (
    <div className="tried">
      <div className="row">
        <Button onClick={() => void ask()} loading={found?.state === "running"}>
          Try on week {week}
        </Button>
        <span className="soft small">
          {found?.state === "running"
            ? "The week is being built twice, some 20 s …"
            : "Builds the week by these prices and by those that are saved; nothing is changed."}
        </span>
      </div>
      {found?.state === "failed" && <p className="brick">{found.error}</p>}
      {now && then && found?.state === "ready" && (
        <>
          <table className="plain" aria-label="The week by both prices">
            <thead>
              <tr>
                <th />
                <th>prices saved</th>
                <th>prices tried</th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>points of the work in it</td>
                <td className="number">{thousands(now.points)}</td>
                <td className="number strong">{thousands(then.points)}</td>
              </tr>
              <tr>
                <td>jobs in it</td>
                <td className="number">{now.jobs_placed}</td>
                <td className="number strong">{then.jobs_placed}</td>
              </tr>
              {figuresOf(then).map((x, n) => (
                <tr key={n}>
                  <td>{x.told}</td>
                  <td className="number">{figuresOf(now)[n]!.words}</td>
                  <td className="number strong">{x.words}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {!same && <p className="soft small">Tried with other prices than those shown now.</p>}
          {!found.current && <p className="soft small">The week has changed since.</p>}
        </>
      )}
    </div>
  );
}
