import { InputNumber } from "antd";

import type { Shapes } from "../../api/client";

type Limit = Shapes["RoleLimit"];

/** Up to which amount each role approves requests to buy. */
export function Limits({ limits, set }: { limits: Limit[]; set: (limits: Limit[]) => void }) {
  return (
    <>
      <h2 id="approvals">Approval of buying</h2>
      <p className="soft">
        Up to which amount each role approves requests to buy; whoever asks for less has approved it. Empty:
        nothing.
      </p>
      <div className="shares">
        {limits.map((one, n) => (
          <label key={one.role}>
            {one.role[0]!.toUpperCase() + one.role.slice(1)}
            <span className="row">
              <InputNumber
                aria-label={`Amount that a ${one.role} approves`}
                min={0}
                max={1_000_000_000}
                value={one.limit}
                placeholder="nothing"
                onChange={(v) => set(limits.map((x, k) => (k === n ? { ...x, limit: v } : x)))}
              />
            </span>
          </label>
        ))}
      </div>
    </>
  );
}
