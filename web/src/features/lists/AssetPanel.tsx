import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";

import { http, need } from "../../api/client";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { Typed } from "../../kit/Typed";
import { KeptEnd, useKeptForm, type KeptStart } from "../../kit/useKeptForm";
import { Worded } from "../../kit/Worded";
import { useChoices } from "../orders/useOrders";
import { useAreas } from "../parts/useParts";

export const NEW_ASSET: KeptStart = {
  cells: { asset: "", name: "", area: "", criticality: "5", limited: "no", one_job_at_a_time: "no" },
  revision: null,
};

/** An asset as its form begins. */
export const assetStart = (key: string): Promise<KeptStart> =>
  need(http.GET("/api/assets/{key}", { params: { path: { key } } }));

/** An asset by hand: where it is, what it is part of, when it may be touched, who made it. */
export function AssetPanel({ start, close }: { start: KeptStart; close: (kept?: string) => void }) {
  const { cells, set, wrong, act, text, yes, made, changed } = useKeptForm(start);
  const { assets, used } = useChoices();
  const areas = useAreas();
  const client = useQueryClient();
  const then = async (work: Promise<unknown>, kept: string) => {
    await work;
    for (const key of [["list"], ["preventive"], ["orders"], ["parts"]])
      void client.invalidateQueries({ queryKey: key });
    close(kept);
  };
  const key = (cells.asset ?? "").trim();
  return (
    <Panel close={() => close()} title={made ? start.cells.asset! : "New asset"} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          const body = { cells, revision: start.revision };
          void act(() => then(need(http.POST("/api/assets", { body })), key));
        }}
      >
        {text("asset", "Asset", "P-14", made)}
        {text("name", "Name", "Pump 14")}
        <div className="row">
          <Choice
            label="Area"
            width={160}
            value={cells.area ?? ""}
            change={(v) => set("area", v)}
            options={[...(cells.area ? [] : [{ value: "", label: "choose" }]), ...areas]}
          />
          {text("criticality", "Criticality, 1 to 10", "5")}
        </div>
        <Typed
          label="Part of"
          options={assets.filter((a) => a.value !== key)}
          value={cells.parent || null}
          change={(v) => set("parent", v ?? "")}
          placeholder="nothing; type a part of its name"
          wrong={wrong?.field === "parent"}
        />
        {yes("limited", "May be touched in its work windows only")}
        {yes("one_job_at_a_time", "One job at a time")}
        {yes("in_store", "In store: its preventive services are held")}
        <Worded
          label="Cost account"
          used={used.cost_accounts}
          value={cells.cost_account ?? ""}
          change={(v) => set("cost_account", v)}
          wrong={wrong?.field === "cost_account"}
        />
        <div className="row">
          {text("maker", "Maker", "none known")}
          {text("model", "Model")}
          {text("serial", "Serial number")}
        </div>
        <KeptEnd wrong={wrong} send={made ? "Save" : "Make the asset"} leave={() => close()}>
          {made && (
            <Button
              onClick={() =>
                void act(() =>
                  then(
                    need(http.POST("/api/assets/removal", { body: { key, revision: start.revision! } })),
                    "",
                  ),
                )
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
