import { Button, Input } from "antd";
import { useState } from "react";

import { keysOf, Picked } from "../../kit/Picked";
import { useCellRows } from "../../kit/useCellRows";
import { count } from "../../kit/words";
import { ChecklistRows } from "./ChecklistRows";
import { NOBODY, outsideCell, outsideOf } from "./outside";
import { partsOf } from "./partCell";
import { PartsOfTask } from "./PartsOfTask";
import { useChoices, type Cells } from "./useOrders";

interface Props {
  task: Cells;
  /** The asset of the work, whose parts are offered first. */
  asset?: string;
  set: (name: string, value: string) => void;
  wrong: string;
}
const CELLS = ["text", "tools", "parts", "outside", "checklist"];

/**
 * What a task says beside hours and crew: how it is done, with what, who comes from outside, what is checked.
 */
export function TaskMore({ task: t, asset, set, wrong }: Props) {
  const [opened, setOpened] = useState(false);
  const { tools } = useChoices();
  const name = (key: string) => tools.find((o) => o.value === key)?.label ?? key;
  const said = [
    t.text && "¶ text",
    ...keysOf(t.tools ?? "").map(name),
    ...outsideOf(t.outside ?? "").map((o) => o.contract),
    t.parts && count(partsOf(t.parts).length, "part"),
    t.checklist && count(keysOf(t.checklist).length, "check"),
  ].filter(Boolean);
  return (
    <details
      className="taskmore"
      open={CELLS.includes(wrong) || undefined}
      onToggle={(e) => setOpened(e.currentTarget.open)}
    >
      <summary className="small">
        More of task {t.task} <span className="soft">{said.join(" · ")}</span>
      </summary>
      <div className="stack" style={{ marginTop: 6 }}>
        <label className="small">
          How it is done
          <Input.TextArea
            aria-label={`How task ${t.task} is done`}
            autoSize={{ minRows: 2, maxRows: 10 }}
            maxLength={4000}
            status={wrong === "text" ? "error" : undefined}
            value={t.text ?? ""}
            onChange={(e) => set("text", e.target.value)}
          />
        </label>
        <Picked
          group={`Tools and vehicles of task ${t.task}`}
          label="Tools and vehicles"
          options={tools}
          cell={t.tools ?? ""}
          change={(v) => set("tools", v)}
          wrong={wrong === "tools"}
        />
        {opened && (
          <PartsOfTask task={t} asset={asset} change={(v) => set("parts", v)} wrong={wrong === "parts"} />
        )}
        <FromOutside task={t} change={(v) => set("outside", v)} wrong={wrong === "outside"} />
        <ChecklistRows
          task={t.task ?? ""}
          cell={t.checklist ?? ""}
          change={(v) => set("checklist", v)}
          wrong={wrong === "checklist"}
        />
      </div>
    </details>
  );
}

/** People of other firms: by which contract, how many, what an hour of one costs. */
function FromOutside({
  task: t,
  change,
  wrong,
}: {
  task: Cells;
  change: (cell: string) => void;
  wrong: boolean;
}) {
  const { contracts, currency } = useChoices();
  const { rows, write, put, take } = useCellRows(t.outside ?? "", outsideOf, outsideCell, change);
  const nth = (n: number) => (n ? ` ${n + 1}` : "");
  return (
    <div className="small" role="group" aria-label={`From outside for task ${t.task}`}>
      From outside
      {rows.map((r, n) => (
        <div key={n} className="row" style={{ gap: 5, marginTop: 4 }}>
          <input
            className="plainselect"
            style={{ width: 34 }}
            inputMode="numeric"
            aria-label={`People from outside${nth(n)} for task ${t.task}`}
            value={r.people}
            onChange={(e) => put(n, { people: e.target.value.replace(/\D/g, "").slice(0, 2) })}
            onFocus={(e) => e.target.select()}
          />
          <span aria-hidden>×</span>
          <input
            className="plainselect grow"
            aria-label={`Contract${nth(n)} for task ${t.task}`}
            aria-invalid={wrong}
            list={`contracts ${t.task}`}
            placeholder="which contract"
            value={r.contract}
            onChange={(e) => {
              const known = contracts.find((c) => c.name === e.target.value);
              put(n, {
                contract: e.target.value.replace(/;/g, ","),
                ...(known && { rate: String(known.rate) }),
              });
            }}
          />
          <input
            className="plainselect"
            style={{ width: 64 }}
            inputMode="decimal"
            aria-label={`Cost of an hour${nth(n)} for task ${t.task}`}
            placeholder="an hour"
            value={r.rate}
            onChange={(e) => put(n, { rate: e.target.value.replace(",", ".").replace(/[^\d.]/g, "") })}
          />
          <span className="soft">{currency} an hour</span>
          <Button
            size="small"
            type="text"
            tabIndex={-1}
            aria-label={`Take contract${nth(n)} of task ${t.task} off`}
            onClick={() => take(n)}
          >
            ×
          </Button>
        </div>
      ))}
      <datalist id={`contracts ${t.task}`}>
        {contracts.map((c) => (
          <option key={c.name} value={c.name} />
        ))}
      </datalist>
      <div>
        <Button
          size="small"
          type="link"
          className="morecraft"
          disabled={rows.some((r) => !r.contract)}
          onClick={() => write([...rows, NOBODY])}
        >
          People of another firm
        </Button>
      </div>
    </div>
  );
}
