import { Button, Input } from "antd";
import { useState } from "react";

import { Problem } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { useChoices, type Cells } from "../orders/useOrders";
import { useMeterWrites } from "./useMeters";

export interface MeterStart {
  cells: Cells;
  revision: number | null;
}
export const NEW_METER: MeterStart = {
  cells: { meter: "", name: "", asset: "", unit: "h", rollover: "" },
  revision: null,
};

/** A meter by hand: what it counts, and on which asset. */
export function MeterPanel({ start, close }: { start: MeterStart; close: (kept?: string) => void }) {
  const [cells, setCells] = useState(start.cells);
  const [wrong, setWrong] = useState<{ field: string; text: string } | null>(null);
  const { assets } = useChoices();
  const { keep, takeAway } = useMeterWrites();
  const set = (column: string, value: string) => setCells({ ...cells, [column]: value });
  const act = async (work: Promise<unknown>, kept: string) => {
    try {
      await work;
      close(kept);
    } catch (bad) {
      setWrong({ field: bad instanceof Problem ? bad.field : "", text: (bad as Error).message });
    }
  };
  const text = (column: string, label: string, hint = "", fixed = false) => (
    <label>
      {label}
      <Input
        aria-label={label}
        disabled={fixed}
        status={wrong?.field === column ? "error" : undefined}
        placeholder={hint}
        value={cells[column] ?? ""}
        onChange={(e) => set(column, e.target.value)}
      />
    </label>
  );
  const made = start.revision !== null;
  return (
    <Panel
      close={() => close()}
      title={made ? start.cells.meter! : "New meter"}
      unsaved={JSON.stringify(cells) !== JSON.stringify(start.cells)}
    >
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(keep("meters", cells, start.revision), cells.meter!.trim());
        }}
      >
        {text("meter", "Number", "H-14", made)}
        {text("name", "What it counts", "Engine hours")}
        <Typed
          label="Asset"
          options={assets}
          value={cells.asset || null}
          change={(v) => set("asset", v ?? "")}
          placeholder="type a part of its name"
          wrong={wrong?.field === "asset"}
        />
        <div className="row">
          {text("unit", "Unit", "h, km, starts")}
          {text("rollover", "Begins again at", "never")}
        </div>
        {wrong && (
          <p className="brick" role="alert">
            {wrong.text}
          </p>
        )}
        <div className="row">
          <Button type="primary" htmlType="submit">
            {made ? "Save" : "Make the meter"}
          </Button>
          {made && (
            <Button onClick={() => void act(takeAway("meters", cells.meter!, start.revision!), "")}>
              Take it away, with its readings
            </Button>
          )}
          <Button onClick={() => close()}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}
