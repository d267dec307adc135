import { Spin } from "antd";
import type { ReactNode } from "react";

import { useMe } from "../../api/queries";
import { Attached } from "../../kit/Attached";
import { History } from "../../kit/History";
import { SayIt } from "../../kit/SayIt";
import { clock, dayName, localDay } from "../../kit/words";
import { State } from "./State";
import { useRequest, useRequestWrites, type Request } from "./useRequests";

/** One request, what was said of it and what became of it; whoever may can say something. */
export function RequestView({ number, children }: { number: string; children?: (r: Request) => ReactNode }) {
  const found = useRequest(number);
  const me = useMe().data;
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const r = found.data;
  const zone = me?.timezone ?? "UTC";
  const when = (moment: string) => `${dayName(localDay(moment, zone))} ${clock(moment, zone)}`;
  return (
    <>
      <section>
        <h1 dir="auto">{r.title}</h1>
        <p>
          <span className="strong">{r.number}</span> · <State state={r.state} /> · {r.urgency}
        </p>
        <p dir="auto">
          {r.asset_name && (
            <>
              {r.asset_name} <span className="soft">{r.asset}</span>
            </>
          )}
          {r.place && ` · ${r.place}`}
          {r.area && <span className="soft"> · {r.area}</span>}
        </p>
        <p className="soft small">
          {r.reporter || "nobody named"}, {when(r.raised)}
        </p>
        {r.description && (
          <p style={{ whiteSpace: "pre-wrap", marginTop: 8 }} dir="auto">
            {r.description}
          </p>
        )}
        {r.order && (
          <p style={{ marginTop: 8 }}>
            <span className="verdigris strong">{r.order}</span> {r.order_title}{" "}
            <span className="soft">{r.order_state}</span>
          </p>
        )}
      </section>
      {children?.(r)}
      {r.files.length > 0 && (
        <section aria-label="Photos and files">
          <h2>Photos and files</h2>
          <Attached files={r.files} of={`/api/requests/${r.number}/files`} />
        </section>
      )}
      <section aria-label="Asked and answered">
        <h2>Asked and answered</h2>
        {r.talk.length === 0 && <p className="soft">Nothing yet.</p>}
        {r.talk.map((s) => (
          <p key={s.at + s.text} className="item" dir="auto">
            {s.text}{" "}
            <span className="soft small">
              {s.by}, {when(s.at)}
            </span>
          </p>
        ))}
        {(r.mine || me?.rights.includes("plan")) && <Answer key={r.revision} request={r} />}
      </section>
      <History key={r.number} noun="request" of={[r.number]} />
    </>
  );
}

function Answer({ request: r }: { request: Request }) {
  const { say } = useRequestWrites();
  return (
    <SayIt
      say={(text) => say(r, text)}
      placeholder={r.mine && r.state === "asked back" ? "your answer" : "a word on it"}
    />
  );
}
