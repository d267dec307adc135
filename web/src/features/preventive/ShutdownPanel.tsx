import { Button, Checkbox } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Panel } from "../../kit/Panel";
import { KeptEnd, useKeptForm, type KeptStart } from "../../kit/useKeptForm";
import { Day } from "../../kit/When";
import { Worded } from "../../kit/Worded";
import { count, dayName, localDay } from "../../kit/words";
import { useMeterWrites } from "./useMeters";
import { useSeries } from "./usePreventive";

export type ShutdownStart = KeptStart;
export const NEW_SHUTDOWN: ShutdownStart = {
  cells: { shutdown: "", name: "", series: "", first: "", last: "", moves_work: "yes" },
  revision: null,
};

/** A shutdown by hand. Where its days change, it is told what moves with it before it is done. */
export function ShutdownPanel({
  start,
  zone,
  close,
}: {
  start: ShutdownStart;
  zone: string;
  close: (made?: string) => void;
}) {
  const form = useKeptForm(start);
  const { cells, wrong, act, text, made, changed } = form;
  const [moving, setMoving] = useState<Shapes["Moving"] | null>(null);
  const { keep, takeAway, move } = useMeterWrites();
  const series = useSeries();
  const set = (column: string, value: string) => {
    form.set(column, value);
    setMoving(null);
  };
  const dated = made && (cells.first !== start.cells.first || cells.last !== start.cells.last);
  const { first, last } = cells;
  const others = ["name", "series", "moves_work"].some((c) => cells[c] !== start.cells[c]);
  const send = () =>
    act(async () => {
      if (dated && !moving) {
        setMoving(
          await move(cells.shutdown!, { first: first!, last: last!, revision: start.revision!, trial: true }),
        );
        return;
      }
      let revision = start.revision;
      if (dated) {
        await move(cells.shutdown!, { first: first!, last: last!, revision: revision!, trial: false });
        revision = revision! + 1;
      }
      if (!made || others) await keep("shutdowns", cells, revision);
      close(cells.shutdown!.trim());
    });
  return (
    <Panel close={() => close()} title={made ? start.cells.shutdown! : "New shutdown"} unsaved={changed}>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        {text("shutdown", "Number", "AUT-27", made)}
        {text("name", "Name", "Autumn overhaul 2027")}
        <Worded label="Series" used={series} value={cells.series ?? ""} change={(v) => set("series", v)} />
        <div className="row">
          <label className="grow">
            First day
            <Day bare label="First day" value={first ?? ""} change={(v) => set("first", v)} />
          </label>
          <label className="grow">
            Last day
            <Day bare label="Last day" value={last ?? ""} change={(v) => set("last", v)} />
          </label>
        </div>
        <Checkbox
          checked={cells.moves_work === "yes"}
          onChange={(e) => set("moves_work", e.target.checked ? "yes" : "no")}
        >
          The days by which its WOs are required move with it
        </Checkbox>
        {moving && <Moves moving={moving} zone={zone} />}
        <KeptEnd
          wrong={wrong}
          send={moving ? "Move it" : dated ? "What would move?" : made ? "Save" : "Make the shutdown"}
          leave={() => close()}
        >
          {made && !dated && (
            <Button
              onClick={() =>
                void act(async () => {
                  await takeAway("shutdowns", cells.shutdown!, start.revision!);
                  close("");
                })
              }
            >
              Take it away
            </Button>
          )}
        </KeptEnd>
      </form>
    </Panel>
  );
}

function Moves({ moving: m, zone }: { moving: Shapes["Moving"]; zone: string }) {
  return (
    <section aria-label="What would move">
      <h2>
        {m.days === 0
          ? "Its first day stays; nothing moves"
          : `${count(Math.abs(m.days), "day")} ${m.days > 0 ? "later" : "sooner"}: ` +
            `${count(m.orders.length, "WO")} and ${count(m.services, "service")} move`}
      </h2>
      {m.orders.map((o) => (
        <p key={o.number} className="item small row">
          <span className="grow" dir="auto">
            {o.number} {o.title}
          </span>
          {o.due && o.to && (
            <span>
              {dayName(localDay(o.due, zone))} → {dayName(localDay(o.to, zone))}
            </span>
          )}
        </p>
      ))}
    </section>
  );
}
