import { App, Button, Input } from "antd";
import { useState } from "react";

import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { A_LINE, usePartWrites, useStorerooms, type Line } from "./useParts";

export const VERBS: Record<Line["kind"], string> = {
  receipt: "Receive",
  "hand-out": "Hand out",
  "give-back": "Take back",
  count: "Count",
  transfer: "Move",
};

/** One movement by hand. */
export function PostPanel({ start, unit, close }: { start: Line; unit: string; close: () => void }) {
  const [line, setLine] = useState<Line>({ ...A_LINE, ...start });
  const [quantity, setQuantity] = useState(String(start.quantity));
  const [price, setPrice] = useState("");
  const [wrong, setWrong] = useState<{ field: string; text: string } | null>(null);
  const stores = useStorerooms();
  const { post } = usePartWrites();
  const { message } = App.useApp();
  const { kind } = line;
  const set = (more: Partial<Line>) => setLine({ ...line, ...more });
  const status = (field: string) => (wrong?.field === field ? "error" : undefined);
  const store = line.storeroom || stores[0]?.value || "";
  const send = async () => {
    try {
      const sent = {
        ...line,
        storeroom: store,
        quantity: Number(quantity),
        price: price ? Number(price) : null,
      };
      const { failed } = await post([sent]);
      if (failed[0]) {
        setWrong({ field: failed[0].field, text: failed[0].why });
        return;
      }
      void message.success(`${VERBS[kind]} ${quantity} ${unit} of ${line.part}: posted`);
      close();
    } catch (bad) {
      setWrong({ field: "", text: (bad as Error).message });
    }
  };
  const text = (name: "shelf" | "lot" | "order" | "reason" | "to_shelf", label: string, hint = "") => (
    <label className="grow">
      {label}
      <Input
        aria-label={label}
        status={status(name)}
        value={line[name] ?? ""}
        placeholder={hint}
        onChange={(e) => set({ [name]: e.target.value })}
      />
    </label>
  );
  return (
    <Panel title={`${VERBS[kind]}: ${line.part}`} close={close} unsaved={quantity !== String(start.quantity)}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <div className="row">
          <label style={{ width: 110 }}>
            {kind === "count" ? "Found" : "Quantity"}
            <Input
              aria-label={kind === "count" ? "Found" : "Quantity"}
              autoFocus
              inputMode="decimal"
              suffix={unit}
              status={status("quantity")}
              value={quantity}
              onChange={(e) => setQuantity(e.target.value.replace(",", "."))}
            />
          </label>
          {kind === "receipt" && (
            <label style={{ width: 120 }}>
              Price of one
              <Input
                aria-label="Price of one"
                inputMode="decimal"
                value={price}
                placeholder="usual"
                onChange={(e) => setPrice(e.target.value.replace(",", "."))}
              />
            </label>
          )}
        </div>
        <Choice
          label={kind === "transfer" ? "From" : "Storeroom"}
          value={store}
          change={(v) => set({ storeroom: v })}
          options={stores}
        />
        <div className="row">
          {text("shelf", "Shelf")}
          {text("lot", "Lot")}
        </div>
        {kind === "transfer" && (
          <>
            <Choice label="To" value={line.to ?? store} change={(v) => set({ to: v })} options={stores} />
            {text("to_shelf", "Shelf there")}
          </>
        )}
        {(kind === "hand-out" || kind === "give-back") && text("order", "WO", "WO-1234")}
        {text("reason", kind === "count" ? "Why it differs" : "Remark")}
        {wrong && (
          <p className="brick" role="alert">
            {wrong.text}
          </p>
        )}
        <div className="row">
          <Button
            type="primary"
            htmlType="submit"
            disabled={quantity === "" || Number.isNaN(Number(quantity))}
          >
            {VERBS[kind]}
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}
