import { Button } from "antd";
import type { ReactNode } from "react";

import type { Shapes } from "../../api/client";
import { figure, money } from "../../kit/words";
import { useChoices } from "../orders/useOrders";
import { Goes } from "./Goes";

/** The head of a request to buy, or of an order: how far it is, what it costs, what can become of it. */
export function BuyingHead({
  now,
  more,
  about,
  verbs,
  main,
  may,
  move,
  first,
  change,
}: {
  now: { number: string; state: string; amount: number | null; remark: string; moves: Shapes["Offer"][] };
  /** Behind the state: by whom, when. */
  more: string;
  about: string;
  /** What a button of each move says. */
  verbs: Record<string, string>;
  /** Moves that people come for; why they are shut is said aloud. */
  main: readonly string[];
  may: boolean;
  move: (to: string) => void;
  /** A button before those of the moves. */
  first?: ReactNode;
  change: () => void;
}) {
  const { currency } = useChoices();
  const shut = now.moves.find((m) => main.includes(m.to) && m.why);
  return (
    <section>
      <h1>{now.number}</h1>
      <p>
        <span className="strong">{now.state}</span>
        {more}
        {now.amount !== null && ` · ${money(Math.round(now.amount * 100), currency)}`}
      </p>
      <p className="soft small" dir="auto">
        {about}
      </p>
      {now.remark && (
        <p dir="auto" style={{ whiteSpace: "pre-wrap" }}>
          {now.remark}
        </p>
      )}
      {may && (
        <div className="row wrap" style={{ marginTop: 8 }}>
          {first}
          {now.moves.map((m) => (
            <Button
              key={m.to}
              size="small"
              type={main.includes(m.to) ? "primary" : "default"}
              disabled={m.why !== null}
              title={m.why ?? undefined}
              onClick={() => move(m.to)}
            >
              {verbs[m.to] ?? m.to}
            </Button>
          ))}
          {now.state === "written" && (
            <Button size="small" onClick={change}>
              Change
            </Button>
          )}
        </div>
      )}
      {shut && <p className="ochre small">{shut.why}</p>}
    </section>
  );
}

/** What a line of either is of: how many of which part, where they go, at which price. */
export function LineHead({
  line: li,
  week,
  more,
}: {
  line: Pick<
    Shapes["BuyLineDocument"],
    "quantity" | "unit" | "part" | "name" | "price" | "storeroom" | "order"
  >;
  week: string;
  /** Behind the price. */
  more: string;
}) {
  return (
    <>
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
        {more}
      </p>
    </>
  );
}
