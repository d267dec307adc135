import { App, Button } from "antd";
import type { ReactNode } from "react";

import type { Shapes } from "../../api/client";
import type { Column, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { useListening } from "../../app/useListening";
import { ListRoom } from "../../kit/table/ListRoom";
import { useListPage } from "../../kit/table/useListPage";
import { useRefusal } from "../../kit/useRefusal";
import { count } from "../../kit/words";
import { PrintOrders } from "../orders/PrintOrders";
import { PreventiveView } from "./PreventiveView";
import { RaisedAs } from "./RaisedAs";
import { serviceOf } from "./serviceCells";
import { ordersOf, usePreventiveWrites } from "./usePreventive";

const ORDER: Sort[] = [{ column: "day", down: false }];
const HEARD = ["services", "preventive", "falls due"];
/** The key of a service, from that of one of its occurrences: ` / ` and the day go. */
const serviceKey = (occurrence: string) => occurrence.slice(0, -" / 2026-12-01".length);

/**
 * What falls due as a table: filtered, sorted, grouped and summed as any list; what comes next is raised from
 * it.
 */
export function FallsDueTable({
  me,
  of,
  bar,
}: {
  me: Shapes["Me"];
  /** First day, days, and person: `2026-11-23 364 karl`. */
  of: string;
  bar: ReactNode;
}) {
  const page = useListPage({ list: "falls due", of }, ORDER);
  useListening(HEARD);
  const { chosen } = page;
  const [opened, setOpened] = useKept("open");
  const { raisePicked } = usePreventiveWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const services = [...new Set([...chosen.keys].map(serviceKey))].map(serviceOf);
  const raise = async () => {
    try {
      const { made, not_made } = await raisePicked(services);
      void message.success(`${count(made.length, "service")} raised`);
      if (not_made.length) void message.warning(`${not_made.length} not: ${not_made[0]!.why}`);
      else if (made.length < services.length)
        void message.warning(`${services.length - made.length} not: raised already, or held`);
      chosen.clear();
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  return (
    <ListRoom
      page={page}
      name="What falls due"
      noun="occurrence"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      cell={(column, row) => fallsCell(column, row, me.week)}
      bar={bar}
      actions={
        <>
          {me.rights.includes("plan") && (
            <Button
              size="small"
              type="primary"
              title="What falls due next of these services, whenever that is"
              onClick={() => void raise()}
            >
              Raise
            </Button>
          )}
          <PrintOrders week={me.week} numbers={ordersOf(services)} />
        </>
      }
      empty={{
        title: "Nothing falls due",
        text: "Take a filter off or look further; running preventive plans show here what they mean.",
      }}
      side={{
        name: "The preventive plan",
        about: opened,
        shown: opened ? (
          <PreventiveView number={serviceOf(opened).plan} week={me.week} />
        ) : (
          <p className="soft">Pick an occurrence to see its plan and what became of it.</p>
        ),
      }}
    />
  );
}

function fallsCell(column: Column, row: ListRow, week: string) {
  const c = row.cells;
  if (column.name === "raised") return <RaisedAs one={c} week={week} />;
  if (column.name === "state" && c.state === "done") return <span className="verdigris">✓ done</span>;
  return undefined;
}
