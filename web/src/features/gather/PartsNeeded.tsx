import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { dayName, figure } from "../../kit/words";
import { PartView } from "../parts/PartView";
import { useWeek } from "../week/context";

type Line = Shapes["NeedLine"];

/** The parts of a task, and whether each is there: reserved, to come, handed out, or nobody knows. */
export function PartsNeeded({ lines, today }: { lines: Line[]; today: string }) {
  const [looked, setLooked] = useState<string | null>(null);
  const { week, now } = useWeek();
  if (!lines.length) return null;
  return (
    <div role="group" aria-label="Parts">
      {lines.map((l) => (
        <p key={(l.part ?? "") + l.name} className="row small" style={{ margin: 0 }}>
          <span className="grow" dir="auto">
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
        </p>
      ))}
      {looked && (
        <Panel title="Where is it?" close={() => setLooked(null)}>
          <PartView key={looked} part={looked} week={week} zone={now.timezone} go={setLooked} />
        </Panel>
      )}
    </div>
  );
}

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
      {l.how === "transfer" && ", from another storeroom"}
    </span>
  );
}
