import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { MeterPanel, NEW_METER, type MeterStart } from "./MeterPanel";
import { MeterView } from "./MeterView";
import { PreventiveTabs } from "./PreventiveTabs";

const WHERE = { list: "meters" };
const HEARD = ["meters", "preventive"];
const ORDER: Sort[] = [{ column: "read", down: false }];

/** Meters of assets, those first that were read longest ago. */
export function MetersPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const [opened, setOpened] = useKept("open");
  const [form, setForm] = useState<MeterStart | null>(null);
  const plans = me.rights.includes("plan");
  const shortcuts: Shortcut[] = plans
    ? [{ keys: "n", what: "A new meter", group: "Meters", run: () => setForm(NEW_METER) }]
    : [];
  return (
    <ListPage
      page={page}
      tabs={<PreventiveTabs />}
      heard={HEARD}
      name="Meters"
      noun="meter"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      bar={
        plans && (
          <Button onClick={() => setForm(NEW_METER)}>
            New meter <kbd>N</kbd>
          </Button>
        )
      }
      shortcuts={shortcuts}
      empty={{
        title: "No meter fits",
        text: "Take a filter off, or make a meter: what it counts makes services fall due.",
      }}
      side={{
        name: "The meter",
        about: opened,
        shown: opened ? (
          <MeterView
            key={opened}
            meter={opened}
            may={["plan", "report", "edit"].some((r) => me.rights.includes(r))}
            change={plans ? setForm : undefined}
          />
        ) : (
          <p className="soft">
            Pick a meter, by a click or by Enter, to read it and to see what hangs on it.
          </p>
        ),
      }}
    >
      {form && (
        <MeterPanel
          key={form.cells.meter}
          start={form}
          close={(kept) => {
            setForm(null);
            if (kept !== undefined) setOpened(kept);
          }}
        />
      )}
    </ListPage>
  );
}
