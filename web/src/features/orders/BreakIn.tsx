import { Alert, Button, Input, InputNumber, Radio } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { Hours } from "../../kit/When";
import { useWeek } from "../week/context";
import { useChoices, useOrderWrites } from "./useOrders";

const URGENCIES: [Shapes["BreakInForm"]["urgency"], string][] = [
  ["now", "now: must, due at once"],
  ["this week", "this week"],
  ["when it fits", "when it fits"],
];

/**
 * Work that comes into a running week: what, where, how long, who, how urgent; then Mend shows where it fits.
 */
export function BreakIn({ close, fit }: { close: () => void; fit: (number: string) => void }) {
  const { week } = useWeek();
  const { assets, crafts } = useChoices();
  const { breakIn } = useOrderWrites(week);
  const [title, setTitle] = useState("");
  const [asset, setAsset] = useState<string | null>(null);
  const [hours, setHours] = useState<number | null>(2);
  const [craft, setCraft] = useState<string | null>(null);
  const [people, setPeople] = useState<number | null>(1);
  const [urgency, setUrgency] = useState<Shapes["BreakInForm"]["urgency"]>("now");
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const whole = title.trim() && asset && hours && craft && people;
  const send = async () => {
    if (!whole) return;
    setBusy(true);
    setWrong(null);
    try {
      fit(await breakIn({ title: title.trim(), asset, hours, craft, people, urgency }));
    } catch (bad) {
      setWrong((bad as Error).message);
      setBusy(false);
    }
  };
  return (
    <Panel close={close} title="Break-in" unsaved={title !== ""}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <label>
          What is to be done
          <Input
            autoFocus
            value={title}
            maxLength={200}
            onChange={(e) => setTitle(e.target.value)}
            placeholder="for example: gearbox screams"
          />
        </label>
        <Typed
          label="Where"
          value={asset}
          change={setAsset}
          options={assets}
          placeholder="type a part of the asset's name"
        />
        <div className="row">
          <label style={{ width: 84 }}>
            Hours
            <Hours
              bare
              label="Hours"
              value={hours === null ? "" : String(hours)}
              change={(v) => setHours(v === "" ? null : Number(v))}
            />
          </label>
          <label style={{ width: 84 }}>
            People
            <InputNumber
              aria-label="People"
              min={1}
              max={20}
              precision={0}
              value={people}
              onChange={setPeople}
              style={{ width: "100%" }}
            />
          </label>
          <Typed label="Craft" value={craft} change={setCraft} options={crafts} placeholder="which craft" />
        </div>
        <div>
          How urgent
          <Radio.Group
            vertical
            value={urgency}
            onChange={(e) => setUrgency(e.target.value)}
            options={URGENCIES.map(([value, label]) => ({ value, label }))}
          />
        </div>
        {wrong && <Alert type="error" showIcon title="It was not made" description={wrong} />}
        <div className="row">
          <Button type="primary" htmlType="submit" disabled={!whole} loading={busy}>
            Show where it fits
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
        <p className="soft small">
          It becomes a WO of one task. What it would push out is shown before anything moves.
        </p>
      </form>
    </Panel>
  );
}
