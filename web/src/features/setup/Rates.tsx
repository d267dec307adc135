import { Input, InputNumber } from "antd";

import type { Shapes } from "../../api/client";

type Craft = Shapes["CraftShare"];

/** What an hour of each craft costs: planned and actual costs of WOs follow. */
export function Rates({
  crafts,
  currency,
  set,
}: {
  crafts: Craft[];
  currency: string;
  set: (crafts: Craft[], currency: string) => void;
}) {
  return (
    <>
      <h2 id="rates">Costs of an hour</h2>
      <p className="soft">
        What an hour of each craft costs. Costs of open work follow at once; WOs that are closed keep what was
        charged.
      </p>
      <div className="shares">
        <label>
          Currency
          <span className="row">
            <Input
              aria-label="Currency"
              style={{ width: 90 }}
              maxLength={8}
              value={currency}
              placeholder="none"
              onChange={(e) => set(crafts, e.target.value)}
            />
          </span>
        </label>
        {crafts.map((c, n) => (
          <label key={c.key}>
            {c.name}
            <span className="row">
              <InputNumber
                aria-label={`Cost of an hour of ${c.name}`}
                min={0}
                max={10_000}
                value={c.rate}
                onChange={(v) =>
                  set(
                    crafts.map((x, k) => (k === n ? { ...x, rate: v ?? 0 } : x)),
                    currency,
                  )
                }
              />
            </span>
          </label>
        ))}
      </div>
    </>
  );
}
