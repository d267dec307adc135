import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Checkbox } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { figure } from "../../kit/words";
import { partsCell, partsOf, type PartWanted } from "./partCell";
import type { Cells } from "./useOrders";

/** The parts that a task needs: picked from the asset's list, from all there are, or told in words; what is free is seen before. */
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
  const [rows, setRows] = useState(() => partsOf(t.parts ?? ""));
  const [text, setText] = useState("");
  const [names, setNames] = useState<Record<string, string>>({});
  const write = (now: PartWanted[]) => {
    setRows(now);
    change(partsCell(now));
  };
  const put = (n: number, more: Partial<PartWanted>) =>
    write(rows.map((r, k) => (k === n ? { ...r, ...more } : r)));
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
          <Button
            size="small"
            type="text"
            aria-label={`Without ${r.part || r.text}`}
            onClick={() => write(rows.filter((_, k) => k !== n))}
          >
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
      <Offered text={text} asset={asset} taken={rows.map((r) => r.part)} pick={add} />
    </div>
  );
}

function Offered({
  text,
  asset,
  taken,
  pick,
}: {
  text: string;
  asset?: string;
  taken: string[];
  pick: (c: Shapes["PartChoice"]) => void;
}) {
  const found = useQuery({
    queryKey: ["parts", "choices", text.trim(), asset ?? ""],
    queryFn: () =>
      need(
        http.GET("/api/parts/choices", { params: { query: { text: text.trim(), asset: asset || null } } }),
      ),
    enabled: text.trim() !== "" || Boolean(asset),
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  }).data;
  const shown = (found ?? []).filter((c) => !taken.includes(c.part)).slice(0, text.trim() ? 8 : 5);
  return shown.map((c) => (
    <button
      key={c.part}
      type="button"
      className="plain item row"
      style={{ width: "100%" }}
      onClick={() => pick(c)}
    >
      <span className="grow" dir="auto">
        <span className="strong">{c.part}</span> {c.name}
        {c.of_asset && <span className="soft"> of this asset</span>}
      </span>
      <span className={c.free > 0 ? "" : "ochre"}>
        {c.free > 0 ? `${figure(c.free)} ${c.unit} free` : "◆ none free"}
      </span>
    </button>
  ));
}
