import { Button, Input } from "antd";
import { useState } from "react";

import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { count } from "../../kit/words";
import { VERBS } from "./PostPanel";
import { A_LINE, usePartWrites, useStorerooms, type Line } from "./useParts";

interface Row {
  part: string;
  quantity: string;
  why: string;
}
const KINDS = ["hand-out", "receipt", "give-back"] as const;

/**
 * Codes typed or scanned one after another, posted together; a line that fails stays with its reason and is
 * posted again once it is mended.
 */
export function ScanPanel({ close }: { close: () => void }) {
  const [kind, setKind] = useState<(typeof KINDS)[number]>("hand-out");
  const [store, setStore] = useState(() => localStorage.getItem("storeroom") ?? "");
  const [shelf, setShelf] = useState("");
  const [order, setOrder] = useState("");
  const [code, setCode] = useState("");
  const [rows, setRows] = useState<Row[]>([]);
  const [told, setTold] = useState("");
  const stores = useStorerooms();
  const { post } = usePartWrites();
  const at = stores.find((s) => s.value === store)?.value ?? stores[0]?.value ?? "";
  const add = () => {
    const part = code.trim();
    if (!part) return;
    const there = rows.findIndex((r) => r.part === part);
    setRows(
      there < 0
        ? [...rows, { part, quantity: "1", why: "" }]
        : rows.map((r, n) => (n === there ? { ...r, quantity: String(Number(r.quantity) + 1), why: "" } : r)),
    );
    setCode("");
    setTold("");
  };
  const change = (n: number, quantity: string) =>
    setRows(rows.map((r, i) => (i === n ? { ...r, quantity, why: "" } : r)));
  const send = async () => {
    try {
      const lines: Line[] = rows.map((r) => ({
        ...A_LINE,
        kind,
        part: r.part,
        storeroom: at,
        shelf,
        order: order.trim() || null,
        quantity: Number(r.quantity) || 0,
      }));
      const { count: done, failed } = await post(lines);
      setTold(`${done} posted, ${failed.length} failed`);
      setRows(failed.map((f) => ({ ...rows[f.line]!, why: f.why })));
    } catch (bad) {
      setTold((bad as Error).message);
    }
  };
  return (
    <Panel title="Post by code" width={480} close={close} unsaved={rows.length > 0}>
      <div className="stack">
        <div className="row">
          <Choice
            label="What"
            width={130}
            value={kind}
            change={(v) => setKind(v as (typeof KINDS)[number])}
            options={KINDS.map((k) => ({ value: k, label: VERBS[k] }))}
          />
          <Choice
            label="Storeroom"
            value={at}
            change={(v) => {
              setStore(v);
              localStorage.setItem("storeroom", v); // whoever stands in a storeroom posts there again
            }}
            options={stores}
          />
        </div>
        <div className="row">
          <label className="grow">
            Shelf
            <Input aria-label="Shelf" value={shelf} onChange={(e) => setShelf(e.target.value)} />
          </label>
          {kind !== "receipt" && (
            <label className="grow">
              WO
              <Input
                aria-label="WO"
                value={order}
                placeholder="WO-1234"
                onChange={(e) => setOrder(e.target.value)}
              />
            </label>
          )}
        </div>
        <form
          onSubmit={(e) => {
            e.preventDefault();
            add();
          }}
        >
          <label>
            Code, then Enter; the same again is one more
            <Input aria-label="Code" autoFocus value={code} onChange={(e) => setCode(e.target.value)} />
          </label>
        </form>
        {rows.map((r, n) => (
          <div key={r.part} className="item row">
            <span className="grow">
              <span className="strong">{r.part}</span>
              {r.why && (
                <span className="secondline brick small" role="alert">
                  {r.why}
                </span>
              )}
            </span>
            <Input
              aria-label={`How many of ${r.part}`}
              inputMode="decimal"
              style={{ width: 80 }}
              value={r.quantity}
              onChange={(e) => change(n, e.target.value.replace(",", "."))}
            />
            <Button
              size="small"
              aria-label={`Without ${r.part}`}
              onClick={() => setRows(rows.filter((_, i) => i !== n))}
            >
              ×
            </Button>
          </div>
        ))}
        {told && <p role="status">{told}</p>}
        <div className="row">
          <Button type="primary" disabled={!rows.length} onClick={() => void send()}>
            Post {count(rows.length, "line")}
          </Button>
          <Button onClick={close}>Shut</Button>
        </div>
      </div>
    </Panel>
  );
}
