import { App, Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { Column, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { figure } from "../../kit/words";
import { NEW_PART, PartPanel, type PartStart } from "./PartPanel";
import { PartView } from "./PartView";
import { PartsTabs } from "./PartsTabs";
import { ScanPanel } from "./ScanPanel";

const WHERE = { list: "parts" };
const ORDER: Sort[] = [{ column: "part", down: false }];
const HEARD = ["parts"];

/** All parts, with what there is of each. */
export function PartsPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
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
    <ListPage
      page={page}
      tabs={<PartsTabs />}
      heard={HEARD}
      name="Parts"
      noun="part"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      cell={partCell}
      bar={
        keeps && (
          <>
            <Button onClick={() => setScanning(true)}>
              Post by code <kbd>C</kbd>
            </Button>
            <Button onClick={() => setForm(NEW_PART)}>
              New part <kbd>N</kbd>
            </Button>
          </>
        )
      }
      shortcuts={shortcuts}
      empty={{
        title: "No part fits",
        text: "Take a filter off, make a part, or bring parts in under Files.",
      }}
      side={{
        name: "The part",
        about: opened,
        shown: opened ? (
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
        ),
      }}
    >
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
    </ListPage>
  );
}

function partCell(column: Column, row: ListRow) {
  if (column.name === "on_hand" && row.cells.short)
    return <span className="brick">▲ {figure(Number(row.cells.on_hand))}</span>;
  return undefined;
}
