import { Button } from "antd";
import { useState } from "react";

import { getFile, http, need } from "../../api/client";
import { endOf, howFar } from "../../api/watching";
import { giveOut } from "../../kit/Download";
import { useRefusal } from "../../kit/useRefusal";

/** Sheets of the chosen work orders, laid out in the background, then given out. */
export function PrintOrders({ week, numbers }: { week: string; numbers: string[] }) {
  const refuse = useRefusal();
  const [far, setFar] = useState<string | null>(null);
  const make = async () => {
    setFar("being laid out …");
    try {
      const path = { params: { path: { week } } };
      const asked = await need(http.POST("/api/weeks/{week}/order-sheets", { ...path, body: { numbers } }));
      const made = await endOf(asked, (now) => setFar(howFar(now)));
      giveOut(await getFile(`/api/runs/${made.id}/file`));
    } catch (bad) {
      refuse("The sheets were not made", bad);
    } finally {
      setFar(null);
    }
  };
  return (
    <Button size="small" disabled={far !== null} onClick={() => void make()}>
      {far ?? "Print sheets"}
    </Button>
  );
}
