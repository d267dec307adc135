import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { count, dayName } from "../../kit/words";
import { numberOf, RaisedAs } from "./RaisedAs";

/** What was raised just now, and what was not, and why. */
export function RaisedPanel({
  raised: { made, not_made },
  week,
  close,
}: {
  raised: Shapes["Raised"];
  week: string;
  close: () => void;
}) {
  return (
    <Panel close={close} title={`${count(made.length, "service")} raised`} width={480}>
      {made.length + not_made.length === 0 && <p>Nothing falls due within its notice.</p>}
      {made.map((m) => (
        <p key={numberOf(m)} className="item">
          <RaisedAs one={m} week={week} /> <span dir="auto">{m.title}</span>{" "}
          <span className="soft small">
            {m.asset_name}, due {dayName(m.due)}
          </span>
        </p>
      ))}
      {not_made.length > 0 && <h2>{count(not_made.length, "service")} not raised</h2>}
      {not_made.map((m) => (
        <p key={m.plan + m.asset} className="item">
          <span className="strong">{m.plan}</span> <span dir="auto">{m.asset_name}</span>{" "}
          <span className="brick small">{m.why}</span>
        </p>
      ))}
    </Panel>
  );
}
