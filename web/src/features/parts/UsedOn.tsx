import { Button, Input } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Typed } from "../../kit/Typed";
import { useRefusal } from "../../kit/useRefusal";
import { figure } from "../../kit/words";
import { useChoices } from "../orders/useOrders";
import { usePartWrites } from "./useParts";

/** The assets whose parts lists hold a part; it is put on a list here, or taken off. */
export function UsedOn({ part, uses, may }: { part: string; uses: Shapes["UsedOn"][]; may: boolean }) {
  const [adding, setAdding] = useState(false);
  const { takeOffList } = usePartWrites();
  const refuse = useRefusal();
  const take = async (asset: string) => {
    try {
      await takeOffList({ asset, part });
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  if (!may && !uses.length) return null;
  return (
    <section aria-label="Used on">
      <h2>Used on</h2>
      {uses.map((u) => (
        <p key={u.asset} className="item row">
          <span className="grow" dir="auto">
            {u.name}
            {u.remark && <span className="soft"> {u.remark}</span>}
          </span>
          <span>{figure(u.quantity)}</span>
          {may && (
            <Button size="small" aria-label={`No more on ${u.name}`} onClick={() => void take(u.asset)}>
              ×
            </Button>
          )}
        </p>
      ))}
      {may && !adding && (
        <Button size="small" onClick={() => setAdding(true)}>
          Put it on an asset
        </Button>
      )}
      {adding && <Add part={part} close={() => setAdding(false)} />}
    </section>
  );
}

function Add({ part, close }: { part: string; close: () => void }) {
  const [asset, setAsset] = useState<string | null>(null);
  const [quantity, setQuantity] = useState("1");
  const [remark, setRemark] = useState("");
  const { assets } = useChoices();
  const { putOnList } = usePartWrites();
  const refuse = useRefusal();
  const send = async () => {
    try {
      await putOnList({ asset: asset!, part, quantity: Number(quantity), remark });
      close();
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  return (
    <form
      className="stack"
      aria-label="Put it on an asset"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      <Typed
        label="Asset"
        options={assets}
        value={asset}
        change={setAsset}
        placeholder="type a part of its name"
        autoFocus
      />
      <div className="row">
        <label style={{ width: 90 }}>
          How many
          <Input
            aria-label="How many"
            inputMode="decimal"
            value={quantity}
            onChange={(e) => setQuantity(e.target.value)}
          />
        </label>
        <label className="grow">
          Remark
          <Input
            aria-label="Remark"
            value={remark}
            maxLength={200}
            onChange={(e) => setRemark(e.target.value)}
          />
        </label>
      </div>
      <div className="row">
        <Button size="small" type="primary" htmlType="submit" disabled={!asset || !(Number(quantity) > 0)}>
          Put it there
        </Button>
        <Button size="small" onClick={close}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
