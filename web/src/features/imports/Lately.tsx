import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";

import { http, need, type Shapes } from "../../api/client";
import { useMe } from "../../api/queries";
import { clock, count, dayName, localDay } from "../../kit/words";

const SIGNS: Record<string, string> = { done: "✓", refused: "✕", failed: "✕", stopped: "–" };

export const latelyKey = ["imports", "lately"];

/** What came in lately, by whom, and what came of it; one's own exports can be read and tried again. */
export function Lately({ again }: { again?: (file: number) => void }) {
  const zone = useMe().data?.timezone ?? "UTC";
  const found = useQuery({
    queryKey: latelyKey,
    queryFn: () => need(http.GET("/api/imports/lately")),
    refetchInterval: (q) =>
      q.state.data?.some((x) => ["waiting", "running"].includes(x.state)) ? 1000 : false,
  });
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data?.length) return null;
  return (
    <section style={{ marginTop: 22 }} aria-label="Came in lately">
      <h2>Came in lately</h2>
      <table className="list" aria-label="Files that came in">
        <colgroup>
          <col style={{ width: 128 }} />
          <col style={{ width: "26%" }} />
          <col style={{ width: 130 }} />
          <col />
          {again && <col style={{ width: 92 }} />}
        </colgroup>
        <thead>
          <tr>
            <th>When</th>
            <th>File</th>
            <th>By</th>
            <th>What came of it</th>
            {again && <th aria-label="Again" />}
          </tr>
        </thead>
        <tbody>
          {found.data.map((x) => (
            <tr key={x.run}>
              <td>
                {dayName(localDay(x.at, zone))} {clock(x.at, zone)}
              </td>
              <td title={x.label}>{x.label}</td>
              <td>{x.by ?? "Nundine"}</td>
              <td style={{ whiteSpace: "normal" }}>
                <Outcome of={x} />
              </td>
              {again && (
                <td>
                  {x.file !== null && (
                    <Button size="small" onClick={() => again(x.file!)}>
                      Try again
                    </Button>
                  )}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Outcome({ of: x }: { of: Shapes["CameIn"] }) {
  const bad = x.state === "refused" || x.state === "failed";
  return (
    <>
      <span className={bad ? "brick" : x.state === "done" ? "verdigris" : "ochre"}>
        {SIGNS[x.state] ?? "…"}{" "}
        {x.state === "done" ? "" : bad ? "nothing came in" : x.state === "stopped" ? "stopped" : "on its way"}
      </span>{" "}
      {x.counts.map((c) => `${c.count} ${c.what}`).join(", ") ||
        (x.state === "done" ? "nothing changed" : "")}
      {x.error && <span className="brick"> {x.error}</span>}
      {x.fault_count > 0 && (
        <details className="small">
          <summary>{count(x.fault_count, "error")}</summary>
          {x.faults.map((f) => (
            <p key={`${f.file} ${f.row} ${f.column} ${f.reason}`}>
              {f.file}
              {f.row !== null && `, row ${f.row}`}
              {f.column && `, ${f.column}`}: {f.reason}
            </p>
          ))}
        </details>
      )}
    </>
  );
}
