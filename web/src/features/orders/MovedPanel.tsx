import { useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";

import { http, need, type Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { useRefusal } from "../../kit/useRefusal";
import { count } from "../../kit/words";

/** All that shows WOs is asked for anew. */
export function useOrdersChanged() {
  const client = useQueryClient();
  return () => {
    for (const key of ["list", "week", "orders"]) void client.invalidateQueries({ queryKey: [key] });
  };
}

/** What became of many WOs: how many were changed, which were not and why; and the way back. */
export function MovedPanel({
  told,
  verb,
  said,
  close,
}: {
  told: Shapes["Moved"];
  /** What was done to them: moved, changed. */
  verb: string;
  /** How they are now. */
  said: string;
  close: () => void;
}) {
  const { message } = App.useApp();
  const refuse = useRefusal();
  const changed = useOrdersChanged();
  const takeBack = async (deed: number) => {
    try {
      const n = await need(http.DELETE("/api/orders/moves/{deed}", { params: { path: { deed } } }));
      void message.success(`${count(n, "WO")} ${verb} back`);
      close();
    } catch (bad) {
      refuse(`Nothing was ${verb} back`, bad);
    }
    changed();
  };
  return (
    <Panel title={`${count(told.count, "WO")} ${verb}, ${told.refused.length} not`} close={close}>
      <p>
        {told.count > 0 ? said : "Nothing was changed."}{" "}
        {told.deed !== null && (
          <Button size="small" onClick={() => void takeBack(told.deed!)}>
            Take it back
          </Button>
        )}
      </p>
      {told.refused.length > 0 && <h2 style={{ marginTop: 14 }}>Not {verb}, and why</h2>}
      {told.refused.map((r) => (
        <p key={r.number} className="item">
          {!r.why.startsWith(r.number) && <span className="strong">{r.number} </span>}
          {r.why}
        </p>
      ))}
    </Panel>
  );
}
