import { App, Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { useRefusal } from "../../kit/useRefusal";
import { count } from "../../kit/words";
import { usePartWrites } from "./useParts";

export type Handed = Shapes["Handed"];

/** Hands out what is left of the needs that are chosen, from where it lies. */
export function HandOut({ keys, done }: { keys: string[]; done: () => void }) {
  const { handOut } = usePartWrites();
  const picked = keys.map((key) => {
    const [order, task, ...part] = key.split(" / ");
    return { order: order!, task: task!, part: part.join(" / ") };
  });
  return <HandOutButton hand={() => handOut(picked)} done={done} />;
}

/** Hands out what is chosen; what fails says why. */
export function HandOutButton({ hand, done: leave }: { hand: () => Promise<Handed>; done: () => void }) {
  const { message } = App.useApp();
  const refuse = useRefusal();
  const [told, setTold] = useState<Handed | null>(null);
  const send = async () => {
    try {
      const handed = await hand();
      if (handed.failed.length) setTold(handed);
      else {
        void message.success(`${count(handed.count, "part")} handed out`);
        leave();
      }
    } catch (bad) {
      refuse("Nothing was handed out", bad);
    }
  };
  return (
    <>
      <Button size="small" type="primary" onClick={() => void send()}>
        Hand out
      </Button>
      <FailedHandOuts
        told={told}
        close={() => {
          setTold(null);
          leave();
        }}
      />
    </>
  );
}

/** What could not be handed out, and why. */
export function FailedHandOuts({ told, close }: { told: Handed | null; close: () => void }) {
  if (!told) return null;
  return (
    <Panel title={`${told.count} handed out, ${told.failed.length} not`} close={close}>
      {told.failed.map((f) => (
        <p key={f.order + f.part} className="item">
          {f.part} for {f.order} <span className="secondline ochre small">{f.why}</span>
        </p>
      ))}
    </Panel>
  );
}
