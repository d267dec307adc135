import { App, Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { Column, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { useRefusal } from "../../kit/useRefusal";
import type { Start } from "../orders/workForm";
import { WorkTabs } from "../work/WorkTabs";
import { FRESH_PLAN, PlanPanel } from "./PlanPanel";
import { PlanState } from "./PlanState";
import { PlanView } from "./PlanView";
import { formOf, planNow } from "./usePlans";

const WHERE = { list: "job plans" };
const HEARD = ["job plans", "plans"];
const ORDER: Sort[] = [{ column: "title", down: false }];

/** The library of job plans. */
export function PlansPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const { message } = App.useApp();
  const [opened, setOpened] = useKept("open");
  const [at, setAt] = useState<ListRow | undefined>();
  const [form, setForm] = useState<Start | null>(null);
  const refuse = useRefusal();
  const change = async (number: string) => {
    setOpened(number);
    try {
      const plan = await planNow(number);
      if (plan.plan.state === "retired") void message.info(`${number} is retired; put it in force first`);
      else setForm(formOf(plan));
    } catch (bad) {
      refuse(`${number} can not be changed`, bad);
    }
  };
  const plans = me.rights.includes("plan");
  const shortcuts: Shortcut[] = plans
    ? [
        { keys: "n", what: "A new job plan", group: "Job plans", run: () => setForm(FRESH_PLAN) },
        {
          keys: "e",
          what: "Change it",
          group: "Job plans",
          run: () => {
            const number = at?.key ?? opened;
            if (number) void change(number);
          },
        },
      ]
    : [];
  return (
    <ListPage
      page={page}
      tabs={<WorkTabs />}
      heard={HEARD}
      name="Job plans"
      noun="plan"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      stand={setAt}
      cell={planCell}
      bar={
        plans && (
          <Button onClick={() => setForm(FRESH_PLAN)}>
            New plan <kbd>N</kbd>
          </Button>
        )
      }
      shortcuts={shortcuts}
      empty={{
        title: "No job plan fits",
        text: "Take a filter off, make a plan here, or one of a WO that is well planned.",
      }}
      side={{
        name: "The job plan",
        about: opened,
        shown: opened ? (
          <PlanView
            key={opened}
            number={opened}
            change={plans ? (plan) => setForm(formOf(plan)) : undefined}
          />
        ) : (
          <p className="soft">Pick a job plan, by a click or by Enter, to see what it says and learned.</p>
        ),
      }}
    >
      {form && (
        <PlanPanel
          key={`${form.order.number} ${form.revision}`}
          start={form}
          close={(made) => {
            setForm(null);
            if (!made) return;
            setOpened(made);
            void message.success(form.revision === null ? `${made} is being written` : `${made} is changed`);
          }}
        />
      )}
    </ListPage>
  );
}

const OFF = 100 / 3;

function planCell(column: Column, row: ListRow) {
  if (column.name === "state") return <PlanState state={String(row.cells.state)} />;
  const actual = row.cells.actual;
  if (column.name === "actual" && typeof actual === "number" && Math.abs(actual - 100) > OFF)
    return <span className="brick">▲ {actual}</span>;
  return undefined;
}
