import { App, Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";

import type { Shapes } from "../../api/client";
import type { ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { useRefusal } from "../../kit/useRefusal";
import { PrintOrders } from "../orders/PrintOrders";
import type { Start } from "../orders/workForm";
import { ActOnServices } from "./ActOnServices";
import { FRESH_PREVENTIVE, PreventivePanel } from "./PreventivePanel";
import { PreventiveTabs } from "./PreventiveTabs";
import { PreventiveView } from "./PreventiveView";
import { RaisedPanel } from "./RaisedPanel";
import { serviceCell, serviceOf, useServiceCells } from "./serviceCells";
import { anotherOf, formOf, ordersOf, preventiveNow, usePreventiveWrites } from "./usePreventive";

const WHERE = { list: "services" };
const HEARD = ["services", "preventive"];
const ORDER: Sort[] = [{ column: "next_due", down: false }];
const NO_SERVICES = { filters: [{ column: "services", how: "empty", values: [] }] };
const WITHOUT_PLAN = `/lists/assets?list=${encodeURIComponent(JSON.stringify(NO_SERVICES))}`;
const planOf = (key: string) => key.slice(0, key.indexOf(" / "));

/** Preventive plans on their assets, by when they fall due. */
export function ServicesPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const { chosen } = page;
  const { message } = App.useApp();
  const [opened, setOpened] = useKept("open");
  const [at, setAt] = useState<ListRow | undefined>();
  const [form, setForm] = useState<Start | null>(null);
  const [raised, setRaised] = useState<Shapes["Raised"] | null>(null);
  const { question } = page.state;
  const limited = question.filters.length > 0 || question.find.trim() !== "";
  const { raiseDue } = usePreventiveWrites();
  const refuse = useRefusal();
  const plans = me.rights.includes("plan");
  const inPlace = useServiceCells();
  const change = async (number: string) => {
    try {
      setForm(formOf(await preventiveNow(number)));
    } catch (bad) {
      refuse(`${number} can not be changed`, bad);
    }
  };
  const raise = async () => {
    try {
      setRaised(await raiseDue(limited ? question : null));
    } catch (bad) {
      refuse("Nothing was raised", bad);
    }
  };
  const shortcuts: Shortcut[] = plans
    ? [
        {
          keys: "n",
          what: "A new preventive plan",
          group: "Preventive",
          run: () => setForm(FRESH_PREVENTIVE),
        },
        { keys: "r", what: "Raise what is due", group: "Preventive", run: () => void raise() },
        {
          keys: "e",
          what: "Change the plan",
          group: "Preventive",
          run: () => {
            const key = at?.key ?? opened;
            if (key) void change(planOf(key));
          },
        },
        {
          keys: "d",
          what: "Change when it was done last",
          group: "Preventive",
          run: () => inPlace.start(at, "last_done"),
        },
        {
          keys: "u",
          what: "Change when it falls due",
          group: "Preventive",
          run: () => inPlace.start(at, "next_due"),
        },
      ]
    : [];
  return (
    <ListPage
      page={page}
      tabs={<PreventiveTabs />}
      heard={HEARD}
      name="Services"
      noun="service"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      stand={setAt}
      cell={plans ? inPlace.cell : serviceCell}
      actions={
        <>
          {plans && <ActOnServices keys={[...chosen.keys]} done={chosen.clear} />}
          <PrintOrders week={me.week} numbers={ordersOf([...chosen.keys].map(serviceOf))} />
        </>
      }
      bar={
        plans && (
          <>
            <Button onClick={() => setForm(FRESH_PREVENTIVE)}>
              New plan <kbd>N</kbd>
            </Button>
            <Button
              onClick={() => void raise()}
              title={
                limited
                  ? "Make WOs of what falls due within its notice, of the services that the filter shows"
                  : "Make WOs of all that falls due within its notice"
              }
            >
              {limited ? "Raise what is due of these" : "Raise what is due"} <kbd>R</kbd>
            </Button>
          </>
        )
      }
      shortcuts={shortcuts}
      empty={{
        title: "No service fits",
        text: "Take a filter off, or make a preventive plan: it means one service for each of its assets.",
      }}
      side={{
        name: "The preventive plan",
        about: opened,
        shown: opened ? (
          <PreventiveView
            key={planOf(opened)}
            number={planOf(opened)}
            week={me.week}
            change={plans ? (plan) => setForm(formOf(plan)) : undefined}
            another={plans ? (plan) => setForm(anotherOf(plan)) : undefined}
          />
        ) : (
          <>
            <p className="soft">
              Pick a service, by a click or by Enter, to see its plan and what became of it.
            </p>
            <p>
              <Link to={WITHOUT_PLAN}>Assets without any plan</Link>
            </p>
          </>
        ),
      }}
    >
      {inPlace.panel}
      {raised && <RaisedPanel raised={raised} week={me.week} close={() => setRaised(null)} />}
      {form && (
        <PreventivePanel
          key={`${form.order.number} ${form.revision}`}
          start={form}
          close={(made) => {
            setForm(null);
            if (!made) return;
            setOpened(`${made} / `);
            void message.success(form.revision === null ? `${made} is made` : `${made} is changed`);
          }}
        />
      )}
    </ListPage>
  );
}
