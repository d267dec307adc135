import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Clock } from "../../kit/When";
import { clock } from "../../kit/words";
import { useWeek } from "../week/context";

/** The start of a task, set or changed by its clock. */
export function StartField({ item }: { item: Shapes["SeatItem"] }) {
  const { now, edit } = useWeek();
  const [time, setTime] = useState("");
  const start = () => {
    if (!time) return;
    void edit({ kind: "start", key: [item.job, item.task, item.portion], clock: time });
    setTime("");
  };
  return (
    <form
      className="row"
      onSubmit={(e) => {
        e.preventDefault();
        start();
      }}
    >
      <Clock
        bare
        empty
        label={`Start of ${item.job}`}
        placeholder={item.start ? clock(item.start, now.timezone) : "start"}
        value={time}
        change={setTime}
        width={72}
      />
      {time && (
        <Button size="small" type="primary" htmlType="submit">
          Set start
        </Button>
      )}
    </form>
  );
}
