import { App, Button } from "antd";
import { useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { useRefusal } from "../../kit/useRefusal";
import { count, money } from "../../kit/words";
import { useOrdersChanged } from "./MovedPanel";

/** Closes WOs that are done: first what would be charged to whom is seen, and which can not be closed. */
export function CloseOrders({ numbers, done: leave }: { numbers: string[]; done: () => void }) {
  const { message } = App.useApp();
  const refuse = useRefusal();
  const [tried, setTried] = useState<Shapes["ClosingTrial"] | null>(null);
  const [deed, setDeed] = useState<number | null>(null);
  const [busy, setBusy] = useState(false);
  const after = useOrdersChanged();
  const act = async (what: string, work: () => Promise<void>) => {
    setBusy(true);
    try {
      await work();
    } catch (bad) {
      refuse(what, bad);
    } finally {
      setBusy(false);
    }
  };
  const end = () => {
    setTried(null);
    leave();
  };
  const begin = () =>
    act("Costs can not be told", async () => {
      setDeed(null);
      setTried(await need(http.POST("/api/orders/closing/trial", { body: { numbers } })));
    });
  const close = () =>
    act("Nothing was closed", async () => {
      const wanted = tried!.orders.map((o) => o.number);
      const moved = await need(http.POST("/api/orders/closing", { body: { numbers: wanted } }));
      void message.success(`${count(moved.count, "WO")} closed`);
      setDeed(moved.deed);
      after();
    });
  const takeBack = () =>
    act("Nothing was taken back", async () => {
      const n = await need(http.DELETE("/api/orders/moves/{deed}", { params: { path: { deed: deed! } } }));
      void message.success(`${count(n, "WO")} done again, nothing charged`);
      end();
      after();
    });
  return (
    <>
      <Button size="small" onClick={() => void begin()}>
        Close …
      </Button>
      {tried && (
        <Panel title={deed === null ? "Close and charge" : "Closed and charged"} width={480} close={end}>
          <Trial tried={tried} closed={deed !== null} />
          <div className="row" style={{ marginTop: 14 }}>
            {deed === null ? (
              <Button
                type="primary"
                loading={busy}
                disabled={!tried.orders.length}
                onClick={() => void close()}
              >
                Close {count(tried.orders.length, "WO")}
              </Button>
            ) : (
              <Button loading={busy} onClick={() => void takeBack()}>
                Take it back
              </Button>
            )}
            <Button onClick={end}>{deed === null ? "Leave it" : "Done"}</Button>
          </div>
        </Panel>
      )}
    </>
  );
}

function Trial({ tried, closed }: { tried: Shapes["ClosingTrial"]; closed: boolean }) {
  const { currency, orders, accounts, refused, planned, actual } = tried;
  const verb = closed ? "cost" : "would be charged";
  return (
    <>
      {orders.length > 0 && (
        <>
          <p>
            {count(orders.length, "WO")} {verb} {money(actual, currency)},{" "}
            {variance(actual - planned, currency)} planned ({money(planned, currency)}).
          </p>
          <h2 style={{ marginTop: 14 }}>By account</h2>
          {accounts.map((a) => (
            <p key={a.account} className="item row">
              <span className="grow">{a.account}</span> {money(a.amount, "")}
            </p>
          ))}
          <h2 style={{ marginTop: 14 }}>By WO</h2>
          {orders.map((o) => (
            <p key={o.number} className="item row">
              <span className="grow" dir="auto">
                <span className="strong">{o.number}</span> {o.title}
              </span>
              <span>
                {money(o.actual ?? 0, "")} <span className="soft small">planned {money(o.planned, "")}</span>
              </span>
            </p>
          ))}
        </>
      )}
      {refused.length > 0 && <h2 style={{ marginTop: 14 }}>Not closed, and why</h2>}
      {refused.map((r) => (
        <p key={r.number} className="item">
          {!r.why.includes(r.number) && <span className="strong">{r.number} </span>}
          {r.why}
        </p>
      ))}
    </>
  );
}

const variance = (cents: number, currency: string) =>
  cents === 0 ? "as" : `${money(Math.abs(cents), currency)} ${cents > 0 ? "more than" : "less than"}`;
