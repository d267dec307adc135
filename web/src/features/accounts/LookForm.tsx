import { Checkbox, Radio, Select } from "antd";

import { http, need } from "../../api/client";
import { useBoard } from "../../app/keys";
import { setLook, SIZES, useLook, type Look } from "../../kit/look";
import { useRefusal } from "../../kit/useRefusal";

/** How the screens look for this account, on every browser that it signs in from. */
export function LookForm() {
  const look = useLook();
  const board = useBoard();
  const refuse = useRefusal();
  const keep = (to: Partial<Look>) => {
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
      <Checkbox checked={board.letters} onChange={(e) => board.setLetters(e.target.checked)}>
        Single letters are shortcuts
      </Checkbox>
    </section>
  );
}
