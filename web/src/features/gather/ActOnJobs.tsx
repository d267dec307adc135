import { Button, Dropdown } from "antd";

import type { AnyEdit } from "../../api/client";
import type { Chosen } from "../../kit/table/chosen";
import { dayLater, dayName } from "../../kit/words";
import { MoveOrders } from "../orders/MoveOrders";
import { PrintOrders } from "../orders/PrintOrders";
import { useWeek } from "../week/context";

/** What can be done with the jobs that are chosen, each with one undo. */
export function ActOnJobs({ chosen }: { chosen: Chosen }) {
  const { week, now, edit, can, openMend, openGive } = useWeek();
  const jobs = [...chosen.keys];
  if (!can("edit")) return <PrintOrders week={week} numbers={jobs} />;
  const act = async (what: AnyEdit) => {
    if (await edit(what)) chosen.clear();
  };
  return (
    <>
      <Button size="small" type="primary" onClick={() => void act({ kind: "put", jobs, day: null })}>
        Put in <kbd>I</kbd>
      </Button>
      <Dropdown
        trigger={["click"]}
        menu={{
          items: now.days.map((day) => ({
            key: day,
            label: dayName(day),
            onClick: () => void act({ kind: "put", jobs, day }),
          })),
        }}
      >
        <Button size="small">Put on a day ▾</Button>
      </Dropdown>
      <Button size="small" onClick={() => void act({ kind: "take out", jobs })}>
        Take out
      </Button>
      <Dropdown
        trigger={["click"]}
        menu={{
          items: [
            { key: "first", label: "Where each fits first" },
            ...now.days.map((day) => ({ key: dayLater(day, 7), label: dayName(dayLater(day, 7)) })),
          ],
          onClick: ({ key }) => void act({ kind: "next week", jobs, day: key === "first" ? null : key }),
        }}
      >
        <Button size="small">To next week ▾</Button>
      </Dropdown>
      <Button size="small" onClick={() => openGive({ jobs })}>
        Give to …
      </Button>
      {can("plan") && <MoveOrders numbers={jobs} done={chosen.clear} />}
      <PrintOrders week={week} numbers={jobs} />
      {now.status === "published" && (
        <Button size="small" onClick={() => openMend(jobs.slice(0, 50))}>
          Mend them in
        </Button>
      )}
    </>
  );
}
