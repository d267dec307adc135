import { App, Input } from "antd";
import { useState } from "react";

import { Problem } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { KeptEnd } from "../../kit/useKeptForm";
import { Worded } from "../../kit/Worded";
import {
  useBuyingWrites,
  useSuppliers,
  wantedOf,
  type BuyRequest,
  type Purchase,
  type Wanted,
} from "./useBuying";
import { read, typed, WantedLines } from "./WantedLines";

type Of =
  | { kind: "request"; now?: BuyRequest; lines?: { wanted: Wanted; name: string }[] }
  | { kind: "purchase"; now?: Purchase };

const TOLD = {
  written: "is written down; say what one costs, then ask for it",
  asked: "waits for somebody to approve it",
  approved: "is approved: it lies within your limit",
} as Record<string, string>;

/** A request to buy, or an order, as it is written: what it wants, line by line. */
export function AskPanel({ of, close }: { of: Of; close: (number?: string) => void }) {
  const { now } = of;
  const start = now
    ? now.lines.map((li) => typed(wantedOf(li), li.name))
    : ((of.kind === "request" && of.lines) || []).map((li) => typed(li.wanted, li.name));
  const [lines, setLines] = useState(start);
  const [supplier, setSupplier] = useState((of.kind === "purchase" && of.now?.supplier) || "");
  const [remark, setRemark] = useState(now?.remark ?? "");
  const [wrong, setWrong] = useState<{ text: string } | null>(null);
  const suppliers = useSuppliers();
  const writes = useBuyingWrites();
  const { message } = App.useApp();
  const send = async () => {
    const wanted = lines.map(read);
    try {
      if (of.kind === "purchase" && now) {
        await writes.changePurchase(now.number, { supplier, lines: wanted, remark, revision: now.revision });
        close(now.number);
      } else if (of.kind === "purchase") {
        const made = await writes.write({ supplier, lines: wanted, remark });
        void message.success(`${made.number} is written; place it when it is whole`);
        close(made.number);
      } else if (now) {
        await writes.changeRequest(now.number, { lines: wanted, remark, revision: now.revision });
        close(now.number);
      } else {
        const made = await writes.ask(wanted, remark);
        void message.success(`${made.number} ${TOLD[made.state]}`);
        close(made.number);
      }
    } catch (bad) {
      const which = bad instanceof Problem ? bad.facts.n : undefined;
      const at = typeof which === "number" && lines[which];
      setWrong({ text: (at ? `${at.part || at.words}: ` : "") + (bad as Error).message });
    }
  };
  const name = of.kind === "request" ? "request to buy" : "order";
  const changed = JSON.stringify(lines) !== JSON.stringify(start);
  return (
    <Panel title={now ? now.number : `New ${name}`} close={() => close()} unsaved={changed}>
      <form
        className="stack"
        aria-label={now ? `Change ${now.number}` : `New ${name}`}
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        {of.kind === "purchase" && (
          <Worded
            label="Supplier"
            used={suppliers}
            value={supplier}
            change={setSupplier}
            placeholder="none yet"
          />
        )}
        <WantedLines lines={lines} change={setLines} />
        <label>
          Remark
          <Input.TextArea
            aria-label="Remark"
            autoSize={{ minRows: 1, maxRows: 5 }}
            maxLength={4000}
            value={remark}
            onChange={(e) => setRemark(e.target.value)}
          />
        </label>
        <KeptEnd
          wrong={wrong}
          send={now ? "Save" : of.kind === "request" ? "Ask to buy" : "Write the order"}
          leave={() => close()}
        />
      </form>
    </Panel>
  );
}
