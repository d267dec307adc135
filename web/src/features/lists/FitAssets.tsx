import { useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";
import { useState } from "react";

import { http, need } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { useRefusal } from "../../kit/useRefusal";
import { count } from "../../kit/words";
import { useChoices } from "../orders/useOrders";

/**
 * Puts assets in store, where their services are held, and fits them again: where they were, or into another.
 */
export function FitAssets({ assets: keys, done: leave }: { assets: string[]; done: () => void }) {
  const [open, setOpen] = useState(false);
  const [parent, setParent] = useState<string | null>(null);
  const { assets } = useChoices();
  const client = useQueryClient();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const send = async (in_store: boolean) => {
    try {
      const body = { assets: keys, in_store, parent: in_store ? null : parent };
      const changed = await need(http.POST("/api/assets/fitting", { body }));
      void message.success(`${count(changed, "asset")} ${in_store ? "in store" : "fitted"}`);
      setOpen(false);
      leave();
      for (const key of [["list"], ["preventive"], ["orders", "choices"]])
        void client.invalidateQueries({ queryKey: key });
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  return (
    <>
      <Button size="small" onClick={() => void send(true)}>
        Put in store
      </Button>
      <Button size="small" onClick={() => setOpen(true)}>
        Fit …
      </Button>
      {open && (
        <Panel title={`Fit ${count(keys.length, "asset")}`} close={() => setOpen(false)}>
          <form
            className="stack"
            onSubmit={(e) => {
              e.preventDefault();
              void send(false);
            }}
          >
            <Typed
              label="Into"
              options={assets.filter((a) => !keys.includes(a.value))}
              value={parent}
              change={setParent}
              placeholder="where it was"
            />
            <Button type="primary" htmlType="submit">
              Fit
            </Button>
          </form>
        </Panel>
      )}
    </>
  );
}
