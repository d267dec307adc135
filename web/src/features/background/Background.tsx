import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";

import { http, need, type Shapes } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";
import { clock, dayName, localDay } from "../../kit/words";
import { GOING, howFar } from "../../api/watching";

type Run = Shapes["RunShape"];
type Act = (work: () => Promise<unknown>) => Promise<void>;

const RUNS = ["runs"];
const upper = (text: string) => text[0]!.toUpperCase() + text.slice(1);

/** What works in the background: what is done by itself at its times, and what somebody asked for. */
export function Background() {
  const client = useQueryClient();
  const refuse = useRefusal();
  const found = useQuery({
    queryKey: RUNS,
    queryFn: () => need(http.GET("/api/runs")),
    refetchInterval: (query) => (query.state.data?.runs.some((r) => GOING.includes(r.state)) ? 1000 : 20_000),
  });
  const act: Act = async (work) => {
    try {
      await work();
    } catch (bad) {
      refuse("Not done", bad);
    }
    await client.invalidateQueries({ queryKey: RUNS });
  };
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return null;
  const { runs, periodic, timezone } = found.data;
  const moment = (at: string) => `${dayName(localDay(at, timezone))} ${clock(at, timezone)}`;
  return (
    <>
      <h2 id="background">Done by itself</h2>
      <table className="list" aria-label="Done by itself">
        <colgroup>
          <col />
          <col style={{ width: 200 }} />
          <col style={{ width: 150 }} />
          <col style={{ width: 150 }} />
          <col style={{ width: 90 }} />
        </colgroup>
        <thead>
          <tr>
            <th>What</th>
            <th>When</th>
            <th>Ran last</th>
            <th>Runs next</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {periodic.map((p) => (
            <tr key={p.kind}>
              <td className="whole">{upper(p.label)}</td>
              <td>{p.when}</td>
              <td>
                {p.last ? moment(p.last.began ?? p.last.created) : "not yet"}
                {p.last && p.last.state !== "done" && ` · ${p.last.error ?? p.last.state}`}
              </td>
              <td>{moment(p.next)}</td>
              <td>
                {p.at_once && (
                  <Button
                    size="small"
                    onClick={() =>
                      void act(() =>
                        need(http.POST("/api/runs/periodic/{kind}", { params: { path: { kind: p.kind } } })),
                      )
                    }
                  >
                    Run now
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2>Background work</h2>
      <p className="soft">
        Builds, bounds, asks, files in and out, and crew sheets; the newest first. What a worker left when it
        ended is said to have failed, and can be started again.
      </p>
      {runs.length ? (
        <table className="list" aria-label="Background work">
          <colgroup>
            <col />
            <col style={{ width: 150 }} />
            <col style={{ width: 140 }} />
            <col />
            <col style={{ width: 90 }} />
          </colgroup>
          <thead>
            <tr>
              <th>What</th>
              <th>Asked for by</th>
              <th>Began</th>
              <th>How it stands</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {runs.map((r) => (
              <Row key={r.id} run={r} began={moment(r.began ?? r.created)} act={act} />
            ))}
          </tbody>
        </table>
      ) : (
        <p className="soft">Nothing yet.</p>
      )}
    </>
  );
}

function Row({ run, began, act }: { run: Run; began: string; act: Act }) {
  const path = { params: { path: { run: run.id } } };
  const going = GOING.includes(run.state);
  return (
    <tr>
      <td className="whole">{upper(run.label)}</td>
      <td>{run.by ?? "Nundine"}</td>
      <td>{began}</td>
      <td style={{ whiteSpace: "normal" }}>
        {going ? howFar(run) : run.state}
        {run.error && <span className="brick"> · {run.error}</span>}
        {!going && run.began && run.ended && ` · ${seconds(run.began, run.ended)}`}
      </td>
      <td>
        {run.can_stop && (
          <Button size="small" onClick={() => void act(() => need(http.POST("/api/runs/{run}/stop", path)))}>
            Stop
          </Button>
        )}
        {run.again && (
          <Button size="small" onClick={() => void act(() => need(http.POST("/api/runs/{run}/again", path)))}>
            Again
          </Button>
        )}
      </td>
    </tr>
  );
}

function seconds(began: string, ended: string): string {
  const s = (Date.parse(ended) - Date.parse(began)) / 1000;
  return s < 90 ? `${s.toFixed(1)} s` : `${Math.round(s / 60)} min`;
}
