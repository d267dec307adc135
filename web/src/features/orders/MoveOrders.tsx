import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Dropdown } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { useRefusal } from "../../kit/useRefusal";
import { count } from "../../kit/words";

const TO = [
  { key: "approved", label: "Approve" },
  { key: "on hold", label: "Put on hold" },
  { key: "cancelled", label: "Cancel" },
];

/** Moves many WOs to another state, says which were not moved and why, and takes it back; `done` when that was read. */
export function MoveOrders({ numbers, done: leave }: { numbers: string[]; done: () => void }) {
  const client = useQueryClient();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const [told, setTold] = useState<Shapes["Moved"] | null>(null);
  const after = () => {
    for (const key of ["list", "week", "orders"]) void client.invalidateQueries({ queryKey: [key] });
  };
  const takeBack = async (deed: number) => {
    try {
      const n = await need(http.DELETE("/api/orders/moves/{deed}", { params: { path: { deed } } }));
      void message.success(`${count(n, "WO")} moved back`);
      setTold(null);
      leave();
    } catch (bad) {
      refuse("Nothing was moved back", bad);
    }
    after();
  };
  const move = async (to: string) => {
    try {
      const done = await need(http.POST("/api/orders/moves", { body: { numbers, to } }));
      setTold(done);
    } catch (bad) {
      refuse("Nothing was moved", bad);
    }
    after();
  };
  return (
    <>
      <Dropdown trigger={["click"]} menu={{ items: TO, onClick: ({ key }) => void move(key) }}>
        <Button size="small">Set state ▾</Button>
      </Dropdown>
      {told && (
        <Panel
          title={`${count(told.count, "WO")} moved, ${told.refused.length} not`}
          close={() => {
            setTold(null);
            leave();
          }}
        >
          <p>
            {told.count > 0 ? `Now ${told.to}.` : "Nothing was changed."}{" "}
            {told.deed !== null && (
              <Button size="small" onClick={() => void takeBack(told.deed!)}>
                Take it back
              </Button>
            )}
          </p>
          {told.refused.length > 0 && <h2 style={{ marginTop: 14 }}>Not moved, and why</h2>}
          {told.refused.map((r) => (
            <p key={r.number} className="item">
              {!r.why.startsWith(r.number) && <span className="strong">{r.number} </span>}
              {r.why}
            </p>
          ))}
        </Panel>
      )}
    </>
  );
}
