import { App, Button, Select } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { http, need } from "../../api/client";
import { keys, useCrew, useRefresh, useRevisions } from "../../api/queries";
import { useKept } from "../../app/address";
import { Download } from "../../kit/Download";
import { Side } from "../../kit/Side";
import { clock, count, dayName, localDay } from "../../kit/words";
import { useRefusal } from "../../kit/useRefusal";
import { useWeek } from "../week/context";
import { Changes } from "./Changes";

/** What did we promise: freeze a revision, compare, hand out. */
export function Publish() {
  const { week, now, can, areas } = useWeek();
  const of = areas.map((a) => `&areas=${encodeURIComponent(a)}`).join("");
  const revisions = useRevisions(week).data ?? [];
  const people = useCrew(week).data?.people ?? [];
  const [revision, setRevision] = useKept("revision", "0");
  const shown = Number(revision) || 0;
  const setShown = (n: number) => setRevision(String(n));
  const [person, setPerson] = useState<string | undefined>();
  const client = useQueryClient();
  const refresh = useRefresh();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const [busy, setBusy] = useState(false);
  const publish = async () => {
    setBusy(true);
    try {
      const after = await need(http.POST("/api/weeks/{week}/revisions", { params: { path: { week } } }));
      client.setQueryData(keys.part(week, "overview"), after);
      void refresh(week);
      void message.success(`Revision ${after.revision} is published`);
    } catch (bad) {
      refuse("Not published", bad);
    } finally {
      setBusy(false);
    }
  };
  const base = `/api/weeks/${week}`;
  const ready = now.status === "agreed" || now.status === "published";
  return (
    <div className="split">
      <div className="main listing" style={{ paddingTop: 16 }}>
        <h1>
          {shown === 0
            ? now.revision
              ? `The week as it stands, against revision ${now.revision}`
              : "The week as it stands; nothing is published yet"
            : shown === 1
              ? "Revision 1"
              : `Revision ${shown}, against revision ${shown - 1}`}
        </h1>
        <Changes number={shown} />
      </div>
      <Side name="Publish and hand out">
        <section>
          <h1>{now.revision ? `Revision ${now.revision} is out` : "Not published"}</h1>
          {now.changed_since && <p className="ochre">◆ changed since</p>}
          {now.open_seats > 0 && <p className="ochre">◆ {count(now.open_seats, "open seat")}</p>}
          {now.conflicts.length > 0 && (
            <p className="brick">
              ▲ {count(now.conflicts.length, "conflict")}: {now.conflicts[0].text}
            </p>
          )}
          {!ready && <p className="soft">Agree the week first (step 3).</p>}
          {can("edit") && (
            <Button
              type="primary"
              disabled={!ready}
              loading={busy}
              onClick={publish}
              style={{ marginTop: 10 }}
            >
              Publish revision {now.revision + 1}
            </Button>
          )}
        </section>
        <section>
          <h2>Revisions</h2>
          <button className="plain item" style={{ display: "block" }} onClick={() => setShown(0)}>
            <span className={shown === 0 ? "strong" : "verdigris"}>As it stands now</span>
          </button>
          {revisions.map((r) => (
            <button
              key={r.number}
              className="plain item"
              style={{ display: "block", width: "100%" }}
              onClick={() => setShown(r.number)}
            >
              <span className={shown === r.number ? "strong" : "verdigris"}>Revision {r.number}</span>{" "}
              <span className="soft">
                · {dayName(localDay(r.at, now.timezone))} {clock(r.at, now.timezone)} · {r.by}
              </span>
            </button>
          ))}
        </section>
        <section>
          <h2>Hand out</h2>
          {areas.length > 0 && <p className="soft small">of the areas chosen above: {areas.join(", ")}</p>}
          {(["person", "crew"] as const).map((by) => (
            <p key={by} className="item">
              <Download href={`${base}/sheets.pdf?by=${by}${of}`}>Crew sheets by {by}</Download>{" "}
              <span className="soft">{now.revision ? `revision ${now.revision}` : now.status}, PDF</span>
              {now.changed_since && (
                <>
                  {" "}
                  · <Download href={`${base}/sheets.pdf?by=${by}&draft=true${of}`}>as it stands now</Download>
                </>
              )}
            </p>
          ))}
          <p className="item">
            <Download href={`${base}/week.xlsx?${of}`}>The week as a spreadsheet</Download>{" "}
            <span className="soft">XLSX</span>
          </p>
          <p className="item">
            <Download href={`${base}/week.csv?${of}`}>The week as plain rows</Download>{" "}
            <span className="soft">CSV</span>
          </p>
          <div className="item">
            <Select
              showSearch
              aria-label="Person"
              placeholder="One person"
              optionFilterProp="label"
              value={person}
              onChange={setPerson}
              options={people.map((p) => ({ value: p.key, label: p.name }))}
              style={{ width: "100%", marginBottom: 6 }}
            />
            {person && (
              <p>
                <Download href={`${base}/calendars/${person}.ics`}>Calendar</Download>{" "}
                <span className="soft">iCalendar</span> ·{" "}
                <Download href={`${base}/sheets.pdf?by=person&only=${person}`}>Crew sheet</Download>{" "}
                <span className="soft">PDF</span>
              </p>
            )}
          </div>
          <p className="item">
            <Download href={`${base}/problem.json`}>Week problem</Download> ·{" "}
            <Download href={`${base}/plan.json`}>Week plan</Download>{" "}
            <span className="soft">JSON, for nundine solve and check</span>
          </p>
        </section>
      </Side>
    </div>
  );
}
