import { App, Button } from "antd";
import { useEffect, useRef, useState } from "react";

import type { Shapes } from "../../api/client";
import type { Column, Filter, ListRow, Sort } from "../../api/lists";
import { useKept } from "../../app/address";
import type { Shortcut } from "../../app/keys";
import { Panel } from "../../kit/Panel";
import { ListPage } from "../../kit/table/ListPage";
import { useListPage } from "../../kit/table/useListPage";
import type { ListState } from "../../kit/table/shown";
import { WorkTabs } from "../work/WorkTabs";
import { Deciding, type Way } from "./Deciding";
import { MakeOrder } from "./MakeOrder";
import { ReportForm } from "./ReportForm";
import { RequestView } from "./RequestView";
import { State } from "./State";
import { useRequest } from "./useRequests";

const WHERE = { list: "requests" };
const HEARD = ["requests"];
const ORDER: Sort[] = [{ column: "raised", down: true }];
const OPEN: Filter = { column: "state", how: "is", values: ["new", "asked back"] };

/** What people reported, decided one after another. */
export function RequestsPage({ me }: { me: Shapes["Me"] }) {
  const page = useListPage(WHERE, ORDER);
  const { message } = App.useApp();
  const [opened, setOpened] = useKept("open");
  const [at, setAt] = useState<ListRow | undefined>();
  const [way, setWay] = useState<Way | null>(null);
  const [panel, setPanel] = useState<"make" | "report" | null>(null);
  const [typed, setTyped] = useState(false);
  const one = useRequest(opened || null).data;
  const moves = useRef(false); // a decision leads on to the row that comes into its place
  useEffect(() => {
    if (!moves.current || !at || at.key === opened) return;
    moves.current = false;
    setOpened(at.key);
  }, [at, opened, setOpened]);
  /** Said before a decision is sent, for the list may hear of it first. */
  const goingOn = (on: boolean) => {
    moves.current = on;
  };
  const plans = me.rights.includes("plan");
  const onOne = (run: () => void) => () => {
    if (!plans || !at) return;
    if (opened !== at.key) setOpened(at.key);
    run();
  };
  const shortcuts: Shortcut[] = [
    { keys: "n", what: "Report a need", group: "Requests", run: () => setPanel("report") },
    { keys: "m", what: "Make a WO of it", group: "Requests", run: onOne(() => setPanel("make")) },
    { keys: "j", what: "Join it to a WO", group: "Requests", run: onOne(() => setWay("join")) },
    { keys: "q", what: "Ask back", group: "Requests", run: onOne(() => setWay("ask")) },
    { keys: "d", what: "Decline", group: "Requests", run: onOne(() => setWay("decline")) },
  ];
  return (
    <ListPage
      page={page}
      tabs={<WorkTabs />}
      heard={HEARD}
      name="Requests"
      noun="request"
      zone={me.timezone}
      opened={opened}
      open={(key) => {
        setWay(null);
        setOpened(key);
      }}
      stand={setAt}
      cell={requestCell}
      bar={
        <>
          <OpenOnes state={page.state} />
          <Button onClick={() => setPanel("report")}>
            Report <kbd>N</kbd>
          </Button>
        </>
      }
      shortcuts={shortcuts}
      empty={{ title: "No request fits", text: "Take a filter off, or report a need." }}
      side={{
        name: "The request",
        about: opened,
        shown: opened ? (
          <RequestView key={opened} number={opened}>
            {(r) =>
              plans && (
                <Deciding
                  request={r}
                  way={way}
                  choose={setWay}
                  make={() => setPanel("make")}
                  goingOn={goingOn}
                />
              )
            }
          </RequestView>
        ) : (
          <p className="soft">Pick a request, by a click or by Enter, to decide on it here.</p>
        ),
      }}
    >
      {panel === "report" && (
        <Panel
          title="Report a need"
          width={480}
          unsaved={typed}
          close={() => {
            setPanel(null);
            setTyped(false);
          }}
        >
          <ReportForm
            unsaved={setTyped}
            done={(number) => {
              setPanel(null);
              setTyped(false);
              setOpened(number);
              void message.success(`${number} is reported`);
            }}
          />
        </Panel>
      )}
      {panel === "make" && one && one.number === opened && (
        <MakeOrder
          key={one.number}
          request={one}
          goingOn={goingOn}
          close={(made) => {
            setPanel(null);
            if (!made) return;
            void message.success(`${made} is made of ${one.number}`);
          }}
        />
      )}
    </ListPage>
  );
}

/** Those of which nobody has decided yet, one press away. */
function OpenOnes({ state }: { state: ListState }) {
  const on = state.shown.filters.some((f) => f.column === "state" && f.values.join() === OPEN.values.join());
  return (
    <Button
      type={on ? "primary" : "default"}
      aria-pressed={on}
      onClick={() => state.filter("state", on ? null : OPEN)}
    >
      Open
    </Button>
  );
}

function requestCell(column: Column, row: ListRow) {
  if (column.name === "state") return <State state={String(row.cells.state)} />;
  if (column.name === "urgency" && row.cells.urgency === "now") return <span className="brick">▲ now</span>;
  if (column.name === "order" && row.cells.order)
    return (
      <>
        <span className="verdigris">{String(row.cells.order)}</span>{" "}
        <span className="soft small">{String(row.cells.order_state)}</span>
      </>
    );
  return undefined;
}
