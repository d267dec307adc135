import { useQuery } from "@tanstack/react-query";
import { Button, Spin } from "antd";
import { useState } from "react";
import { Link, NavLink, useParams } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import type { ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import { useTitle } from "../../app/title";
import { History } from "../../kit/History";
import { OfWeek } from "../../kit/OfWeek";
import { Side } from "../../kit/Side";
import { cellText } from "../../kit/table/Cell";
import { ListBar } from "../../kit/table/ListBar";
import { countWords, ListTable } from "../../kit/table/ListTable";
import { useListPage } from "../../kit/table/useListPage";
import type { KeptStart } from "../../kit/useKeptForm";
import { useRefusal } from "../../kit/useRefusal";
import { CloseOrders } from "../orders/CloseOrders";
import { AssetPanel, assetStart, NEW_ASSET } from "./AssetPanel";
import { FitAssets } from "./FitAssets";
import { MoveOrders } from "../orders/MoveOrders";
import { SetOnOrders } from "../orders/SetOnOrders";
import { PrintOrders } from "../orders/PrintOrders";

/** What a row of a list is called, the noun of its history, and the order in which the list begins. */
const LISTS: Record<string, { noun: string; history?: string; sort: Sort[]; byWeek?: boolean }> = {
  "work orders": { noun: "WO", history: "work order", sort: [{ column: "number", down: true }] },
  "all tasks": { noun: "task", sort: [{ column: "key", down: true }] },
  assets: { noun: "asset", history: "asset", sort: [{ column: "asset", down: false }] },
  windows: { noun: "window", sort: [{ column: "start", down: false }] },
  tasks: {
    noun: "task",
    sort: [
      { column: "day", down: false },
      { column: "start", down: false },
    ],
    byWeek: true,
  },
  people: { noun: "person", history: "person", sort: [{ column: "name", down: false }] },
  runs: { noun: "run", sort: [{ column: "created", down: true }] },
};

/** Everything that is kept, list by list. */
export function ListsPage({ me }: { me: Shapes["Me"] }) {
  const { list = "work orders" } = useParams();
  const names = useQuery({
    queryKey: ["list", "names"],
    queryFn: () => need(http.GET("/api/lists/names")),
    staleTime: Infinity,
  }).data;
  return (
    <main className="lists">
      <nav className="tabs" aria-label="Lists">
        {Object.keys(LISTS)
          .map((name) => names?.find((n) => n.name === name))
          .filter((n) => n !== undefined)
          .map((n) => (
            <NavLink key={n.name} to={`/lists/${n.name}`}>
              {n.label}
            </NavLink>
          ))}
      </nav>
      {LISTS[list] ? (
        <OneList key={list} list={list} me={me} />
      ) : (
        <div className="empty">
          <h2>There is no list {list}</h2>
          <p>Choose one above.</p>
        </div>
      )}
    </main>
  );
}

function OneList({ list, me }: { list: string; me: Shapes["Me"] }) {
  const { noun, sort, byWeek } = LISTS[list]!;
  const [week, setWeek] = useKept("week", me.week);
  const where = byWeek ? { list, week } : { list };
  const { head, state, chosen, told, tell } = useListPage(where, sort);
  const [opened, setOpened] = useState<string | null>(null);
  const [at, setAt] = useState<ListRow | undefined>();
  const [form, setForm] = useState<KeptStart | null>(null);
  const refuse = useRefusal();
  const plans = me.rights.includes("plan");
  const change = async (key: string) => {
    try {
      setForm(await assetStart(key));
    } catch (bad) {
      refuse("It can not be opened", bad);
    }
  };
  useTitle(head.data?.label ?? "Lists");
  if (head.error)
    return (
      <div className="empty">
        <h2>This list can not be shown</h2>
        <p>{head.error.message}</p>
      </div>
    );
  if (!head.data)
    return (
      <div className="empty">
        <Spin />
      </div>
    );
  return (
    <div className="split">
      <div className="main listing">
        <ListBar
          where={where}
          head={head.data}
          state={state}
          chosen={chosen}
          label={head.data.label.toLowerCase()}
          summary={told ? countWords(told.total, told.sums, head.data, noun) : ""}
          actions={
            list === "work orders" && plans ? (
              <>
                <MoveOrders numbers={[...chosen.keys]} done={chosen.clear} />
                <SetOnOrders numbers={[...chosen.keys]} done={chosen.clear} />
                <CloseOrders numbers={[...chosen.keys]} done={chosen.clear} />
                <PrintOrders week={me.week} numbers={[...chosen.keys]} />
              </>
            ) : list === "assets" && plans ? (
              <FitAssets assets={[...chosen.keys]} done={chosen.clear} />
            ) : undefined
          }
        >
          {list === "assets" && plans && <Button onClick={() => setForm(NEW_ASSET)}>New asset</Button>}
          {byWeek && <OfWeek week={week} go={setWeek} />}
        </ListBar>
        <ListTable
          where={where}
          head={head.data}
          state={state}
          label={head.data.label}
          noun={noun}
          zone={me.timezone}
          chosen={chosen}
          opened={opened}
          open={setOpened}
          stand={setAt}
          told={tell}
          empty={
            <div className="empty">
              <h2>Nothing here fits</h2>
              <p>Take a filter off, or bring records in under Files.</p>
            </div>
          }
        />
      </div>
      <Side about={opened} name="The record">
        {at && opened === at.key ? (
          <RowPanel
            list={list}
            week={week}
            row={at}
            head={head.data}
            zone={me.timezone}
            change={list === "assets" && plans ? () => void change(at.key) : undefined}
          />
        ) : (
          <p className="soft">Pick a row, by a click or by Enter, to see all of it here.</p>
        )}
      </Side>
      {form && (
        <AssetPanel
          start={form}
          close={(kept) => {
            setForm(null);
            if (kept === "") setOpened(null);
          }}
        />
      )}
    </div>
  );
}

/** All cells of a row, and the history of its record. */
function RowPanel({
  list,
  week,
  row,
  head,
  zone,
  change,
}: {
  list: string;
  week: string;
  row: ListRow;
  head: Shapes["ListHead"];
  zone: string;
  /** Opens its form, where it has one. */
  change?: () => void;
}) {
  const history = LISTS[list]?.history;
  return (
    <>
      <section>
        <div className="row">
          <h1 className="grow" dir="auto">
            {row.key}
          </h1>
          {change && <Button onClick={change}>Change</Button>}
        </div>
        <dl className="facts">
          {head.columns.map((c) => {
            const text = cellText(c, row, zone);
            return text ? (
              <div key={c.name}>
                <dt className="soft small">{c.label}</dt>
                <dd dir="auto">{text}</dd>
              </div>
            ) : null;
          })}
        </dl>
      </section>
      {list === "tasks" && (
        <p>
          <Link to={`/week/${week}/gather?job=${encodeURIComponent(String(row.cells.number))}`}>
            Open the job
          </Link>
        </p>
      )}
      {history && <History key={row.key} noun={history} of={[row.key]} />}
    </>
  );
}
