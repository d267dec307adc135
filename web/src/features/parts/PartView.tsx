import { App, Button, Spin } from "antd";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { Attached } from "../../kit/Attached";
import { History } from "../../kit/History";
import { useRefusal } from "../../kit/useRefusal";
import { clock, dayName, figure, localDay, money } from "../../kit/words";
import { AskPanel } from "../buying/AskPanel";
import { useChoices } from "../orders/useOrders";
import type { PartStart } from "./PartPanel";
import { PostPanel } from "./PostPanel";
import { UsedOn } from "./UsedOn";
import { A_LINE, usePart, usePartWrites, type Line, type PartNow } from "./useParts";

/** Where is it? What lies where, which assets use it, what does instead, what moved. */
export function PartView({
  part,
  week,
  zone,
  go,
  change,
}: {
  part: string;
  week: string;
  zone: string;
  go: (part: string) => void;
  change?: (start: PartStart) => void;
}) {
  const found = usePart(part);
  const { currency } = useChoices();
  const [line, setLine] = useState<Line | null>(null);
  const [buying, setBuying] = useState(false);
  if (found.error) return <p className="brick">{found.error.message}</p>;
  if (!found.data) return <Spin />;
  const now = found.data;
  const p = now.part;
  const begin = (kind: Line["kind"], place = now.places[0]) =>
    setLine({
      ...A_LINE,
      kind,
      part,
      storeroom: place?.storeroom ?? "",
      shelf: place?.shelf ?? "",
      lot: place?.lot ?? "",
      quantity: kind === "count" ? (place?.on_hand ?? 0) : 1,
    });
  return (
    <>
      <section>
        <h1 dir="auto">{p.name}</h1>
        <p>
          <span className="strong">{p.part}</span>
          {p.group && ` · ${p.group}`}
          {p.blocked === "yes" && <span className="brick"> · ▲ blocked</span>}
          {p.tracked === "no" && " · a consumable"}
        </p>
        <p className="soft small" dir="auto">
          {[p.maker, p.maker_number].filter(Boolean).join(" ")}
          {p.lead_days && ` · ${p.lead_days} days when bought`}
          {Number(p.minimum) > 0 && ` · minimum ${figure(Number(p.minimum))}`}
        </p>
        {p.description && (
          <p dir="auto" style={{ whiteSpace: "pre-wrap" }}>
            {p.description}
          </p>
        )}
        {change && (
          <div className="row wrap" style={{ marginTop: 8 }}>
            <Button size="small" type="primary" onClick={() => change({ cells: p, revision: now.revision })}>
              Change
            </Button>
            {p.tracked !== "no" && (
              <>
                <Button size="small" onClick={() => begin("receipt")}>
                  Receive
                </Button>
                <Button size="small" disabled={!now.places.length} onClick={() => begin("hand-out")}>
                  Hand out
                </Button>
                <Button size="small" onClick={() => begin("give-back")}>
                  Take back
                </Button>
                {p.lead_days && (
                  <Button size="small" onClick={() => setBuying(true)}>
                    Ask to buy
                  </Button>
                )}
              </>
            )}
          </div>
        )}
      </section>
      <section aria-label="Where it lies">
        <h2>
          {figure(now.on_hand)} {p.unit} on hand
          {now.reserved > 0 && `, ${figure(now.on_hand - now.reserved)} free`}
        </h2>
        {now.average !== null && (
          <p className="soft small">
            {money(Math.round(now.average * 100), currency)} each on average · worth{" "}
            {money(Math.round((now.value ?? 0) * 100), currency)}
          </p>
        )}
        {now.places.map((at) => (
          <div key={`${at.storeroom} ${at.shelf} ${at.lot}`} className="item row">
            <span className="grow" dir="auto">
              {at.name}
              <span className="soft">
                {" "}
                {[at.shelf, at.lot && `lot ${at.lot}`].filter(Boolean).join(" · ")}
              </span>
            </span>
            <span className="strong">{figure(at.on_hand)}</span>
            {change && (
              <>
                <Button size="small" onClick={() => begin("count", at)} aria-label={`Count in ${at.name}`}>
                  Count
                </Button>
                <Button
                  size="small"
                  onClick={() => begin("transfer", at)}
                  aria-label={`Move from ${at.name}`}
                >
                  Move
                </Button>
              </>
            )}
          </div>
        ))}
      </section>
      {now.on_order.length > 0 && (
        <section aria-label="On its way">
          <h2>On its way</h2>
          {now.on_order.map((o) => (
            <p key={o.purchase + o.order} className="item row">
              <span className="grow">
                <Link to={`/parts/orders?open=${encodeURIComponent(`${o.purchase} / 10`)}`}>
                  {o.purchase}
                </Link>
                <span className="soft" dir="auto">
                  {" "}
                  {o.supplier}
                  {o.order && ` · straight to ${o.order}`}
                </span>
              </span>
              <span className="strong">{figure(o.quantity)}</span>
              <span className={o.confirmed ? "" : "ochre"}>
                {o.day ? dayName(o.day) : "some day"}
                {!o.confirmed && ", not confirmed"}
              </span>
            </p>
          ))}
        </section>
      )}
      {now.alternates.length > 0 && (
        <section aria-label="Does instead">
          <h2>Does instead</h2>
          {now.alternates.map((a) => (
            <p key={a.part} className="item row">
              <Button type="link" size="small" onClick={() => go(a.part)}>
                {a.part}
              </Button>
              <span className="grow" dir="auto">
                {a.name}
              </span>
              <span>{figure(a.on_hand)} on hand</span>
            </p>
          ))}
        </section>
      )}
      <WantedBy now={now} week={week} />
      <UsedOn part={part} uses={now.used_on} may={change !== undefined} />
      <Pictures now={now} may={change !== undefined} />
      <Moves now={now} week={week} zone={zone} />
      <History key={part} noun="part" of={[part]} />
      {buying && (
        <AskPanel
          of={{ kind: "request", lines: [{ wanted: { part, words: "", quantity: 1 }, name: p.name ?? "" }] }}
          close={() => setBuying(false)}
        />
      )}
      {line && <PostPanel start={line} unit={p.unit ?? ""} close={() => setLine(null)} />}
    </>
  );
}

function WantedBy({ now, week }: { now: PartNow; week: string }) {
  if (!now.wanted_by.length) return null;
  return (
    <section aria-label="Wanted by">
      <h2>Wanted by</h2>
      {now.wanted_by.map((w) => (
        <p key={`${w.order} ${w.instead_of}`} className="item small">
          <Link to={`/week/${week}/gather?job=${encodeURIComponent(w.order)}`}>{w.order}</Link>{" "}
          <span dir="auto">{w.title}</span>
          <span className="secondline soft">
            {figure(w.wanted)} wanted
            {w.instead_of && ` instead of ${w.instead_of}`}, {figure(w.reserved)} reserved
            {w.reserved < w.wanted &&
              (w.day ? `, the rest from ${dayName(w.day)}` : ", nobody knows when the rest comes")}
          </span>
        </p>
      ))}
    </section>
  );
}

function Pictures({ now, may }: { now: PartNow; may: boolean }) {
  const { attach } = usePartWrites();
  const { message } = App.useApp();
  const refuse = useRefusal();
  const picker = useRef<HTMLInputElement>(null);
  const key = now.part.part!;
  if (!may && !now.files.length) return null;
  const send = async (file: File) => {
    try {
      await attach(key, file);
      void message.success(`${file.name} is kept`);
    } catch (bad) {
      refuse("The file was not kept", bad);
    }
  };
  return (
    <section aria-label="Pictures and files">
      <h2>Pictures and files</h2>
      <Attached files={now.files} of={`/api/parts/one/${encodeURIComponent(key)}/files`} />
      {may && (
        <>
          <input
            ref={picker}
            type="file"
            hidden
            aria-label="A picture or file"
            onChange={(e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              if (file) void send(file);
            }}
          />
          <Button size="small" onClick={() => picker.current?.click()}>
            Add a picture
          </Button>
        </>
      )}
    </section>
  );
}

const SAID: Record<string, string> = {
  receipt: "received",
  "hand-out": "handed out",
  "give-back": "given back",
  count: "counted",
  transfer: "moved",
  return: "sent back",
  straight: "delivered",
};

function Moves({ now, week, zone }: { now: PartNow; week: string; zone: string }) {
  return (
    <section aria-label="What moved">
      <h2>What moved</h2>
      {now.moves.length === 0 && <p className="soft">Nothing yet.</p>}
      {now.moves.map((m) => (
        <p key={m.number} className="item small">
          <span className="strong">
            {m.quantity > 0 ? "+" : "−"}
            {figure(Math.abs(m.quantity))}
          </span>{" "}
          {SAID[m.kind]}{" "}
          {m.order && (
            <>
              {m.quantity < 0 ? "to " : "by "}
              <Link to={`/week/${week}/gather?job=${encodeURIComponent(m.order)}`}>{m.order}</Link>
            </>
          )}
          <span className="secondline soft" dir="auto">
            {dayName(localDay(m.at, zone))} {m.at.slice(0, 4)} {clock(m.at, zone)}
            {` · ${m.storeroom} ${m.shelf} · ${m.by}`}
            {m.reason && ` · ${m.reason}`}
          </span>
        </p>
      ))}
    </section>
  );
}
