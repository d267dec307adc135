import { App, Input } from "antd";
import { useState } from "react";

import { Panel } from "../../kit/Panel";
import { KeptEnd } from "../../kit/useKeptForm";
import { count, figure } from "../../kit/words";
import { usePartWrites } from "./useParts";
import { withReasons, type Telling, type UseLine } from "./usePartsUsed";

/** How much of what was handed out does instead: ` (2 of them X-2)`. */
const ofOthers = (li: UseLine) => {
  const others = Object.entries(li.as_parts).filter(([part]) => part !== li.part);
  return others.length ? ` (${others.map(([part, n]) => `${figure(n)} of them ${part}`).join(", ")})` : "";
};

/**
 * What jobs used of their parts: as planned unless somebody says otherwise; lines that fail stay with the
 * reason and are posted again.
 */
export function UsedPanel({ lines, close }: { lines: Telling[]; close: () => void }) {
  const [rows, setRows] = useState(() =>
    lines.map((li) => ({
      ...li,
      used: String(li.must || li.given > 0 ? Math.max(li.planned, li.given) : 0),
    })),
  );
  const [told, setTold] = useState("");
  const [wrong, setWrong] = useState<{ text: string } | null>(null);
  const { tellUsed } = usePartWrites();
  const { message } = App.useApp();
  const send = async () => {
    setWrong(null);
    try {
      const posted = await tellUsed(rows.map((r) => ({ ...r, quantity: Number(r.used) || 0 })));
      if (!posted.failed.length) {
        void message.success(`${count(posted.count, "part")} posted`);
        close();
        return;
      }
      setTold(`${posted.count} posted, ${posted.failed.length} failed`);
      setRows(withReasons(rows, posted));
    } catch (bad) {
      setWrong({ text: (bad as Error).message });
    }
  };
  return (
    <Panel title="Parts used" close={close}>
      <form
        className="stack"
        aria-label="Parts used"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        {told && (
          <p className="ochre" role="status">
            {told}
          </p>
        )}
        {rows.map((r, n) => (
          <div key={r.order + r.task + r.part} className="item">
            <div className="row">
              <span className="grow" dir="auto">
                <span className="strong">{r.part}</span> {r.name}
                <span className="secondline soft small">
                  {r.order} task {r.task} · {figure(r.planned)} {r.unit} planned
                  {r.given > 0 && `, ${figure(r.given)} handed out${ofOthers(r)}`}
                  {r.instead && `, ${r.instead} goes out instead`}
                </span>
              </span>
              <Input
                aria-label={`Used of ${r.part} in ${r.order}`}
                style={{ width: 90 }}
                inputMode="decimal"
                value={r.used}
                onChange={(e) =>
                  setRows(
                    rows.map((x, k) => (k === n ? { ...x, used: e.target.value.replace(",", ".") } : x)),
                  )
                }
                onFocus={(e) => e.target.select()}
              />
            </div>
            {r.why && (
              <p className="brick small" style={{ margin: 0 }}>
                {r.why}
              </p>
            )}
          </div>
        ))}
        <KeptEnd wrong={wrong} send="Post" leave={close} />
      </form>
    </Panel>
  );
}
