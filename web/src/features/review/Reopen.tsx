import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Input } from "antd";
import { useState } from "react";

import { http, need } from "../../api/client";
import { useRefusal } from "../../kit/useRefusal";
import { useWeek } from "../week/context";

/** A closed week is opened again by an administrator, with a reason that its log keeps. */
export function Reopen() {
  const { week, now, me } = useWeek();
  const client = useQueryClient();
  const refuse = useRefusal();
  const { notification, message } = App.useApp();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  if (now.status !== "closed") return null;
  const may = me.rights.includes("reopen");
  const send = async () => {
    try {
      const made = await need(
        http.POST("/api/weeks/{week}/reopening", { params: { path: { week } }, body: { reason } }),
      );
      void client.invalidateQueries({ queryKey: ["week"] });
      setAsking(false);
      const left = made.still_there.join(", ");
      if (left)
        notification.info({
          title: `Week ${week} is open again`,
          description: `Still placed in ${made.next_week}, for it was changed or begun there: ${left}`,
          placement: "bottomRight",
          duration: 0,
        });
      else void message.success(`Week ${week} is open again`);
    } catch (bad) {
      refuse("The week stays closed", bad);
    }
  };
  return (
    <>
      <span className="strong">closed: can only be read</span>
      {may && !asking && (
        <Button size="small" onClick={() => setAsking(true)}>
          Open again …
        </Button>
      )}
      {may && asking && (
        <form
          className="row"
          aria-label="Open the week again"
          onSubmit={(e) => {
            e.preventDefault();
            void send();
          }}
        >
          <Input
            size="small"
            autoFocus
            required
            minLength={3}
            maxLength={200}
            aria-label="Why it is opened again"
            placeholder="why"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            style={{ width: 220 }}
          />
          <Button size="small" type="primary" htmlType="submit">
            Open it
          </Button>
          <Button size="small" onClick={() => setAsking(false)}>
            Leave it
          </Button>
        </form>
      )}
    </>
  );
}
