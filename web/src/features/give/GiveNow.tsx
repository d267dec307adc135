import { Button } from "antd";
import { useState } from "react";

import { Typed } from "../../kit/Typed";
import { useWeek } from "../week/context";
import { takerOf, useTakers } from "./takers";

/** One job given to somebody at once: a part of the name, and Enter. */
export function GiveNow({ job }: { job: string }) {
  const { week, edit } = useWeek();
  const takers = useTakers(week);
  const [to, setTo] = useState<string | null>(null);
  return (
    <form
      className="row"
      aria-label={`Give ${job}`}
      style={{ marginTop: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (to) void edit({ kind: "give all", jobs: [job], keys: [], despite: false, ...takerOf(to) });
      }}
    >
      <Typed
        bare
        label="Give it to"
        placeholder="give to: part of a name or crew"
        options={takers}
        value={to}
        change={setTo}
      />
      <Button size="small" htmlType="submit" disabled={!to}>
        Give
      </Button>
    </form>
  );
}
