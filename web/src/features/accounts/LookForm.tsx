import { useQueryClient } from "@tanstack/react-query";
import { Checkbox, Radio, Select } from "antd";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { useBoard } from "../../app/keys";
import { setLook, SIZES, useLook, type Look } from "../../kit/look";
import { useRefusal } from "../../kit/useRefusal";

/** How the screens look for this account, on every browser that it signs in from. */
export function LookForm() {
  const look = useLook();
  const board = useBoard();
  const refuse = useRefusal();
  const client = useQueryClient();
  const keep = (to: Partial<Look>) => {
    client.setQueryData(keys.me, (me?: Shapes["Me"]) => me && { ...me, look: { ...me.look, ...to } });
    setLook(to);
    need(http.PUT("/api/own/look", { body: { ...look, ...to } })).catch((bad: unknown) =>
      refuse("Your account does not keep it", bad),
    );
  };
  return (
    <section className="stack" style={{ maxWidth: 380, marginTop: 24 }} aria-label="How it looks">
      <h2>How it looks</h2>
      <Radio.Group
        aria-label="Colours"
        value={look.theme}
        onChange={(e) => keep({ theme: e.target.value as Look["theme"] })}
        options={[
          { value: "light", label: "Light" },
          { value: "dark", label: "Dark" },
          { value: "system", label: "As the system" },
        ]}
      />
      <label>
        Size of everything
        <Select
          aria-label="Size of everything"
          value={look.size}
          onChange={(size) => keep({ size })}
          options={SIZES.map((n) => ({ value: n, label: `${n} %` }))}
          style={{ width: "100%" }}
        />
      </label>
      <Ways
        label="Figures"
        value={look.decimals}
        change={(decimals) => keep({ decimals })}
        ways={{ ".": "7.5 h", ",": "7,5 h" }}
      />
      <Ways
        label="Days"
        value={look.days}
        change={(days) => keep({ days })}
        ways={{ named: "Tue 1 Dec", dotted: "Tue 1.12.", iso: "Tue 2026-12-01" }}
      />
      <Ways
        label="Weeks"
        value={look.weeks}
        change={(weeks) => keep({ weeks })}
        ways={{ iso: "2026-W49", short: "W49", slashed: "49/2026" }}
      />
      <Checkbox checked={board.letters} onChange={(e) => board.setLetters(e.target.checked)}>
        Single letters are shortcuts
      </Checkbox>
    </section>
  );
}

/** One of a few ways of writing, each shown as it looks. */
function Ways<T extends string>({
  label,
  value,
  change,
  ways,
}: {
  label: string;
  value: T;
  change: (value: T) => void;
  ways: Record<T, string>;
}) {
  return (
    <div className="row">
      <span className="grow">{label}</span>
      <Radio.Group
        aria-label={label}
        value={value}
        onChange={(e) => change(e.target.value as T)}
        options={(Object.keys(ways) as T[]).map((w) => ({ value: w, label: ways[w] }))}
      />
    </div>
  );
}
