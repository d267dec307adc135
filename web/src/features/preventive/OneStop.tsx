import { App, Button, Input } from "antd";
import { useState } from "react";

import { Problem, type Shapes } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";
import { Day } from "../../kit/When";
import { count, dayName } from "../../kit/words";
import { numberOf } from "./RaisedAs";
import { usePreventiveWrites } from "./usePreventive";
import { useOneStop, usePutOff } from "./useStops";

/**
 * Of a WO that is a preventive service: until when it may be done. Of any WO: what else of its asset falls
 * due around it.
 */
export function OneStop({ number, may }: { number: string; may: boolean }) {
  const found = useOneStop(number).data;
  const { raisePicked } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  if (!found || (!found.of_plan && !found.beside.length)) return null;
  const raise = async () => {
    try {
      const { made, not_made } = await raisePicked(found.beside.map(({ plan, asset }) => ({ plan, asset })));
      if (made.length) void message.success(`${made.map(numberOf).join(", ")} raised`);
      if (not_made.length) void message.warning(not_made[0]!.why);
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <section aria-label="Preventive work here">
      <h2>Preventive work here</h2>
      {found.of_plan && <Service of={found.of_plan} may={may} />}
      {found.beside.length > 0 && (
        <>
          <p>
            {count(found.beside.length, "more service", "more services")} of this asset{" "}
            {found.beside.length === 1 ? "falls" : "fall"} due within {count(found.days, "day")}: one stop
            would do.
          </p>
          {found.beside.map((s) => (
            <p key={s.plan + s.asset} className="item small row">
              <span className="grow" dir="auto">
                {s.title} <span className="soft">{s.rungs.join(", ")}</span>
              </span>
              <span>{dayName(s.due)}</span>
            </p>
          ))}
          {may && (
            <Button size="small" onClick={() => void raise()}>
              Raise {found.beside.length === 1 ? "it" : "them"} too
            </Button>
          )}
        </>
      )}
    </section>
  );
}

function Service({ of, may }: { of: Shapes["OfPlan"]; may: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <p>
        {of.plan}, {of.rungs.join(", ")}: fell due {dayName(of.due)}, may be done until {dayName(of.last)}
        {of.reason && <span className="secondline ochre">put off: {of.reason}</span>}
      </p>
      {may && !open && (
        <Button size="small" onClick={() => setOpen(true)}>
          Put off
        </Button>
      )}
      {open && <PutOff of={of} close={() => setOpen(false)} />}
    </>
  );
}

/** A later day; past its tolerance with a reason. */
export function PutOff({
  of,
  close,
}: {
  of: { plan: string; asset: string; last: string };
  close: () => void;
}) {
  const [to, setTo] = useState("");
  const [reason, setReason] = useState("");
  const [wrong, setWrong] = useState<{ field: string; text: string } | null>(null);
  const { message } = App.useApp();
  const putOff = usePutOff();
  const send = async () => {
    try {
      await putOff({ plan: of.plan, asset: of.asset, to, reason });
      void message.success(`It is due by ${dayName(to)}`);
      close();
    } catch (bad) {
      setWrong({ field: bad instanceof Problem ? bad.field : "", text: (bad as Error).message });
    }
  };
  return (
    <form
      className="stack"
      aria-label="Put off"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      <label>
        Until
        <Day bare label="Until" value={to} change={setTo} />
      </label>
      <label>
        Reason{to > of.last && ", as that is past its tolerance"}
        <Input
          aria-label="Reason"
          status={wrong?.field === "reason" ? "error" : undefined}
          value={reason}
          maxLength={400}
          onChange={(e) => setReason(e.target.value)}
        />
      </label>
      {wrong && (
        <p className="brick" role="alert">
          {wrong.text}
        </p>
      )}
      <div className="row">
        <Button size="small" type="primary" htmlType="submit" disabled={!to}>
          Put it off
        </Button>
        <Button size="small" onClick={close}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
