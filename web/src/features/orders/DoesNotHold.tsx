import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";

import { http, need } from "../../api/client";
import type { Cells } from "./useOrders";

const OF_ORDER = ["plan", "crew", "earliest", "due"] as const;

/**
 * What does not hold on the day that a WO is for, said while it is entered: its plan, a craft, whoever is
 * answerable.
 */
export function DoesNotHold({ order, tasks }: { order: Cells; tasks: Cells[] }) {
  const looked = JSON.stringify({
    order: Object.fromEntries(OF_ORDER.map((name) => [name, order[name] ?? ""])),
    tasks: tasks.map((t) => ({ task: t.task ?? "", needs: t.needs ?? "" })),
  });
  const settled = useDeferredValue(looked);
  const remarks = useQuery({
    queryKey: ["orders", "validity", settled],
    queryFn: () =>
      need(
        http.POST("/api/orders/validity", { body: JSON.parse(settled) as { order: Cells; tasks: Cells[] } }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  }).data;
  return <Remarks of={remarks ?? []} />;
}

/** What does not hold, each in a line; nothing where all does. */
export function Remarks({ of: remarks }: { of: { field: string; text: string }[] }) {
  if (!remarks.length) return null;
  return (
    <div role="status" aria-label="Does not hold on its day">
      {remarks.map((r) => (
        <p key={r.field + r.text} className="ochre small" style={{ margin: 0 }}>
          ◆ {r.text}
        </p>
      ))}
    </div>
  );
}
