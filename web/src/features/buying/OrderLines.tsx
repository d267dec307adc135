import { App, Button } from "antd";
import { useState } from "react";

import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { KeptEnd } from "../../kit/useKeptForm";
import { count } from "../../kit/words";
import { Worded } from "../../kit/Worded";
import { lineOf, useBuyingWrites, useSuppliers, useWritten } from "./useBuying";

/** Puts the lines that are chosen into an order: a new one, or one that is being written. */
export function OrderLines({ keys, done }: { keys: string[]; done: (number: string) => void }) {
  const [open, setOpen] = useState(false);
  const [into, setInto] = useState("");
  const [supplier, setSupplier] = useState("");
  const [wrong, setWrong] = useState<{ text: string } | null>(null);
  const written = useWritten();
  const suppliers = useSuppliers();
  const { order } = useBuyingWrites();
  const { message } = App.useApp();
  const close = () => {
    setOpen(false);
    setWrong(null);
  };
  const send = async () => {
    const picked = keys.map(lineOf).map(({ number, line }) => ({ request: number, line }));
    try {
      const made = await order({ picked, supplier, into: into || null });
      void message.success(`${count(picked.length, "line")} in ${made.number}`);
      close();
      done(made.number);
    } catch (bad) {
      setWrong({ text: (bad as Error).message });
    }
  };
  const offered = written.map((w) => ({
    value: w.number,
    label: `${w.number} ${w.supplier} (${count(w.lines, "line")})`,
  }));
  return (
    <>
      <Button size="small" type="primary" onClick={() => setOpen(true)}>
        Order …
      </Button>
      {open && (
        <Panel title={`Order ${count(keys.length, "line")}`} close={close}>
          <form
            className="stack"
            onSubmit={(e) => {
              e.preventDefault();
              void send();
            }}
          >
            <Choice
              label="Into"
              value={into}
              change={setInto}
              options={[{ value: "", label: "a new order" }, ...offered]}
            />
            {!into && (
              <Worded
                label="Supplier"
                used={suppliers}
                value={supplier}
                change={setSupplier}
                placeholder="none yet"
              />
            )}
            <KeptEnd wrong={wrong} send="Order" leave={close} />
          </form>
        </Panel>
      )}
    </>
  );
}
