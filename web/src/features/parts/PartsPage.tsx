import { App, Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { Column, Head, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { useTitle } from "../../app/title";
import { Side } from "../../kit/Side";
import { ListBar } from "../../kit/table/ListBar";
import { ListOrTrouble } from "../../kit/table/ListOrTrouble";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import { figure } from "../../kit/words";
import { NEW_PART, PartPanel, type PartStart } from "./PartPanel";
import { PartView } from "./PartView";
import { PartsTabs } from "./PartsTabs";
import { ScanPanel } from "./ScanPanel";
import { useListening } from "../../app/useListening";

const WHERE = { list: "parts" };
const ORDER: Sort[] = [{ column: "part", down: false }];
const HEARD = ["parts"];

/** All parts, with what there is of each. */
export function PartsPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  useTitle("Parts");
  useListening(HEARD);
  return (
    <main className="lists">
      <PartsTabs />
      <ListOrTrouble head={page.head} what="Parts">
        {(head) => <Parts me={me} page={page} head={head} />}
      </ListOrTrouble>
    </main>
  );
}

function Parts({ me, page, head }: { me: Shapes["Me"]; page: ReturnType<typeof useListPage>; head: Head }) {
  const { state, chosen, told, tell } = page;
  const { message } = App.useApp();
  const [opened, setOpened] = useKept("open");
  const [form, setForm] = useState<PartStart | null>(null);
  const [scanning, setScanning] = useState(false);
  const keeps = me.rights.includes("stock");
  const shortcuts: Shortcut[] = keeps
    ? [
        { keys: "n", what: "A new part", group: "Parts", run: () => setForm(NEW_PART) },
        { keys: "c", what: "Post by code", group: "Parts", run: () => setScanning(true) },
      ]
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
            label="parts"
            summary={told ? countWords(told.total, told.sums, head, "part") : ""}
          >
            {keeps && (
              <>
                <Button onClick={() => setScanning(true)}>
                  Post by code <kbd>C</kbd>
                </Button>
                <Button onClick={() => setForm(NEW_PART)}>
                  New part <kbd>N</kbd>
                </Button>
              </>
            )}
          </ListBar>
          <ListTable
            where={WHERE}
            head={head}
            state={state}
            label="Parts"
            noun="part"
            zone={me.timezone}
            chosen={chosen}
            opened={opened || null}
            open={setOpened}
            told={tell}
            cell={partCell}
            empty={
              <div className="empty">
                <h2>No part fits</h2>
                <p>Take a filter off, make a part, or bring parts in under Files.</p>
              </div>
            }
            shortcuts={shortcuts}
          />
        </div>
        <Side about={opened || null} name="The part">
          {opened ? (
            <PartView
              key={opened}
              part={opened}
              week={me.week}
              zone={me.timezone}
              go={setOpened}
              change={keeps ? setForm : undefined}
            />
          ) : (
            <p className="soft">
              Pick a part, by a click or by Enter, to see where it lies, what uses it and what moved.
            </p>
          )}
        </Side>
      </div>
      {scanning && <ScanPanel close={() => setScanning(false)} />}
      {form && (
        <PartPanel
          key={form.cells.part}
          start={form}
          close={(kept) => {
            setForm(null);
            if (kept === undefined) return;
            setOpened(kept);
            void message.success(kept ? `${kept} is kept` : "The part is taken away");
          }}
        />
      )}
    </>
  );
}

function partCell(column: Column, row: ListRow) {
  if (column.name === "on_hand" && row.cells.short)
    return <span className="brick">▲ {figure(Number(row.cells.on_hand))}</span>;
  return undefined;
}
