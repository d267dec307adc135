import { Button } from "antd";
import { useState } from "react";

import { useRefusal } from "../../kit/useRefusal";
import { Typed } from "../../kit/Typed";
import { count, hours } from "../../kit/words";
import { DoesNotHold } from "../orders/DoesNotHold";
import type { Cells } from "../orders/useOrders";
import { copyOf, usePlan, usePlanChoices, type PlanChoice } from "./usePlans";
import { refreshed } from "./refreshed";

interface Props {
  order: Cells;
  tasks: Cells[];
  /** The WO is there already: what it says is its own, and only refreshed when it is asked for. */
  made: boolean;
  take: (order: Cells, tasks: Cells[]) => void;
}

/**
 * The job plan that a WO is made of: chosen by a part of its name, those that apply to the asset first;
 * copied, and free to change.
 */
export function FromPlan({ order, tasks, made, take }: Props) {
  const choices = usePlanChoices(order.asset ?? "");
  const refuse = useRefusal();
  const [picked, setPicked] = useState<string | null>(order.plan || order.plan_from || null);
  const chosen = choices.find((c) => keyOf(c) === picked) ?? null;
  const copy = async (number: string) => {
    try {
      const [key, at] = number.split(OF_SITE);
      const found = await copyOf(key!, at);
      const title = order.title?.trim() || found.order.title!;
      take({ ...found.order, title }, made ? refreshed(tasks, found.tasks) : found.tasks);
    } catch (bad) {
      refuse(`${number} was not copied`, bad);
    }
  };
  const from = order.plan || order.plan_from;
  if (made && from)
    return (
      <Made
        order={order}
        elsewhere={order.plan ? undefined : choices.find((c) => keyOf(c) === from)}
        refresh={() => void copy(from)}
      />
    );
  const suited = choices.filter((c) => c.applies).length;
  return (
    <div role="group" aria-label="Job plan">
      <div className="row">
        <Typed
          label="From a job plan"
          options={choices.map((c) => ({ value: keyOf(c), label: offered(c) }))}
          value={picked}
          change={setPicked}
          placeholder={
            (suited ? `${count(suited, "plan")} for this asset; ` : "") + "type a part of its name"
          }
        />
        <Button
          size="small"
          style={{ alignSelf: "end", height: 32 }}
          disabled={!picked}
          title="Its tasks, crew needs and hours, in place of those below; free to change"
          onClick={() => picked && void copy(picked)}
        >
          {from && from === picked ? "Copied" : "Copy it in"}
        </Button>
      </div>
      {chosen && !chosen.site && chosen.number !== order.plan && (
        <DoesNotHold order={{ ...order, plan: chosen.number, crew: "" }} tasks={[]} />
      )}
    </div>
  );
}

/** Stands between the number of another site's plan and that site. */
const OF_SITE = " of ";
const keyOf = (c: PlanChoice) => (c.site ? `${c.number}${OF_SITE}${c.site}` : c.number);
const offered = (c: PlanChoice) =>
  (c.applies ? "" : "elsewhere: ") +
  (c.site ? `${c.site}: ` : "") +
  `${c.title} · ${c.number} · ${count(c.tasks, "task")}, ${hours(c.hours)}`;

/** What a WO was made of, and whether its plan says something else by now. */
function Made({
  order,
  elsewhere,
  refresh,
}: {
  order: Cells;
  /** The plan, where another site keeps it in force for this one too. */
  elsewhere: PlanChoice | undefined;
  refresh: () => void;
}) {
  const plan = usePlan(order.plan || null).data;
  const now = elsewhere?.edition ?? Number(plan?.plan.edition);
  const its = Number(order.plan_edition);
  const newer = plan?.editions.filter((e) => e.edition > its) ?? [];
  const changes = newer.reduce((all, e) => all + e.changes.length, 0);
  return (
    <div className="row small" role="group" aria-label="Job plan">
      <span className="soft">
        Made of <span className="strong">{order.plan || order.plan_from}</span>
        {its > 0 && `, edition ${its}`}
        {now > its && `; now edition ${now}`}
        {plan && now > its && `, ${count(changes, "difference")}`}
      </span>
      <span className="grow" />
      {(elsewhere || plan?.plan.state === "in force") && (
        <Button
          size="small"
          title="Its tasks as the plan has them now; what was done or begun stays"
          onClick={refresh}
        >
          Refresh from the plan
        </Button>
      )}
    </div>
  );
}
