import { Button, Input, Spin } from "antd";
import { useState } from "react";

import { Problem, type Shapes } from "../../api/client";
import { useTitle } from "../../app/title";
import { Choice } from "../../kit/Choice";
import { Panel } from "../../kit/Panel";
import type { Cells } from "../orders/useOrders";
import { PartsTabs } from "./PartsTabs";
import { useAreas, useKeptStorerooms, usePartWrites } from "./useParts";

interface Start {
  cells: Cells;
  revision: number | null;
}

/** The storerooms of the site, in which parts lie. */
export function StoreroomsPage({ me }: { me: Shapes["Me"] }) {
  const found = useKeptStorerooms();
  const [form, setForm] = useState<Start | null>(null);
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

function StoreroomPanel({ start, close }: { start: Start; close: () => void }) {
  const [cells, setCells] = useState(start.cells);
  const [wrong, setWrong] = useState("");
  const areas = useAreas();
  const { keep, takeAway } = usePartWrites();
  const made = start.revision !== null;
  const act = async (work: Promise<unknown>) => {
    try {
      await work;
      close();
    } catch (bad) {
      setWrong(bad instanceof Problem ? bad.message : String(bad));
    }
  };
  const text = (column: string, label: string, fixed = false) => (
    <label>
      {label}
      <Input
        aria-label={label}
        disabled={fixed}
        value={cells[column] ?? ""}
        onChange={(e) => setCells({ ...cells, [column]: e.target.value })}
      />
    </label>
  );
  return (
    <Panel title={made ? start.cells.name! : "New storeroom"} close={close} unsaved={cells !== start.cells}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void act(keep("storerooms", cells, start.revision));
        }}
      >
        {text("storeroom", "Short name", made)}
        {text("name", "Name")}
        <Choice
          label="Area"
          value={cells.area ?? ""}
          change={(area) => setCells({ ...cells, area })}
          options={[{ value: "", label: "none" }, ...areas]}
        />
        {wrong && (
          <p className="brick" role="alert">
            {wrong}
          </p>
        )}
        <div className="row">
          <Button type="primary" htmlType="submit">
            {made ? "Save" : "Make the storeroom"}
          </Button>
          {made && (
            <Button onClick={() => void act(takeAway("storerooms", cells.storeroom!, start.revision!))}>
              Take it away
            </Button>
          )}
          <Button onClick={close}>Leave it</Button>
        </div>
      </form>
    </Panel>
  );
}
