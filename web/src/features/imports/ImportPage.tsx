import { Alert, Button, Segmented, Select, Upload } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { http, need, sendFiles, type Shapes } from "../../api/client";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { Download } from "../../kit/Download";
import { count } from "../../kit/words";
import { endOf, howFar } from "../../api/watching";
import { ForeignImport } from "../foreign/ForeignImport";
import { Lately, latelyKey } from "./Lately";
import { TakeOut } from "./TakeOut";

type Report = Shapes["ImportReport"];

const check = (files: File[]) => sendFiles<Report>("/api/imports/check", "files", files);

/** Has files brought in, and waits for the report; `tell` hears how far it is. */
async function bringIn(files: File[], tell: (far: string) => void): Promise<Report> {
  const { run } = await sendFiles<Shapes["ImportRun"]>("/api/imports", "files", files);
  await endOf(run, (now) => tell(howFar(now)));
  const path = { params: { path: { run: run.id } } };
  return (await need(http.GET("/api/imports/runs/{run}", path))).report!;
}

/** Files in and out: exports of other systems through a mapping, and Nundine's own tables. */
export function ImportPage() {
  const [part, setPart] = useKept("part", "foreign");
  useTitle("Files");
  return (
    <main className="page">
      <div className="row" style={{ marginBottom: 10, gap: 18 }}>
        <h1>{part === "out" ? "Take files out" : "Bring files in"}</h1>
        <Segmented
          value={part}
          onChange={setPart}
          options={[
            { value: "foreign", label: "Another system's export" },
            { value: "own", label: "Nundine's own tables" },
            { value: "out", label: "Take out" },
          ]}
        />
      </div>
      {part === "own" ? <OwnTables /> : part === "out" ? <TakeOut /> : <ForeignImport />}
    </main>
  );
}

/** All or nothing, with a report by file, row and column. */
function OwnTables() {
  const [files, setFiles] = useState<File[]>([]);
  const [report, setReport] = useState<Report | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [far, setFar] = useState<string | null>(null);
  const [kind, setKind] = useState("work_orders");
  const client = useQueryClient();
  const kinds =
    useQuery({ queryKey: ["kinds"], queryFn: () => need(http.GET("/api/imports/kinds")) }).data ?? [];
  const run = async (dry: boolean) => {
    setBusy(true);
    setWrong(null);
    try {
      const got = await (dry ? check(files) : bringIn(files, setFar));
      setReport(got);
      if (got.done) void client.invalidateQueries({ queryKey: ["week"] });
      void client.invalidateQueries({ queryKey: latelyKey });
    } catch (bad) {
      setReport(null);
      setWrong((bad as Error).message);
    } finally {
      setBusy(false);
      setFar(null);
    }
  };
  return (
    <div
      style={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) 300px", gap: 28, alignItems: "start" }}
    >
      <div>
        <p className="soft" style={{ margin: "4px 0 14px" }}>
          CSV or XLSX: areas, crafts, tools, assets, windows, people, shifts, rosters, absences, overtime,
          work orders, tasks. Either all rows come in, or none.
        </p>
        <Upload.Dragger
          style={{ height: 110 }}
          multiple
          accept=".csv,.xlsx"
          beforeUpload={(_, all) => {
            setFiles((f) => [...f, ...all.filter((a) => !f.some((b) => b.name === a.name))]);
            setReport(null);
            return false;
          }}
          fileList={files.map((f) => ({ uid: f.name, name: f.name }))}
          onRemove={(f) => {
            setFiles(files.filter((x) => x.name !== f.name));
            setReport(null);
          }}
        >
          <p style={{ padding: 10 }}>Drop files here, or click to choose</p>
        </Upload.Dragger>
        <div className="row" style={{ margin: "12px 0" }}>
          <Button onClick={() => run(true)} disabled={!files.length} loading={busy}>
            Try without changing anything
          </Button>
          <Button type="primary" onClick={() => run(false)} disabled={!files.length} loading={busy}>
            Bring in
          </Button>
          {far && (
            <span className="ochre" role="status">
              {far}
            </span>
          )}
        </div>
        {wrong && <Alert type="error" showIcon title="Nothing was brought in" description={wrong} />}
        {report && <Shown report={report} />}
        <Lately />
      </div>
      <div>
        <section className="side" style={{ border: "1px solid var(--line)", borderRadius: 8 }}>
          <h2>Templates</h2>
          <p className="item">
            <Download href="/api/imports/templates/all.xlsx">All tables in one workbook</Download>
          </p>
          <div className="item">
            <Select
              aria-label="Table"
              value={kind}
              onChange={setKind}
              options={kinds.map((k) => ({ value: k.name, label: k.name.replaceAll("_", " ") }))}
              style={{ width: "100%", marginBottom: 6 }}
            />
            <Download href={`/api/imports/templates/${kind}.csv`}>Template</Download>
            <p className="soft small" style={{ marginTop: 6 }}>
              {kinds.find((k) => k.name === kind)?.columns.join(", ")}
            </p>
          </div>
        </section>
      </div>
    </div>
  );
}

function Shown({ report }: { report: Report }) {
  const bad = report.errors.length > 0;
  return (
    <section aria-label="Report">
      <Alert
        type={bad ? "error" : "success"}
        showIcon
        title={
          bad
            ? `${count(report.errors.length, "error")}; nothing was brought in`
            : report.done
              ? "Brought in"
              : "All rows can come in; nothing was changed yet"
        }
      />
      <table className="list" style={{ marginTop: 12 }} aria-label="Rows by table">
        <thead>
          <tr>
            <th>Table</th>
            <th>new</th>
            <th>changed</th>
            <th>unchanged</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(report.kinds).map(([name, n]) => (
            <tr key={name}>
              <td>{name.replaceAll("_", " ")}</td>
              <td>{n.new}</td>
              <td>{n.changed}</td>
              <td className="soft">{n.unchanged}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {bad && (
        <table className="list" style={{ marginTop: 12 }} aria-label="Errors">
          <colgroup>
            <col style={{ width: 180 }} />
            <col style={{ width: 60 }} />
            <col style={{ width: 130 }} />
            <col />
          </colgroup>
          <thead>
            <tr>
              <th>File</th>
              <th>Row</th>
              <th>Column</th>
              <th>Reason</th>
            </tr>
          </thead>
          <tbody>
            {report.errors.map((e, n) => (
              <tr key={n}>
                <td>{e.file}</td>
                <td>{e.row ?? "–"}</td>
                <td>{e.column ?? "–"}</td>
                <td style={{ whiteSpace: "normal" }}>{e.reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
