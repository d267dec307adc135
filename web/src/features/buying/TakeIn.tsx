import { App, Input } from "antd";
import { useState } from "react";

import { Problem } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { KeptEnd } from "../../kit/useKeptForm";
import { figure } from "../../kit/words";
import { useBuyingWrites, type Purchase } from "./useBuying";

/** What came with an order, line by line: what the delivery note says stands there, else what is awaited. */
export function TakeIn({ of, close }: { of: Purchase; close: () => void }) {
  const awaited = of.lines.filter((li) => li.to_come > 0 || li.noted > li.received);
  const noted = awaited.some((li) => li.noted > li.received);
  const [rows, setRows] = useState(() =>
    awaited.map((li) => ({
      line: li.line,
      quantity: String(noted ? Math.max(0, li.noted - li.received) : li.to_come),
      shelf: "",
    })),
  );
  const [wrong, setWrong] = useState<{ text: string } | null>(null);
  const { receive } = useBuyingWrites();
  const { message } = App.useApp();
  const put = (n: number, more: Partial<(typeof rows)[number]>) =>
    setRows(rows.map((r, k) => (k === n ? { ...r, ...more } : r)));
  const send = async () => {
    const came = rows
      .filter((r) => Number(r.quantity) > 0)
      .map((r) => ({ line: r.line, quantity: Number(r.quantity), shelf: r.shelf, lot: "" }));
    try {
      await receive(of.number, { came, revision: of.revision });
      void message.success(`${of.number}: taken in`);
      close();
    } catch (bad) {
      const line = bad instanceof Problem ? bad.facts.line : undefined;
      const at = of.lines.find((li) => li.line === line);
      setWrong({ text: (at ? `${at.name}: ` : "") + (bad as Error).message });
    }
  };
  return (
    <Panel title={`What came with ${of.number}`} close={close}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        {awaited.map((li, n) => (
          <div key={li.line} className="item">
            <p style={{ margin: 0 }} dir="auto">
              <span className="strong">{li.part}</span> {li.name}
              <span className="soft">
                {" "}
                {figure(li.to_come)} {li.unit} awaited
              </span>
            </p>
            <div className="row">
              <label style={{ width: 100 }}>
                Came
                <Input
                  aria-label={`How many came of ${li.part ?? li.name}`}
                  inputMode="decimal"
                  autoFocus={n === 0}
                  value={rows[n]!.quantity}
                  onChange={(e) => put(n, { quantity: e.target.value.replace(",", ".") })}
                  onFocus={(e) => e.target.select()}
                />
              </label>
              {li.storeroom && (
                <label className="grow">
                  Shelf
                  <Input
                    aria-label={`Shelf of ${li.part ?? li.name}`}
                    value={rows[n]!.shelf}
                    onChange={(e) => put(n, { shelf: e.target.value })}
                  />
                </label>
              )}
            </div>
          </div>
        ))}
        <KeptEnd wrong={wrong} send="Take in" leave={close} />
      </form>
    </Panel>
  );
}
