import { Button } from "antd";

import { Panel } from "../../kit/Panel";
import { KeptEnd, useKeptForm, type KeptStart } from "../../kit/useKeptForm";
import { Typed } from "../../kit/Typed";
import { useChoices } from "../orders/useOrders";
import { useMeterWrites } from "./useMeters";

export type MeterStart = KeptStart;
export const NEW_METER: MeterStart = {
  cells: { meter: "", name: "", asset: "", unit: "h", rollover: "" },
  revision: null,
};

/** A meter by hand: what it counts, and on which asset. */
export function MeterPanel({ start, close }: { start: MeterStart; close: (kept?: string) => void }) {
  const { cells, set, wrong, act, text, made, changed } = useKeptForm(start);
  const { assets } = useChoices();
  const { keep, takeAway } = useMeterWrites();
  return (
    <Panel close={() => close()} title={made ? start.cells.meter! : "New meter"} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(async () => {
            await keep("meters", cells, start.revision);
            close(cells.meter!.trim());
          });
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
        <KeptEnd wrong={wrong} send={made ? "Save" : "Make the meter"} leave={() => close()}>
          {made && (
            <Button
              onClick={() =>
                void act(async () => {
                  await takeAway("meters", cells.meter!, start.revision!);
                  close("");
                })
              }
            >
              Take it away, with its readings
            </Button>
          )}
        </KeptEnd>
      </form>
    </Panel>
  );
}
