import { Button } from "antd";
import { useState } from "react";

import { Choice } from "../../kit/Choice";
import { Clock } from "../../kit/When";
import { dayName } from "../../kit/words";
import { useWeek } from "../week/context";

/** A job put in on a day of the week, and at a time if one wants. */
export function PutOnDay({ job }: { job: string }) {
  const { now, edit } = useWeek();
  const [day, setDay] = useState(now.days.includes(now.today) ? now.today : now.days[0]!);
  const [clock, setClock] = useState("");
  return (
    <form
      className="row"
      aria-label={`Put ${job} on a day`}
      onSubmit={(e) => {
        e.preventDefault();
        void edit({ kind: "put", jobs: [job], day, clock: clock || null });
      }}
    >
      <Choice
        hidden
        label="Day"
        width={104}
        value={day}
        change={setDay}
        options={now.days.map((d) => ({ value: d, label: dayName(d) }))}
      />
      <Clock bare empty label="Start" placeholder="any time" width={76} value={clock} change={setClock} />
      <Button size="small" htmlType="submit">
        On this day
      </Button>
    </form>
  );
}
