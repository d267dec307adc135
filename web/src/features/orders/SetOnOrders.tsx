import { Alert, Button, Dropdown } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { Moment } from "../../kit/When";
import { Worded } from "../../kit/Worded";
import { count } from "../../kit/words";
import { MovedPanel, useOrdersChanged } from "./MovedPanel";
import { useChoices } from "./useOrders";

const FIELDS = [
  { key: "crew", label: "Answerable crew or person" },
  { key: "earliest", label: "Not before" },
  { key: "due", label: "Due" },
  { key: "latest", label: "Not after" },
];

/**
 * Gives many WOs to a crew, or sets a date for them; says which stay as they are and why, and takes it back.
 */
export function SetOnOrders({ numbers, done: leave }: { numbers: string[]; done: () => void }) {
  const { used } = useChoices();
  const changed = useOrdersChanged();
  const [field, setField] = useState<(typeof FIELDS)[number] | null>(null);
  const [cell, setCell] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const [told, setTold] = useState<Shapes["Moved"] | null>(null);
  const begin = (key: string) => {
    setField(FIELDS.find((f) => f.key === key)!);
    setCell("");
    setWrong(null);
  };
  const send = async () => {
    try {
      const body = { numbers, name: field!.key, cell };
      setTold(await need(http.POST("/api/orders/fields", { body })));
      setField(null);
    } catch (bad) {
      setWrong((bad as Error).message);
    }
    changed();
  };
  return (
    <>
      <Dropdown trigger={["click"]} menu={{ items: FIELDS, onClick: ({ key }) => begin(key) }}>
        <Button size="small">Set ▾</Button>
      </Dropdown>
      {field && (
        <Panel title={`${field.label} of ${count(numbers.length, "WO")}`} close={() => setField(null)}>
          <form
            className="stack"
            onSubmit={(e) => {
              e.preventDefault();
              void send();
            }}
          >
            {field.key === "crew" ? (
              <Worded label={field.label} used={used.crews} value={cell} change={setCell} />
            ) : (
              <Moment
                label={field.label}
                empty
                placeholder="–"
                alone={field.key === "earliest" ? "00:00" : "18:00"}
                value={cell.replace(" ", "T")}
                change={(v) => setCell(v.replace("T", " "))}
              />
            )}
            {wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong} />}
            <div className="row">
              <Button type="primary" htmlType="submit">
                {cell
                  ? `Set for ${count(numbers.length, "WO")}`
                  : `Take it off ${count(numbers.length, "WO")}`}
              </Button>
              <Button onClick={() => setField(null)}>Leave it</Button>
            </div>
          </form>
        </Panel>
      )}
      {told && (
        <MovedPanel
          told={told}
          verb="changed"
          said="It is set."
          close={() => {
            setTold(null);
            leave();
          }}
        />
      )}
    </>
  );
}
