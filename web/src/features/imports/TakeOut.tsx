import { useQuery } from "@tanstack/react-query";
import { Select, Spin } from "antd";

import { http, need } from "../../api/client";
import { useKept } from "../../app/address";
import { Download } from "../../kit/Download";
import { Side } from "../../kit/Side";
import { count } from "../../kit/words";
import { Workbook } from "./Workbook";

/** What would be taken out, table by table, seen before; and everything as one workbook. */
export function TakeOut() {
  const [kind, setKind] = useKept("table", "work_orders");
  const kinds =
    useQuery({ queryKey: ["kinds"], queryFn: () => need(http.GET("/api/imports/kinds")) }).data ?? [];
  const preview = useQuery({
    queryKey: ["exports", kind],
    queryFn: () =>
      need(http.GET("/api/imports/exports/{name}/preview", { params: { path: { name: kind } } })),
  });
  const p = preview.data;
  return (
    <div className="foreign">
      <div style={{ minWidth: 0 }}>
        <div className="row" style={{ marginBottom: 10 }}>
          <Select
            aria-label="Table"
            value={kind}
            onChange={setKind}
            options={kinds.map((k) => ({ value: k.name, label: k.name.replaceAll("_", " ") }))}
            style={{ width: 200 }}
          />
          <span className="grow soft">
            {p &&
              (p.total > p.rows.length
                ? `the first ${p.rows.length} of ${count(p.total, "row")}`
                : count(p.total, "row"))}
          </span>
          <Download href={`/api/imports/exports/${kind}.csv`}>All rows as CSV</Download>
        </div>
        {preview.error && <p className="brick">{preview.error.message}</p>}
        {preview.isPending && <Spin />}
        {p && (
          <div style={{ overflowX: "auto" }} tabIndex={0} role="region" aria-label="Rows as they are written">
            <table className="list asis" aria-label={`Rows of ${kind.replaceAll("_", " ")}`}>
              <thead>
                <tr>
                  {p.columns.map((c) => (
                    <th key={c}>{c}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {p.rows.map((r, n) => (
                  <tr key={n}>
                    {r.map((c, k) => (
                      <td key={k} title={c} dir="auto">
                        {c}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </div>
      <Side name="Everything">
        <section>
          <h2>Everything</h2>
          <p>
            <Workbook /> <span className="soft">a sheet for each table, which comes back in unchanged</span>
          </p>
        </section>
        <section>
          <h2>Templates</h2>
          <p className="item">
            <Download href="/api/imports/templates/all.xlsx">All tables in one workbook</Download>
          </p>
          <p className="item">
            <Download href={`/api/imports/templates/${kind}.csv`}>
              Template of {kind.replaceAll("_", " ")}
            </Download>
          </p>
        </section>
      </Side>
    </div>
  );
}
