import { Alert } from "antd";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import { useHead, useRows, type Question } from "../../api/lists";
import { useMe } from "../../api/queries";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { dayName, localDay } from "../../kit/words";
import { ReportForm } from "./ReportForm";
import { RequestView } from "./RequestView";
import { State } from "./State";

const MINE: Question = {
  filters: [{ column: "mine", how: "is", values: ["yes"] }],
  find: "",
  sort: [{ column: "raised", down: true }],
  group: null,
};
const WHERE = { list: "requests" };

/** Whoever saw something reports it here, on a phone too, and sees what became of it. */
export function ReportPage() {
  const me = useMe().data;
  const head = useHead(WHERE);
  const mine = useRows(WHERE, MINE);
  const [open, setOpen] = useKept("open");
  const [known] = useSearchParams();
  const [sent, setSent] = useState<string | null>(null);
  useTitle("Report a need");
  const rows = Array.from({ length: Math.min(mine.total, 100) }, (_, n) => mine.rowAt(n)).filter(
    (r) => r !== undefined,
  );
  return (
    <main className="page reportpage">
      <section aria-label="Report a need">
        <h1>Report a need</h1>
        {sent && (
          <Alert
            type="success"
            showIcon
            title={`Thank you: ${sent} is reported`}
            description="What becomes of it stands beside, in your list."
            style={{ margin: "10px 0" }}
          />
        )}
        <ReportForm
          key={sent}
          start={sent === null ? Object.fromEntries(known) : {}}
          done={(number) => {
            setSent(number);
            setOpen("");
          }}
        />
      </section>
      <section aria-label="What I reported">
        <h1>What I reported</h1>
        {me?.rights.includes("plan") && <Link to="/work/requests">All requests</Link>}
        {open ? (
          <>
            <button className="plain verdigris" onClick={() => setOpen("")}>
              ‹ All of mine
            </button>
            <RequestView number={open} />
          </>
        ) : head.data && rows.length ? (
          rows.map((r) => (
            <button key={r.key} className="plain item minerow" onClick={() => setOpen(r.key)}>
              <span className="row">
                <span className="strong">{r.key}</span>
                <span className="grow cut" dir="auto">
                  {String(r.cells.title)}
                </span>
                <State state={String(r.cells.state)} />
              </span>
              <span className="soft small">
                {dayName(localDay(String(r.cells.raised), me?.timezone ?? "UTC"))}
                {r.cells.order ? ` · ${String(r.cells.order)}, ${String(r.cells.order_state)}` : ""}
              </span>
            </button>
          ))
        ) : (
          <p className="soft">Nothing yet.</p>
        )}
      </section>
    </main>
  );
}
