import { Input } from "antd";

import { keysOf, Picked } from "../../kit/Picked";
import { cellOf, linesOf } from "./lines";
import { useChoices, type Cells } from "./useOrders";

/** Which permits a job needs, and which points are shut off and locked for it. */
export function SafetyOfIt({
  order,
  set,
  wrong,
}: {
  order: Cells;
  set: (name: string, value: string) => void;
  wrong: string;
}) {
  const { permits } = useChoices();
  const name = (key: string) => permits.find((p) => p.value === key)?.label ?? key;
  const said = [...keysOf(order.permits ?? "").map(name), ...keysOf(order.isolation ?? "")];
  return (
    <details open={["permits", "isolation"].includes(wrong) || undefined}>
      <summary>
        Permits and isolation <span className="soft small">{said.join(" · ") || "none needed"}</span>
      </summary>
      <div className="stack" style={{ marginTop: 8 }}>
        <Picked
          group="Permits"
          label="Permits that it needs"
          options={permits}
          cell={order.permits ?? ""}
          change={(v) => set("permits", v)}
          wrong={wrong === "permits"}
        />
        <label>
          Isolation points, one a line
          <Input.TextArea
            aria-label="Isolation points"
            autoSize={{ minRows: 2, maxRows: 8 }}
            status={wrong === "isolation" ? "error" : undefined}
            value={linesOf(order.isolation ?? "")}
            placeholder={"Main switch Q1\nSuction valve"}
            onChange={(e) => set("isolation", cellOf(e.target.value))}
          />
        </label>
      </div>
    </details>
  );
}
