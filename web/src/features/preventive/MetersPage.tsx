import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { Head, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { useTitle } from "../../app/title";
import { useListening } from "../../app/useListening";
import { Side } from "../../kit/Side";
import { ListBar } from "../../kit/table/ListBar";
import { ListOrTrouble } from "../../kit/table/ListOrTrouble";
import { countWords, ListTable } from "../../kit/table/ListTable";
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
  useTitle("Meters");
  useListening(HEARD);
  return (
    <main className="lists">
      <PreventiveTabs />
      <ListOrTrouble head={page.head} what="Meters">
        {(head) => <Meters me={me} page={page} head={head} />}
      </ListOrTrouble>
    </main>
  );
}

function Meters({ me, page, head }: { me: Shapes["Me"]; page: ReturnType<typeof useListPage>; head: Head }) {
  const { state, chosen, told, tell } = page;
  const [opened, setOpened] = useKept("open");
  const [form, setForm] = useState<MeterStart | null>(null);
  const plans = me.rights.includes("plan");
  const shortcuts: Shortcut[] = plans
    ? [{ keys: "n", what: "A new meter", group: "Meters", run: () => setForm(NEW_METER) }]
    : [];
  return (
    <>
      <div className="split">
        <div className="main listing">
          <ListBar
            where={WHERE}
            head={head}
            state={state}
            chosen={chosen}
            label="meters"
            summary={told ? countWords(told.total, told.sums, head, "meter") : ""}
          >
            {plans && (
              <Button onClick={() => setForm(NEW_METER)}>
                New meter <kbd>N</kbd>
              </Button>
            )}
          </ListBar>
          <ListTable
            where={WHERE}
            head={head}
            state={state}
            label="Meters"
            noun="meter"
            zone={me.timezone}
            chosen={chosen}
            opened={opened || null}
            open={setOpened}
            told={tell}
            empty={
              <div className="empty">
                <h2>No meter fits</h2>
                <p>Take a filter off, or make a meter: what it counts makes services fall due.</p>
              </div>
            }
            shortcuts={shortcuts}
          />
        </div>
        <Side about={opened || null} name="The meter">
          {opened ? (
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
          )}
        </Side>
      </div>
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
    </>
  );
}
