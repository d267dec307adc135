import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { dayName, figure } from "../../kit/words";
import { AskPanel } from "../buying/AskPanel";
import type { Wanted } from "../buying/useBuying";
import { ReadyPanel } from "../parts/ReadyPanel";
import { PartView } from "../parts/PartView";
import { useWeek } from "../week/context";

type Line = Shapes["NeedLine"];

/** The parts of a task, and whether each is there: reserved, to come, handed out, or nobody knows. */
export function PartsNeeded({
  lines,
  today,
  order,
  buys,
}: {
  lines: Line[];
  today: string;
  order: string;
  /** Whoever looks may ask to buy what is short. */
  buys: boolean;
}) {
  const [looked, setLooked] = useState<string | null>(null);
  const [asked, setAsked] = useState(false);
  const [buying, setBuying] = useState<Line | null>(null);
  const { week, now } = useWeek();
  if (!lines.length) return null;
  return (
    <div role="group" aria-label="Parts">
      {lines.map((l) => (
        <p key={(l.part ?? "") + l.name} className="row wrap small" style={{ margin: 0, rowGap: 0 }}>
          <span className="grow" dir="auto" style={{ flexBasis: 150 }}>
            {figure(l.quantity)} {l.unit}{" "}
            {l.part ? (
              <>
                <Button type="link" size="small" title="Where is it?" onClick={() => setLooked(l.part)}>
                  {l.part}
                </Button>{" "}
                {l.name}
              </>
            ) : (
              l.name
            )}
            {!l.must && <span className="soft"> may be used</span>}
          </span>
          <Stands line={l} today={today} />
          {buys && isShort(l) && (
            <Button size="small" onClick={() => setBuying(l)}>
              Ask to buy
            </Button>
          )}
        </p>
      ))}
      {lines.some((l) => l.how !== null && l.how !== "consumable" && l.given < l.quantity) && (
        <Button type="link" size="small" style={{ padding: 0 }} onClick={() => setAsked(true)}>
          When are they there?
        </Button>
      )}
      {asked && <ReadyPanel order={order} close={() => setAsked(false)} />}
      {buying && (
        <AskPanel
          of={{ kind: "request", lines: [{ wanted: missing(buying, order), name: buying.name }] }}
          close={() => setBuying(null)}
        />
      )}
      {looked && (
        <Panel title="Where is it?" close={() => setLooked(null)}>
          <PartView key={looked} part={looked} week={week} zone={now.timezone} go={setLooked} />
        </Panel>
      )}
    </div>
  );
}

/** Whether some of it neither lies there nor is on its way. */
const isShort = (l: Line) => l.how === "bought" || l.how === "unknown";

const missing = (l: Line, order: string): Wanted => ({
  part: l.part,
  words: "",
  quantity: Math.max(0, l.quantity - l.given - l.reserved),
  order,
});

function Stands({ line: l, today }: { line: Line; today: string }) {
  if (l.how === null) return <span className="soft">{l.part ? "–" : "in words"}</span>;
  if (l.how === "consumable") return <span className="soft">a consumable</span>;
  if (l.given >= l.quantity) return <span className="verdigris">✓ handed out</span>;
  if (l.how === "alternate") return <span className="verdigris">✓ {l.other} instead</span>;
  if (l.day === null) return <span className="brick">▲ nobody knows when</span>;
  if (l.day <= today)
    return (
      <span className="verdigris">{l.reserved > 0 ? `✓ ${figure(l.reserved)} reserved` : "✓ there"}</span>
    );
  return (
    <span className="ochre">
      ◆ {dayName(l.day)}
      {l.how === "bought" && ", if bought today"}
      {l.how === "receipt" && l.other && `, with ${l.other}`}
      {l.how === "transfer" && ", from another storeroom"}
    </span>
  );
}
