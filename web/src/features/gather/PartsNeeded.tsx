import { Link } from "react-router";

import type { Shapes } from "../../api/client";
import { dayName, figure } from "../../kit/words";

type Line = Shapes["NeedLine"];

/** The parts of a task, and whether each is there: reserved, to come, handed out, or nobody knows. */
export function PartsNeeded({ lines, today }: { lines: Line[]; today: string }) {
  if (!lines.length) return null;
  return (
    <div role="group" aria-label="Parts">
      {lines.map((l) => (
        <p key={(l.part ?? "") + l.name} className="row small" style={{ margin: 0 }}>
          <span className="grow" dir="auto">
            {figure(l.quantity)} {l.unit}{" "}
            {l.part ? (
              <>
                <Link to={`/parts/stock?open=${encodeURIComponent(l.part)}`}>{l.part}</Link> {l.name}
              </>
            ) : (
              l.name
            )}
            {!l.must && <span className="soft"> may be used</span>}
          </span>
          <Stands line={l} today={today} />
        </p>
      ))}
    </div>
  );
}

function Stands({ line: l, today }: { line: Line; today: string }) {
  if (l.how === null) return <span className="soft">{l.part ? "–" : "in words"}</span>;
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
