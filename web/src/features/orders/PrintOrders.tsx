import { Button, Dropdown } from "antd";
import { useState } from "react";

import { getFile, http, need, type Shapes } from "../../api/client";
import { endOf, howFar } from "../../api/watching";
import { giveOut } from "../../kit/Download";
import { useRefusal } from "../../kit/useRefusal";

type By = Shapes["OrderSheetsForm"]["by"];
const SEQUENCES: { by: By; label: string }[] = [
  { by: "list", label: "as chosen" },
  { by: "asset", label: "by asset" },
  { by: "day", label: "by day of the week" },
  { by: "crew", label: "by answerable crew, each on pages of its own" },
];
const items = (short: boolean) =>
  SEQUENCES.map(({ by, label }) => ({ key: `${short ? "short" : "full"} ${by}`, label }));
const MENU = [
  { key: "full", type: "group" as const, label: "A page or more each", children: items(false) },
  { key: "short", type: "group" as const, label: "Short, several on a page", children: items(true) },
];

/**
 * Sheets of the chosen work orders, full or short and in a sequence, laid out in the background, then given
 * out.
 */
export function PrintOrders({
  week,
  numbers: chosen,
}: {
  week: string;
  /** Of the WOs, or how to find them. */
  numbers: string[] | (() => Promise<string[]>);
}) {
  const refuse = useRefusal();
  const [far, setFar] = useState<string | null>(null);
  const make = async (short: boolean, by: By) => {
    setFar("being laid out …");
    try {
      const path = { params: { path: { week } } };
      const numbers = typeof chosen === "function" ? await chosen() : chosen;
      const body = { numbers, short, by };
      const asked = await need(http.POST("/api/weeks/{week}/order-sheets", { ...path, body }));
      const made = await endOf(asked, (now) => setFar(howFar(now)));
      giveOut(await getFile(`/api/runs/${made.id}/file`));
    } catch (bad) {
      refuse("The sheets were not made", bad);
    } finally {
      setFar(null);
    }
  };
  return (
    <Dropdown
      trigger={["click"]}
      disabled={far !== null}
      menu={{
        items: MENU,
        onClick: ({ key }) => {
          const [size, by] = key.split(" ");
          void make(size === "short", by as By);
        },
      }}
    >
      <Button size="small" disabled={far !== null}>
        {far ?? "Print sheets ▾"}
      </Button>
    </Dropdown>
  );
}
