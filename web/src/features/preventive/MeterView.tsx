import { App, Button, Input, Spin } from "antd";
import { useState } from "react";

import { Problem, type Shapes } from "../../api/client";
import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { Day } from "../../kit/When";
import { count, dayName, figure } from "../../kit/words";
import type { MeterStart } from "./MeterPanel";
import { MeterPicture } from "./MeterPicture";
import { useMeter, useMeterWrites } from "./useMeters";

type Meter = Shapes["MeterDocument"];
const NEWEST = 8;

/** One meter: its picture with what falls due by it, a field to read it, and its last readings. */
export function MeterView({
  meter,
  may,
  change,
}: {
  meter: string;
  may: boolean;
  change?: (start: MeterStart) => void;
}) {
  const found = useMeter(meter);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const m = found.data;
  const unit = m.meter.unit!;
  return (
    <>
      <section>
        <h1 dir="auto">{m.meter.name}</h1>
        <p>
          <span className="strong">{m.meter.meter}</span> · <span dir="auto">{m.meter.asset}</span>
          {` · counts ${unit}`}
          {m.meter.rollover && `, begins again at ${figure(Number(m.meter.rollover))}`}
        </p>
        <p className="soft small">{basis(m)}</p>
        {change && (
          <Button size="small" onClick={() => change({ cells: m.meter, revision: m.revision })}>
            Change
          </Button>
        )}
      </section>
      {may && <ReadIt key={m.readings.length} meter={m} />}
      <MeterPicture meter={m} />
      <Dues meter={m} />
      <Readings meter={m} may={may} />
      <History noun="meter" of={[meter]} />
    </>
  );
}

function basis(m: Meter): string {
  if (!m.rate) return "How fast it counts is known after two readings.";
  const { a_day, days, readings, spread } = m.rate;
  return (
    `${figure(a_day)} ${m.meter.unit} a day, by ${count(readings, "reading")} of ${count(days, "day")}; ` +
    `varies by ${figure(spread)} a day`
  );
}

/** What it shows now; Enter keeps it. */
function ReadIt({ meter: m }: { meter: Meter }) {
  const [day, setDay] = useState("");
  const [value, setValue] = useState("");
  const [fresh, setFresh] = useState(false);
  const [wrong, setWrong] = useState("");
  const { read } = useMeterWrites();
  const { message } = App.useApp();
  const keep = async () => {
    try {
      await read([
        {
          meter: m.meter.meter!,
          day: day || null,
          value: Number(value.replace(",", ".")),
          fresh,
          remark: "",
        },
      ]);
      void message.success("It is read");
    } catch (bad) {
      setWrong(bad instanceof Problem ? bad.message : String(bad));
    }
  };
  return (
    <form
      className="stack readit"
      aria-label="Read it"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <div className="row" style={{ alignItems: "end" }}>
        <label className="grow">
          It shows, in {m.meter.unit}
          <Input
            inputMode="decimal"
            aria-label={`It shows, in ${m.meter.unit}`}
            status={wrong ? "error" : undefined}
            placeholder={m.readings.length ? figure(m.readings.at(-1)!.value) : ""}
            value={value}
            onChange={(e) => setValue(e.target.value.replace(/[^\d.,]/g, ""))}
          />
        </label>
        <label className="grow">
          On
          <Day bare empty label="On" placeholder="today" value={day} change={setDay} />
        </label>
        <Button type="primary" htmlType="submit" disabled={!/\d/.test(value)}>
          Read
        </Button>
      </div>
      <label className="row">
        <input type="checkbox" checked={fresh} onChange={(e) => setFresh(e.target.checked)} />
        <span className="grow">The meter is new: it was exchanged</span>
      </label>
      {wrong && (
        <p className="brick" role="alert">
          {wrong}
        </p>
      )}
    </form>
  );
}

function Dues({ meter: m }: { meter: Meter }) {
  if (!m.dues.length) return <p className="soft small">Nothing hangs on it yet.</p>;
  return (
    <section aria-label="Falls due by it">
      <h2>Falls due by it</h2>
      {m.dues.map((d) => (
        <div key={d.plan + d.asset + d.rung} className="item">
          <span className="grow">
            <span dir="auto">{d.title}</span>
            <span className="secondline soft small" dir="auto">
              {d.plan} · {d.rung} · {d.asset}
            </span>
          </span>
          <span className="duevalue">
            at {figure(Math.round(d.target))}
            <span className="secondline soft small">
              {d.day ? `${dayName(d.day)} ${d.day.slice(0, 4)}` : "never, as it counts now"}
              {d.earliest &&
                d.earliest !== d.day &&
                `, ${dayName(d.earliest)} to ${d.latest ? dayName(d.latest) : "open"}`}
            </span>
          </span>
        </div>
      ))}
    </section>
  );
}

function Readings({ meter: m, may }: { meter: Meter; may: boolean }) {
  const { takeBack } = useMeterWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const back = async (day: string) => {
    try {
      await takeBack(m.meter.meter!, day);
      void message.success("The reading is taken back; the history keeps it");
    } catch (bad) {
      refuse("Nothing was taken back", bad);
    }
  };
  return (
    <section aria-label="Readings">
      <h2>{count(m.readings.length, "reading")}</h2>
      {m.readings
        .slice(-NEWEST)
        .reverse()
        .map((r) => (
          <div key={r.day} className="item row">
            <span className="grow">
              {dayName(r.day)} {r.day.slice(0, 4)}
              <span className="soft small"> {r.by}</span>
              {(r.fresh || r.remark) && (
                <span className="secondline small ochre" dir="auto">
                  {r.fresh && "◇ new meter"} {r.remark}
                </span>
              )}
            </span>
            <span>{figure(r.value)}</span>
            {may && (
              <Button
                size="small"
                type="text"
                aria-label={`Take the reading of ${dayName(r.day)} back`}
                onClick={() => void back(r.day)}
              >
                ×
              </Button>
            )}
          </div>
        ))}
    </section>
  );
}
