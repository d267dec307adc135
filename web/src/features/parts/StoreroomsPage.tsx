import { Button, Spin } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { useTitle } from "../../app/title";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import { KeptEnd, useKeptForm, type KeptStart } from "../../kit/useKeptForm";
import { PartsTabs } from "./PartsTabs";
import { useAreas, useKeptStorerooms, usePartWrites } from "./useParts";

/** The storerooms of the site, in which parts lie. */
export function StoreroomsPage({ me }: { me: Shapes["Me"] }) {
  const found = useKeptStorerooms();
  const [form, setForm] = useState<KeptStart | null>(null);
  const keeps = me.rights.includes("stock");
  useTitle("Storerooms");
  return (
    <main className="lists">
      <PartsTabs />
      <div className="main" style={{ maxWidth: 640 }}>
        {found.error && <p className="brick">{found.error.message}</p>}
        {found.isPending && <Spin />}
        {found.data?.rows.length === 0 && (
          <div className="empty">
            <h2>There is no storeroom yet</h2>
            <p>Parts lie in storerooms: make one first.</p>
          </div>
        )}
        {found.data?.rows.map((r) => (
          <div key={r.cells.storeroom} className="item row">
            <span className="grow" dir="auto">
              {r.cells.name}
              <span className="soft">
                {" "}
                {r.cells.storeroom}
                {r.cells.area && ` · ${r.cells.area}`}
              </span>
            </span>
            {keeps && (
              <Button size="small" onClick={() => setForm({ cells: r.cells, revision: r.revision })}>
                Change
              </Button>
            )}
          </div>
        ))}
        {keeps && (
          <Button
            style={{ marginTop: 10 }}
            onClick={() => setForm({ cells: { storeroom: "", name: "", area: "" }, revision: null })}
          >
            New storeroom
          </Button>
        )}
      </div>
      {form && <StoreroomPanel key={form.cells.storeroom} start={form} close={() => setForm(null)} />}
    </main>
  );
}

function StoreroomPanel({ start, close }: { start: KeptStart; close: () => void }) {
  const { cells, set, wrong, act, text, made, changed } = useKeptForm(start);
  const areas = useAreas();
  const { keep, takeAway } = usePartWrites();
  return (
    <Panel title={made ? start.cells.name! : "New storeroom"} close={close} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(async () => {
            await keep("storerooms", cells, start.revision);
            close();
          });
        }}
      >
        {text("storeroom", "Short name", "main", made)}
        {text("name", "Name", "Main storeroom")}
        <Choice
          label="Area"
          value={cells.area ?? ""}
          change={(area) => set("area", area)}
          options={[{ value: "", label: "none" }, ...areas]}
        />
        <KeptEnd wrong={wrong} send={made ? "Save" : "Make the storeroom"} leave={close}>
          {made && (
            <Button
              onClick={() =>
                void act(async () => {
                  await takeAway("storerooms", cells.storeroom!, start.revision!);
                  close();
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
