import { Button, Checkbox } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useCellRows } from "../../kit/useCellRows";
import { PartsOffered } from "../parts/PartsOffered";
import { partsCell, partsOf } from "./partCell";
import type { Cells } from "./useOrders";

/**
 * The parts that a task needs: picked from the asset's list, from all there are, or told in words; what is
 * free is seen before.
 */
export function PartsOfTask({
  task: t,
  asset,
  change,
  wrong,
}: {
  task: Cells;
  asset?: string;
  change: (cell: string) => void;
  wrong: boolean;
}) {
  const { rows, write, put, take } = useCellRows(t.parts ?? "", partsOf, partsCell, change);
  const [text, setText] = useState("");
  const [names, setNames] = useState<Record<string, string>>({});
  const add = (c: Shapes["PartChoice"] | null) => {
    const row = { part: c?.part ?? "", text: c ? "" : text.trim().replace(/[";]/g, ""), store: "" };
    if (!row.part && !row.text) return;
    if (c) setNames({ ...names, [c.part]: c.name });
    write([...rows, { ...row, quantity: "1", may: c ? !c.must_use : false }]);
    setText("");
  };
  return (
    <div className="small" role="group" aria-label={`Parts of task ${t.task}`}>
      Parts
      {rows.map((r, n) => (
        <div key={n} className="row" style={{ gap: 5, marginTop: 4 }}>
          <input
            className="plainselect"
            style={{ width: 52 }}
            inputMode="decimal"
            aria-label={`How many of ${r.part || r.text}`}
            aria-invalid={wrong}
            value={r.quantity}
            onChange={(e) => put(n, { quantity: e.target.value.replace(",", ".").replace(/[^\d.]/g, "") })}
            onFocus={(e) => e.target.select()}
          />
          <span className="grow" dir="auto">
            {r.part || r.text} <span className="soft">{names[r.part]}</span>
            {r.store && <span className="soft"> from {r.store}</span>}
          </span>
          <Checkbox checked={!r.may} onChange={(e) => put(n, { may: !e.target.checked })}>
            must be used
          </Checkbox>
          <Button size="small" type="text" aria-label={`Without ${r.part || r.text}`} onClick={() => take(n)}>
            ×
          </Button>
        </div>
      ))}
      <input
        className="plainselect"
        style={{ width: "100%", marginTop: 4 }}
        aria-label={`Add a part to task ${t.task}`}
        placeholder="type a part’s number or name; Enter keeps the words"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          add(null);
        }}
      />
      <PartsOffered text={text} asset={asset} taken={rows.map((r) => r.part)} pick={add} />
    </div>
  );
}
