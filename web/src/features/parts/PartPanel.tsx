import { Button, Input } from "antd";

import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { KeptEnd, useKeptForm, type KeptStart } from "../../kit/useKeptForm";
import { Worded } from "../../kit/Worded";
import { usePartWrites, useWordsUsed } from "./useParts";

export type PartStart = KeptStart;
export const NEW_PART: PartStart = {
  cells: {
    part: "",
    name: "",
    unit: "pcs",
    valued: "average",
    tracked: "yes",
    must_use: "yes",
    blocked: "no",
  },
  revision: null,
};

/** A part by hand. */
export function PartPanel({ start, close }: { start: PartStart; close: (kept?: string) => void }) {
  const { cells, set, wrong, act, text, yes, made, changed } = useKeptForm(start);
  const used = useWordsUsed();
  const { keep, takeAway } = usePartWrites();
  return (
    <Panel close={() => close()} title={made ? start.cells.part! : "New part"} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(async () => {
            await keep("parts", cells, start.revision);
            close(cells.part!.trim());
          });
        }}
      >
        <div className="row">
          {text("part", "Part", "B-6204", made)}
          {text("unit", "Unit", "pcs")}
        </div>
        {text("name", "Name", "Ball bearing 6204")}
        <Worded label="Group" used={used.groups} value={cells.group ?? ""} change={(v) => set("group", v)} />
        <div className="row">
          <Worded
            label="Maker"
            used={used.makers}
            value={cells.maker ?? ""}
            change={(v) => set("maker", v)}
          />
          {text("maker_number", "Maker’s number")}
        </div>
        <div className="row">
          {text("price", "Price of one", "none")}
          <Choice
            label="Costs a job"
            width={190}
            value={cells.valued || "average"}
            change={(v) => set("valued", v)}
            options={[
              { value: "average", label: "the average that was paid" },
              { value: "standard", label: "that price" },
            ]}
          />
        </div>
        <div className="row">
          {text("lead_days", "Days when bought", "never bought")}
          {text("minimum", "Minimum", "0")}
        </div>
        {text("alternates", "Does instead", "B-6205; B-6206 both ways")}
        {yes("tracked", "Its movements are kept (without: a consumable)")}
        {yes("must_use", "What is planned of it is used")}
        {yes("blocked", "Blocked: none is handed out")}
        <label>
          Description
          <Input.TextArea
            aria-label="Description"
            autoSize={{ minRows: 2, maxRows: 8 }}
            maxLength={4000}
            value={cells.description ?? ""}
            onChange={(e) => set("description", e.target.value)}
          />
        </label>
        <KeptEnd wrong={wrong} send={made ? "Save" : "Make the part"} leave={() => close()}>
          {made && (
            <Button
              onClick={() =>
                void act(async () => {
                  await takeAway("parts", cells.part!, start.revision!);
                  close("");
                })
              }
            >
              Take it away
            </Button>
          )}
        </KeptEnd>
      </form>
    </Panel>
  );
}
