import { Button } from "antd";
import { useState } from "react";

import { getFile, http, need } from "../../api/client";
import { giveOut } from "../../kit/Download";
import { useRefusal } from "../../kit/useRefusal";
import { endOf, howFar } from "../../api/watching";

/** Everything as one workbook: made in the background, which says how far it is, then given out. */
export function Workbook() {
  const refuse = useRefusal();
  const [far, setFar] = useState<string | null>(null);
  const make = async () => {
    setFar("being made …");
    try {
      const made = await endOf(await need(http.POST("/api/imports/exports")), (now) => setFar(howFar(now)));
      giveOut(await getFile(`/api/runs/${made.id}/file`));
    } catch (bad) {
      refuse("The file was not made", bad);
    } finally {
      setFar(null);
    }
  };
  return (
    <>
      <Button type="link" style={{ padding: 0 }} onClick={() => void make()} disabled={far !== null}>
        One workbook
      </Button>{" "}
      {far && (
        <span className="ochre" role="status">
          {far}
        </span>
      )}
    </>
  );
}
