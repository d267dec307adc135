import { App, Button, Checkbox } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { useRefusal } from "../../kit/useRefusal";
import { count, dayLater, dayName } from "../../kit/words";
import { PutOff } from "./OneStop";
import { usePreventiveWrites } from "./usePreventive";
import { useComing } from "./useStops";

type Coming = Shapes["ComingService"];
const keyOf = (s: Coming) => `${s.plan} ${s.asset}`;

/** What falls due in the week and the next, and is not raised: how many, and a panel to raise them. */
export function ComingButton({ start, areas, may }: { start: string; areas: string[]; may: boolean }) {
  const [open, setOpen] = useState(false);
  const until = dayLater(start, 13);
  const found = useComing(until, areas).data;
  if (!found?.length) return null;
  return (
    <>
      <Button
        onClick={() => setOpen(true)}
        title={`Preventive services that fall due by ${dayName(until)} and are not raised`}
      >
        {count(found.length, "service")} due
      </Button>
      {open && (
        <ComingPanel found={found} sunday={dayLater(start, 6)} may={may} close={() => setOpen(false)} />
      )}
    </>
  );
}

function ComingPanel({
  found,
  sunday,
  may,
  close,
}: {
  found: Coming[];
  sunday: string;
  may: boolean;
  close: () => void;
}) {
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const [later, setLater] = useState<Coming | null>(null);
  const { raisePicked } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const chosen = found.filter((s) => !off.has(keyOf(s)));
  const flip = (key: string) =>
    setOff((before) => {
      const now = new Set(before);
      if (!now.delete(key)) now.add(key);
      return now;
    });
  const raise = async () => {
    try {
      const { made, not_made } = await raisePicked(chosen.map(({ plan, asset }) => ({ plan, asset })));
      if (made.length) void message.success(`${count(made.length, "service")} raised`);
      if (not_made.length) void message.warning(`${not_made.length} not: ${not_made[0]!.why}`);
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <Panel
      close={close}
      title={`${count(found.length, "service")} fall due`}
      width={480}
      back={later ? () => setLater(null) : undefined}
    >
      {later ? (
        <>
          <h2 dir="auto">
            {later.title}, {later.asset_name}
          </h2>
          <p className="soft small">
            Due {dayName(later.due)}, may be done until {dayName(later.last)}.
          </p>
          <PutOff of={later} close={() => setLater(null)} />
        </>
      ) : (
        [
          { name: "By the end of the week", its: found.filter((s) => s.due <= sunday) },
          { name: "In the week after it", its: found.filter((s) => s.due > sunday) },
        ].map(
          ({ name, its }) =>
            its.length > 0 && (
              <section key={name} aria-label={name}>
                <h2>{name}</h2>
                {its.map((s) => (
                  <div key={keyOf(s)} className="item row" style={{ alignItems: "start" }}>
                    {may && (
                      <Checkbox
                        aria-label={`Raise ${s.title}, ${s.asset_name}`}
                        checked={!off.has(keyOf(s))}
                        onChange={() => flip(keyOf(s))}
                      />
                    )}
                    <span className="grow" dir="auto">
                      {s.title}
                      <span className="secondline soft small">
                        {s.asset_name} · {s.rungs.join(", ")}
                        {s.kind === "statutory" && " · must"}
                      </span>
                    </span>
                    <span>
                      {dayName(s.due)}
                      {may && (
                        <Button size="small" type="link" className="secondline" onClick={() => setLater(s)}>
                          Put off
                        </Button>
                      )}
                    </span>
                  </div>
                ))}
              </section>
            ),
        )
      )}
      {may && !later && (
        <Button
          type="primary"
          style={{ marginTop: 10 }}
          disabled={!chosen.length}
          onClick={() => void raise()}
        >
          Raise the {chosen.length} chosen
        </Button>
      )}
    </Panel>
  );
}
