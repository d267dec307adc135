import { useQuery } from "@tanstack/react-query";
import { Alert, Button, Select, Spin } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { keys, useBacklog } from "../../api/queries";
import { Panel } from "../../kit/Panel";
import { count } from "../../kit/words";
import { useWeek } from "../week/context";

const SIGNS: Record<string, string> = { in: "+", people: "⇄", start: "◷", day: "→", out: "−" };
const WORDS: Record<string, string> = {
  in: "comes in",
  people: "other people",
  start: "other time",
  day: "other day",
  out: "leaves",
};

/** Mend: what would have to move so that no rule is broken any more, in words, before anything is done. */
export function MendPanel({ close, start = [] }: { close: () => void; start?: string[] }) {
  const { week, now, edit, busy } = useWeek();
  const [putIn, setPutIn] = useState<string[]>(start);
  const [text, setText] = useState("");
  const found =
    useBacklog(week, { search: text, size: 12, page: 1, ready: true, placed: false }).data?.rows ?? [];
  const [accepted, setAccepted] = useState(false);
  const plan = useQuery({
    enabled: !accepted,
    queryKey: keys.part(week, "mend", now.edits, putIn.join(" ")),
    queryFn: () =>
      need(http.POST("/api/weeks/{week}/mend", { params: { path: { week } }, body: { put_in: putIn } })),
    retry: false,
  });
  const accept = async () => {
    setAccepted(true); // the week that comes back is not asked about once more
    if (await edit({ kind: "mend", put_in: putIn })) close();
    else setAccepted(false);
  };
  return (
    <Panel close={close} title={`Mend week ${Number(week.slice(6))}`} width={460}>
      <label style={{ display: "block", marginBottom: 14 }}>
        Put in beside it (a break-in)
        <Select
          mode="multiple"
          showSearch={{ onSearch: setText, filterOption: false }}
          allowClear
          style={{ width: "100%" }}
          placeholder="a WO that has to come in, by number or words"
          aria-label="Put in beside it"
          value={putIn}
          onChange={setPutIn}
          options={[
            ...start.filter((n) => !found.some((j) => j.number === n)).map((n) => ({ value: n, label: n })),
            ...found.map((j) => ({ value: j.number, label: `${j.number} ${j.title}` })),
          ]}
        />
      </label>
      {plan.isPending && (
        <div className="empty">
          <Spin />
        </div>
      )}
      {plan.error && (
        <Alert type="warning" showIcon title="Nothing can be mended" description={plan.error.message} />
      )}
      {plan.data && <Moves plan={plan.data} />}
      {plan.data && plan.data.moves.length > 0 && (
        <div className="row" style={{ marginTop: 16 }}>
          <Button type="primary" onClick={() => void accept()} loading={busy} autoFocus>
            Mend
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
      )}
    </Panel>
  );
}

function Moves({ plan }: { plan: Shapes["MendPreview"] }) {
  const { now, openJob } = useWeek();
  if (plan.moves.length === 0 && plan.conflicts.length === 0 && plan.not_in.length === 0)
    return <p className="soft">Nothing has to move: the week breaks no rule.</p>;
  return (
    <section aria-label="Moves">
      <h2>
        {plan.moves.length
          ? `${count(plan.count, "move")}${now.revision ? " of published work" : ""}`
          : "Nothing can move"}
      </h2>
      <p className="soft">What is under way, done or pinned stays. Held-back hours may be used.</p>
      <ul className="moves">
        {plan.moves.map((m) => (
          <li key={m.kind + m.text} className={m.kind === "out" ? "brick" : ""}>
            <span aria-label={WORDS[m.kind]} title={WORDS[m.kind]} className="sign">
              {SIGNS[m.kind]}
            </span>
            <button className="plain" onClick={() => openJob(m.job)}>
              {m.text}
              <span className="soft small cut">{m.title}</span>
            </button>
          </li>
        ))}
      </ul>
      {plan.not_in.length > 0 && (
        <Alert
          type="warning"
          style={{ marginTop: 8 }}
          title={`No place was found for ${plan.not_in.join(", ")}`}
          description={
            "Work that is worth more is in the way at every time it could be done. " +
            "Open the job to see what would help."
          }
        />
      )}
      {plan.conflicts.length > 0 && (
        <>
          <h2 style={{ marginTop: 12 }}>Stays broken</h2>
          {plan.conflicts.map((c) => (
            <div key={c.text} className="item">
              <p className="brick">▲ {c.text}</p>
              <p className="small soft">It stays: {c.why}.</p>
            </div>
          ))}
        </>
      )}
    </section>
  );
}
