import { App, Button, Checkbox } from "antd";
import { useState } from "react";

import { useRefusal } from "../../kit/useRefusal";
import { dayName, hours } from "../../kit/words";
import { markOf } from "./Calendar";
import { numberOf, RaisedAs } from "./RaisedAs";
import { usePreventiveWrites, type ForecastLine } from "./usePreventive";

export const GROUPS = { asset: "by asset", area: "by area", crew: "by crew", plan: "by plan" } as const;
export type Group = keyof typeof GROUPS;
const keyOf = (l: ForecastLine) => `${l.plan} ${l.asset} ${l.day}`;
const nameOf = (l: ForecastLine, group: Group) =>
  ({ asset: l.asset_name, area: l.area, crew: l.crew || "nobody answerable", plan: l.title })[group];

/** Occurrences in groups; what is to come can be picked and raised. */
export function DueLines({
  lines,
  group,
  week,
  may,
}: {
  lines: ForecastLine[];
  group: Group;
  week: string;
  may: boolean;
}) {
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const { raisePicked } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const groups = new Map<string, ForecastLine[]>();
  for (const l of lines) groups.set(nameOf(l, group), [...(groups.get(nameOf(l, group)) ?? []), l]);
  const chosen = lines.filter((l) => picked.has(keyOf(l)));
  const flip = (key: string) =>
    setPicked((before) => {
      const now = new Set(before);
      if (!now.delete(key)) now.add(key);
      return now;
    });
  const raise = async () => {
    try {
      const { made, not_made } = await raisePicked(chosen.map(({ plan, asset }) => ({ plan, asset })));
      if (made.length) void message.success(`${made.map(numberOf).join(", ")} raised`);
      if (not_made.length) void message.warning(not_made[0]!.why);
      setPicked(new Set());
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <>
      {[...groups].map(([name, its]) => (
        <section key={name} aria-label={name}>
          <h2 dir="auto">
            {name} <span className="soft small">{its.length}</span>
          </h2>
          {its.map((l) => (
            <div key={keyOf(l)} className="item row" style={{ alignItems: "start" }}>
              {may && l.can_raise && (
                <Checkbox
                  aria-label={`Pick ${l.title}, ${l.asset_name}, ${dayName(l.day)}`}
                  checked={picked.has(keyOf(l))}
                  onChange={() => flip(keyOf(l))}
                />
              )}
              <span className="grow">
                <span dir="auto">
                  {markOf(l)} {l.title}
                </span>
                <span className="secondline soft small" dir="auto">
                  {group !== "asset" && `${l.asset_name} · `}
                  {dayName(l.day)} · {l.rungs[0]}
                  {l.rungs.length > 1 && ` takes in ${l.rungs.slice(1).join(", ")}`}
                </span>
              </span>
              <span className="soft">
                {l.kind === "statutory" && "must · "}
                {hours(Object.values(l.hours).reduce((all, h) => all + h, 0))}
                {numberOf(l) && (
                  <span className="secondline small">
                    <RaisedAs one={l} week={week} />, {l.state}
                  </span>
                )}
              </span>
            </div>
          ))}
        </section>
      ))}
      {may && chosen.length > 0 && (
        <Button type="primary" style={{ marginTop: 10 }} onClick={() => void raise()}>
          Raise the {chosen.length} chosen
        </Button>
      )}
    </>
  );
}
