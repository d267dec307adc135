import { App, Button, Spin } from "antd";
import { useState } from "react";

import { useJob } from "../../api/queries";
import { Panel } from "../../kit/Panel";
import { KeptEnd, useKeptForm } from "../../kit/useKeptForm";
import { useRefusal } from "../../kit/useRefusal";
import { count, figure } from "../../kit/words";
import { HandOutButton } from "./HandOut";
import { usePartWrites } from "./useParts";

/** The WOs of rows of the list to pick from, each once. */
export const ordersOf = (keys: string[]) => [...new Set(keys.map((key) => key.split(" / ")[0]!))];

/** Says where the parts of the WOs that are chosen were set aside. */
export function SetAside({ orders, done }: { orders: string[]; done: () => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Set aside …
      </Button>
      {open && (
        <PlacePanel
          orders={orders}
          close={(sent) => {
            setOpen(false);
            if (sent) done();
          }}
        />
      )}
    </>
  );
}

function PlacePanel({ orders, close }: { orders: string[]; close: (sent: boolean) => void }) {
  const { cells, wrong, act, text, changed } = useKeptForm({ cells: { place: "" }, revision: null });
  const { setAside } = usePartWrites();
  const { message } = App.useApp();
  return (
    <Panel title="Set parts aside" close={() => close(false)} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(async () => {
            const made = await setAside(orders, cells.place!);
            void message.success(`Parts of ${count(made, "WO")} set aside`);
            close(true);
          });
        }}
      >
        <p style={{ margin: 0 }}>
          {count(orders.length, "WO")}: {orders.slice(0, 6).join(", ")}
          {orders.length > 6 && ` and ${orders.length - 6} more`}
        </p>
        {text("place", "Where they lie", "kit shelf K3")}
        <KeptEnd wrong={wrong} send="Set them aside" leave={() => close(false)} />
      </form>
    </Panel>
  );
}

/** What belongs to the kit of a WO, and how much of it was handed out. */
export function KitOf({ number, week }: { number: string; week: string }) {
  const found = useJob(week, number);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const { title, asset, kit, tasks } = found.data;
  return (
    <section>
      <h1>{number}</h1>
      <p>
        {title} <span className="soft">· {asset}</span>
      </p>
      {kit && <p>▣ {kit}</p>}
      <div role="list" aria-label="What belongs to it">
        {tasks.flatMap((t) =>
          t.parts.map((l) => (
            <p role="listitem" key={`${t.number} ${l.part ?? ""} ${l.name}`} className="item">
              {figure(l.quantity)} {l.unit} {l.part} {l.name}
              <span className="secondline soft small">
                task {t.number} · {l.given >= l.quantity ? "handed out" : `${figure(l.given)} handed out`}
                {l.how === "alternate" && `, ${l.other} instead`}
              </span>
            </p>
          )),
        )}
      </div>
    </section>
  );
}

/** Hands whole kits out, or says that they were put back. */
export function KitDeeds({ orders, done }: { orders: string[]; done: () => void }) {
  const { handOutKits, putBack } = usePartWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const back = async () => {
    try {
      void message.success(`${count(await putBack(orders), "kit")} put back`);
      done();
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  return (
    <>
      <HandOutButton hand={() => handOutKits(orders)} done={done} />
      <Button size="small" onClick={() => void back()}>
        Put back
      </Button>
    </>
  );
}
