import { App, Button, Spin } from "antd";
import { useState } from "react";

import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { dayName, figure } from "../../kit/words";
import { AskPanel } from "./AskPanel";
import { BuyingHead, LineHead } from "./BuyingHead";
import { LineDeeds } from "./LineDeeds";
import { TakeIn } from "./TakeIn";
import { useBuyingWrites, usePurchase, type Purchase } from "./useBuying";

const VERBS = { placed: "Place it", cancelled: "Cancel it" };

/** An order: how far it is, when each line comes, what of it came. */
export function PurchaseView({ number, week, may }: { number: string; week: string; may: boolean }) {
  const found = usePurchase(number);
  const { movePurchase } = useBuyingWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const [panel, setPanel] = useState<"change" | "take in" | null>(null);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const now = found.data;
  const move = async (to: "placed" | "cancelled") => {
    try {
      await movePurchase(number, { to, revision: now.revision });
      void message.success(`${number} is ${to}`);
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const awaits = now.state === "placed" && now.lines.some((li) => li.to_come > 0);
  return (
    <>
      <BuyingHead
        now={now}
        more={now.placed ? ` ${dayName(now.placed)}` : ""}
        about={[now.supplier || "no supplier yet", now.by].join(" · ")}
        verbs={VERBS}
        main={["placed"]}
        may={may}
        move={(to) => void move(to as "placed")}
        first={
          awaits && (
            <Button size="small" type="primary" onClick={() => setPanel("take in")}>
              Take in …
            </Button>
          )
        }
        change={() => setPanel("change")}
      />
      <section aria-label="Lines">
        <h2>Lines</h2>
        {now.lines.map((li) => (
          <PurchaseLine key={li.line} of={now} line={li} week={week} may={may} />
        ))}
      </section>
      <History noun="purchase" of={[number]} />
      {panel === "change" && <AskPanel of={{ kind: "purchase", now }} close={() => setPanel(null)} />}
      {panel === "take in" && <TakeIn of={now} close={() => setPanel(null)} />}
    </>
  );
}

function PurchaseLine({
  of,
  line: li,
  week,
  may,
}: {
  of: Purchase;
  line: Purchase["lines"][number];
  week: string;
  may: boolean;
}) {
  const over = li.received > li.quantity;
  return (
    <div className="item">
      <LineHead line={li} week={week} more={li.request ? ` · of ${li.request}` : ""} />
      <p className="small" style={{ margin: 0 }}>
        {li.received > 0 && (
          <span className="verdigris">
            ✓ {figure(li.received)} came
            {over && `, ${figure(li.received - li.quantity)} more than ordered`}{" "}
          </span>
        )}
        {li.to_come > 0 && of.state === "placed" && (
          <span className={li.confirmed ? "" : "ochre"}>
            {li.confirmed ? "" : "◆ "}
            {figure(li.to_come)} to come {li.day ? dayName(li.day) : "some day"}
            {li.confirmed ? ", confirmed" : ", not confirmed"}
          </span>
        )}
        {!li.awaited && li.received < li.quantity && <span className="soft">the rest is not awaited</span>}
      </p>
      {li.noted > li.received && (
        <p className="small ochre" style={{ margin: 0 }}>
          ◆ {figure(li.noted - li.received)} brought by the delivery note, not taken in yet
        </p>
      )}
      {may && <LineDeeds of={of} line={li} />}
    </div>
  );
}
