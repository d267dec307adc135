import { Button, Dropdown } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";
import { MovedPanel, useOrdersChanged } from "./MovedPanel";

const TO = [
  { key: "approved", label: "Approve" },
  { key: "on hold", label: "Put on hold" },
  { key: "cancelled", label: "Cancel" },
];

/**
 * Moves many WOs to another state, says which were not moved and why, and takes it back; `done` when that was
 * read.
 */
export function MoveOrders({ numbers, done: leave }: { numbers: string[]; done: () => void }) {
  const refuse = useRefusal();
  const changed = useOrdersChanged();
  const [told, setTold] = useState<Shapes["Moved"] | null>(null);
  const move = async (to: string) => {
    try {
      setTold(await need(http.POST("/api/orders/moves", { body: { numbers, to } })));
    } catch (bad) {
      refuse("Nothing was moved", bad);
    }
    changed();
  };
  return (
    <>
      <Dropdown trigger={["click"]} menu={{ items: TO, onClick: ({ key }) => void move(key) }}>
        <Button size="small">Set state ▾</Button>
      </Dropdown>
      {told && (
        <MovedPanel
          told={told}
          verb="moved"
          said={`Now ${told.to}.`}
          close={() => {
            setTold(null);
            leave();
          }}
        />
      )}
    </>
  );
}
