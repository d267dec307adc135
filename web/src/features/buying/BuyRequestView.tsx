import { Button, Spin } from "antd";
import { useState } from "react";

import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { clock, dayName, figure, localDay } from "../../kit/words";
import { AskPanel } from "./AskPanel";
import { BuyingHead, LineHead } from "./BuyingHead";
import { useBuyingWrites, useBuyRequest, type BuyRequest } from "./useBuying";

const VERBS: Record<string, string> = {
  asked: "Ask for it",
  approved: "Approve",
  refused: "Refuse",
  written: "Take it back",
};

/** A request to buy: how far it is, and of each line how much is ordered. */
export function BuyRequestView({
  number,
  week,
  zone,
  may,
}: {
  number: string;
  week: string;
  zone: string;
  may: boolean;
}) {
  const found = useBuyRequest(number);
  const { moveRequest } = useBuyingWrites();
  const refuse = useRefusal();
  const [changing, setChanging] = useState(false);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const now = found.data;
  const move = async (to: string) => {
    try {
      await moveRequest(number, { to: to as "asked", revision: now.revision, remark: "" });
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  return (
    <>
      <BuyingHead
        now={now}
        more={now.decided && ` by ${now.decided}`}
        about={`${now.by} · ${dayName(localDay(now.made, zone))} ${clock(now.made, zone)}`}
        verbs={VERBS}
        main={["approved", "asked"]}
        may={may}
        move={(to) => void move(to)}
        change={() => setChanging(true)}
      />
      <section aria-label="Lines">
        <h2>Lines</h2>
        {now.lines.map((li) => (
          <BuyLine key={li.line} of={now} line={li} week={week} may={may} />
        ))}
      </section>
      <History noun="buy request" of={[number]} />
      {changing && <AskPanel of={{ kind: "request", now }} close={() => setChanging(false)} />}
    </>
  );
}

function BuyLine({
  of,
  line: li,
  week,
  may,
}: {
  of: BuyRequest;
  line: BuyRequest["lines"][number];
  week: string;
  may: boolean;
}) {
  const { settle } = useBuyingWrites();
  const refuse = useRefusal();
  const deal = async (how: string) => {
    try {
      await settle(of.number, { line: li.line, how, revision: of.revision });
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  const open = of.state === "approved" || of.state === "closed";
  return (
    <div className="item">
      <LineHead line={li} week={week} more={li.day ? ` · by ${dayName(li.day)}` : ""} />
      {li.orders.map((o, n) => (
        <p key={n} className="small" style={{ margin: 0 }}>
          {figure(o.quantity)} in {o.purchase}, {o.state}
        </p>
      ))}
      {li.settled && (
        <p className="small verdigris" style={{ margin: 0 }}>
          ✓ {li.settled}
        </p>
      )}
      {open && li.left > 0 && (
        <p className="row small" style={{ margin: 0 }}>
          <span className="grow ochre">
            ◆ {figure(li.left)} {li.unit} to order
          </span>
          {may && (
            <>
              <Button size="small" onClick={() => void deal("taken from another storeroom")}>
                Taken from stock
              </Button>
              <Button size="small" onClick={() => void deal("no longer wanted")}>
                Not wanted
              </Button>
            </>
          )}
        </p>
      )}
      {may && open && li.settled && (
        <Button size="small" onClick={() => void deal("")}>
          Still wanted
        </Button>
      )}
    </div>
  );
}
