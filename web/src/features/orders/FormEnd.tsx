import { Alert, Button, Input } from "antd";

import { Differs } from "../../kit/Differs";
import type { useWorkForm } from "./workForm";

/** The end of a form of a record with tasks: its description, what stands in the way, and sending it. */
export function FormEnd({
  form: { order, set, differs, onTop, wrong, busy, changed },
  send,
  leave,
}: {
  form: ReturnType<typeof useWorkForm>;
  /** What sending it is called. */
  send: string;
  leave: () => void;
}) {
  return (
    <>
      <label>
        Description
        <Input.TextArea
          aria-label="Description"
          rows={2}
          maxLength={4000}
          value={order.description ?? ""}
          onChange={(e) => set("description", e.target.value)}
        />
      </label>
      {differs && <Differs lines={differs} apply={() => void onTop()} />}
      {wrong && <Alert type="error" showIcon title="Nothing was changed" description={wrong.text} />}
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy} disabled={!changed}>
          {send}
        </Button>
        <Button onClick={leave}>Leave it</Button>
      </div>
    </>
  );
}
