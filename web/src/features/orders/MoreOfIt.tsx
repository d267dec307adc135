import { Choice } from "../../kit/Choice";
import { Worded } from "../../kit/Worded";
import { useRegister } from "../preventive/useMeters";
import { useChoices, type Cells } from "./useOrders";

const CELLS = ["sub_kind", "department", "crew", "contact", "cost_account", "shares", "shutdown"] as const;

/**
 * Who pays for a WO, who is answerable for it and who knows more; its sub-kind, and its priority corrected by
 * hand.
 */
export function MoreOfIt({
  order,
  set,
  wrong,
}: {
  order: Cells;
  set: (name: string, value: string) => void;
  wrong: string;
}) {
  const { used } = useChoices();
  const shutdowns = useRegister("shutdowns").data?.rows ?? [];
  const correction = order.correction === "0.0" ? "" : (order.correction ?? "");
  const said = [...CELLS.map((name) => order[name]), correction].filter(Boolean);
  const cell = (name: (typeof CELLS)[number], label: string, words: string[], placeholder = "") => (
    <Worded
      label={label}
      used={words}
      value={order[name] ?? ""}
      change={(v) => set(name, v)}
      wrong={wrong === name}
      placeholder={placeholder}
    />
  );
  return (
    <details open={[...CELLS, "correction"].includes(wrong) || undefined}>
      <summary>
        More of it{" "}
        <span className="soft small">{said.join(" · ") || "sub-kind, crew, contact, account"}</span>
      </summary>
      <div className="stack" style={{ marginTop: 8 }}>
        <div className="row">
          {cell("sub_kind", "Sub-kind", used.sub_kinds)}
          {cell("department", "Department", used.departments)}
        </div>
        <div className="row">
          {cell("crew", "Answerable crew or person", used.crews)}
          {cell("contact", "Contact", used.contacts)}
        </div>
        <div className="row">
          {cell("cost_account", "Cost account", used.cost_accounts, "that of the asset")}
          {cell("shares", "Other assets' shares, %", [], "lift-3:40; lift-4:20")}
        </div>
        <div className="row">
          <Worded
            label="Priority corrected by, points"
            used={[]}
            value={correction}
            change={(v) => set("correction", v)}
            wrong={wrong === "correction"}
            placeholder="0"
            width={256}
          />
          {(shutdowns.length > 0 || order.shutdown) && (
            <Choice
              label="In the shutdown"
              value={order.shutdown ?? ""}
              change={(v) => set("shutdown", v)}
              options={[
                { value: "", label: "none" },
                ...shutdowns.map((s) => ({ value: s.cells.shutdown!, label: s.cells.name! })),
              ]}
            />
          )}
        </div>
      </div>
    </details>
  );
}
