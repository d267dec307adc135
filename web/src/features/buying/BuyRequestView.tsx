import { Button, Spin } from "antd";
import { useState } from "react";

import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { clock, dayName, figure, localDay, money } from "../../kit/words";
import { useChoices } from "../orders/useOrders";
import { AskPanel } from "./AskPanel";
import { Goes } from "./Goes";
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
  const { currency } = useChoices();
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
  const stuck = now.moves.find((m) => (m.to === "approved" || m.to === "asked") && m.why);
  return (
    <>
      <section>
        <h1>{now.number}</h1>
        <p>
          <span className="strong">{now.state}</span>
          {now.decided && ` by ${now.decided}`}
          {now.amount !== null && ` · ${money(Math.round(now.amount * 100), currency)}`}
        </p>
        <p className="soft small">
          {now.by} · {dayName(localDay(now.made, zone))} {clock(now.made, zone)}
        </p>
        {now.remark && (
          <p dir="auto" style={{ whiteSpace: "pre-wrap" }}>
            {now.remark}
          </p>
        )}
        {may && (
          <div className="row wrap" style={{ marginTop: 8 }}>
            {now.moves.map((m) => (
              <Button
                key={m.to}
                size="small"
                type={m.to === "approved" || m.to === "asked" ? "primary" : "default"}
                disabled={m.why !== null}
                title={m.why ?? undefined}
                onClick={() => void move(m.to)}
              >
                {VERBS[m.to] ?? m.to}
              </Button>
            ))}
            {now.state === "written" && (
              <Button size="small" onClick={() => setChanging(true)}>
                Change
              </Button>
            )}
          </div>
        )}
        {stuck && <p className="ochre small">{stuck.why}</p>}
      </section>
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
      <p style={{ margin: 0 }}>
        <span className="strong">
          {figure(li.quantity)} {li.unit}
        </span>{" "}
        <span dir="auto">
          {li.part} {li.name}
        </span>
      </p>
      <p className="soft small" style={{ margin: 0 }}>
        <Goes line={li} week={week} />
        {li.price !== null ? ` · ${figure(li.price)} each` : " · no price yet"}
        {li.day && ` · by ${dayName(li.day)}`}
      </p>
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
