import { App, Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import type { Column, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import { useRefusal } from "../../kit/useRefusal";
import { PartsTabs } from "../parts/PartsTabs";
import { PartView } from "../parts/PartView";
import { AskPanel } from "./AskPanel";
import { BuyRequestView } from "./BuyRequestView";
import { OrderLines } from "./OrderLines";
import { PurchaseView } from "./PurchaseView";
import { HEARD, lineOf, useBuyingWrites } from "./useBuying";

interface Props {
  me: Shapes["Me"];
}
const TO_BUY = { list: "to buy" };
const BY_WHY: Sort[] = [
  { column: "why", down: true },
  { column: "due", down: false },
];
const BUY_LINES = { list: "buy lines" };
const NEWEST: Sort[] = [{ column: "made", down: true }];
const PURCHASE_LINES = { list: "purchase lines" };
const BY_NUMBER: Sort[] = [{ column: "number", down: true }];

/** Parts that work lacks, or of which less is free than their minimum: asked for in one step. */
export function ToBuyPage({ me }: Props) {
  const page = useListPage(TO_BUY, BY_WHY);
  const [part, setPart] = useKept("open");
  const { askForLacking } = useBuyingWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const keeps = me.rights.includes("stock");
  const ask = async () => {
    try {
      const made = await askForLacking([...page.chosen.keys]);
      void message.success(`${made.number} is ${made.state}`);
      page.chosen.clear();
    } catch (bad) {
      refuse("Nothing was asked for", bad);
    }
  };
  return (
    <ListPage
      page={page}
      tabs={<PartsTabs />}
      heard={HEARD}
      name="Parts to buy"
      noun="part"
      zone={me.timezone}
      opened={part}
      open={setPart}
      cell={whyCell}
      actions={
        keeps && (
          <Button size="small" type="primary" onClick={() => void ask()}>
            Ask to buy
          </Button>
        )
      }
      empty={{
        title: "Nothing is to be bought",
        text: "No work lacks a part that can be bought, and all parts lie above their minimum.",
      }}
      side={{
        name: "The part",
        about: part,
        shown: part ? (
          <PartView key={part} part={part} week={me.week} zone={me.timezone} go={setPart} />
        ) : (
          <p className="soft">Choose parts and ask for them: how many, and until when, is filled in.</p>
        ),
      }}
    />
  );
}

/** What was asked for, line by line, and how much of it is ordered. */
export function BuyRequestsPage({ me }: Props) {
  const page = useListPage(BUY_LINES, NEWEST);
  const [opened, setOpened] = useKept("open");
  const [writing, setWriting] = useState(false);
  const keeps = me.rights.includes("stock");
  const number = opened && lineOf(opened).number;
  const shortcuts: Shortcut[] = keeps
    ? [{ keys: "n", what: "A new request to buy", group: "Parts", run: () => setWriting(true) }]
    : [];
  return (
    <ListPage
      page={page}
      tabs={<PartsTabs />}
      heard={HEARD}
      name="Requests to buy"
      noun="line"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      cell={leftCell}
      bar={
        keeps && (
          <Button onClick={() => setWriting(true)}>
            New request <kbd>N</kbd>
          </Button>
        )
      }
      actions={keeps && <OrderLines keys={[...page.chosen.keys]} done={page.chosen.clear} />}
      shortcuts={shortcuts}
      empty={{
        title: "Nothing was asked for",
        text: "Ask for what is to be bought, or write a request.",
      }}
      side={{
        name: "The request",
        about: number,
        shown: number ? (
          <BuyRequestView key={number} number={number} week={me.week} zone={me.timezone} may={keeps} />
        ) : (
          <p className="soft">Pick a line to see its request; choose lines to order them.</p>
        ),
      }}
    >
      {writing && (
        <AskPanel
          of={{ kind: "request" }}
          close={(made) => {
            setWriting(false);
            if (made) setOpened(`${made} / 10`);
          }}
        />
      )}
    </ListPage>
  );
}

/** What is ordered, line by line, and what of it came. */
export function PurchasesPage({ me }: Props) {
  const page = useListPage(PURCHASE_LINES, BY_NUMBER);
  const [opened, setOpened] = useKept("open");
  const [writing, setWriting] = useState(false);
  const keeps = me.rights.includes("stock");
  const number = opened && lineOf(opened).number;
  const shortcuts: Shortcut[] = keeps
    ? [{ keys: "n", what: "A new order", group: "Parts", run: () => setWriting(true) }]
    : [];
  return (
    <ListPage
      page={page}
      tabs={<PartsTabs />}
      heard={HEARD}
      name="Orders of parts"
      noun="line"
      zone={me.timezone}
      opened={opened}
      open={setOpened}
      cell={comesCell}
      bar={
        keeps && (
          <Button onClick={() => setWriting(true)}>
            New order <kbd>N</kbd>
          </Button>
        )
      }
      shortcuts={shortcuts}
      empty={{
        title: "Nothing is ordered",
        text: "Order lines of requests to buy, or write an order.",
      }}
      side={{
        name: "The order",
        about: number,
        shown: number ? (
          <PurchaseView key={number} number={number} week={me.week} may={keeps} />
        ) : (
          <p className="soft">Pick a line to see its order and to take in what came.</p>
        ),
      }}
    >
      {writing && (
        <AskPanel
          of={{ kind: "purchase" }}
          close={(made) => {
            setWriting(false);
            if (made) setOpened(`${made} / 10`);
          }}
        />
      )}
    </ListPage>
  );
}

function whyCell(column: Column, row: ListRow) {
  if (column.name === "why" && row.cells.why === "work waits")
    return <span className="brick">▲ work waits</span>;
  return undefined;
}

function leftCell(column: Column, row: ListRow) {
  if (column.name === "left" && row.cells.state === "approved" && Number(row.cells.left) > 0)
    return <span className="ochre">◆ {String(row.cells.left)}</span>;
  return undefined;
}

function comesCell(column: Column, row: ListRow) {
  if (column.name === "to_come" && row.cells.late)
    return <span className="brick">▲ {String(row.cells.to_come)}</span>;
  if (column.name === "brought" && Number(row.cells.brought) > 0)
    return <span className="ochre">◆ {String(row.cells.brought)}</span>;
  return undefined;
}
