import { useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Input } from "antd";
import { useState } from "react";

import { http, need, Problem, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { Moment } from "../../kit/When";
import { useRefusal } from "../../kit/useRefusal";
import { clock, dayName, localDay, zoned } from "../../kit/words";
import { useWeek } from "../week/context";
import { useBeside } from "./Beside";

type Permit = Shapes["PermitLine"];
const DONE_BY: Record<string, string> = { given: "Give it", refused: "Refuse it", ended: "End it" };

/**
 * The permits of a job: which it needs, how far each is; asked for by who plans, given or refused by who may.
 */
export function Permits({ number }: { number: string }) {
  const permits = useBeside(number).data?.permits ?? [];
  const { week, can } = useWeek();
  const client = useQueryClient();
  const refuse = useRefusal();
  if (!permits.length) return null;
  const after = () => {
    void client.invalidateQueries({ queryKey: ["orders", number] });
    void client.invalidateQueries({ queryKey: keys.week(week) });
  };
  const ask = async (kinds: string[]) => {
    try {
      await need(
        http.POST("/api/orders/{number}/permits", { params: { path: { number } }, body: { kinds } }),
      );
    } catch (bad) {
      refuse("Nothing was asked for", bad);
    }
    after();
  };
  const toAsk = permits.filter((p) => p.state !== "given" && p.state !== "asked").map((p) => p.kind);
  return (
    <section aria-label="Permits">
      <h2>Permits</h2>
      {permits.map((p) => (
        <OnePermit key={p.kind + (p.revision ?? 0)} number={number} permit={p} after={after} />
      ))}
      {can("plan") && toAsk.length > 0 && (
        <Button size="small" style={{ marginTop: 6 }} onClick={() => void ask(toAsk)}>
          {toAsk.length > 1 ? `Ask for these ${toAsk.length}` : "Ask for it"}
        </Button>
      )}
    </section>
  );
}

function OnePermit({ number, permit: p, after }: { number: string; permit: Permit; after: () => void }) {
  const { now, can } = useWeek();
  const [to, setTo] = useState<string | null>(null);
  const at = (moment: string) => `${dayName(localDay(moment, now.timezone))} ${clock(moment, now.timezone)}`;
  return (
    <div className="item">
      <div className="row">
        <span className="grow">{p.name}</span>
        <span className={p.state === "given" ? "" : p.state === "refused" ? "brick" : "ochre"}>
          {p.state === "given" ? "✓ given" : p.state === "refused" ? "× refused" : `◆ ${p.state}`}
        </span>
      </div>
      {p.valid_from && p.valid_to && p.state === "given" && (
        <p className="small">
          from {at(p.valid_from)} to {at(p.valid_to)}
        </p>
      )}
      <p className="small soft">
        {[p.by && `${p.by}, ${at(p.at!)}`, p.remark].filter(Boolean).join(": ") || p.asks}
      </p>
      {can("permit") && p.moves.length > 0 && to === null && (
        <div className="row">
          {p.moves
            .filter((m) => m.to in DONE_BY)
            .map((m) => (
              <Button key={m.to} size="small" onClick={() => setTo(m.to)}>
                {DONE_BY[m.to]}
              </Button>
            ))}
        </div>
      )}
      {to !== null && <Decide number={number} permit={p} to={to} after={after} leave={() => setTo(null)} />}
    </div>
  );
}

/** Giving takes a time, refusing a reason. */
function Decide({
  number,
  permit: p,
  to,
  after,
  leave,
}: {
  number: string;
  permit: Permit;
  to: string;
  after: () => void;
  leave: () => void;
}) {
  const { now } = useWeek();
  const monday = now.days[0]!;
  const [from, setFrom] = useState(`${monday}T06:00`);
  const [until, setUntil] = useState(`${monday}T18:00`);
  const [remark, setRemark] = useState("");
  const [wrong, setWrong] = useState<{ text: string; field: string } | null>(null);
  const send = async () => {
    try {
      await need(
        http.POST("/api/orders/{number}/permits/{kind}", {
          params: { path: { number, kind: p.kind } },
          body: {
            to: to as "given",
            revision: p.revision!,
            remark,
            ...(to === "given" && {
              valid_from: atSite(from, now.timezone),
              valid_to: atSite(until, now.timezone),
            }),
          },
        }),
      );
      after();
    } catch (bad) {
      setWrong({ text: (bad as Error).message, field: bad instanceof Problem ? bad.field : "" });
    }
  };
  return (
    <form
      className="stack box"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}
    >
      {p.asks && <p className="small soft">{p.asks}</p>}
      {to === "given" && (
        <div className="row">
          <Moment
            label="Valid from"
            alone="06:00"
            value={from}
            change={setFrom}
            wrong={wrong?.field === "valid_from"}
          />
          <Moment
            label="Valid to"
            alone="18:00"
            value={until}
            change={setUntil}
            wrong={wrong?.field === "valid_to"}
          />
        </div>
      )}
      <Input
        aria-label="Remark"
        placeholder={to === "refused" ? "why it is refused" : "a remark"}
        maxLength={400}
        status={wrong?.field === "remark" ? "error" : undefined}
        value={remark}
        autoFocus={to !== "given"}
        onChange={(e) => setRemark(e.target.value)}
      />
      {wrong && <Alert type="error" showIcon title={wrong.text} />}
      <div className="row">
        <Button size="small" type="primary" htmlType="submit">
          {DONE_BY[to]}
        </Button>
        <Button size="small" onClick={leave}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

const atSite = (typed: string, zone: string) =>
  typed ? zoned(typed.slice(0, 10), typed.slice(11, 16), zone) : null;
