import { Button } from "antd";
import { useState } from "react";

import type { Shapes } from "../../api/client";
import { Day } from "../../kit/When";
import { dayName } from "../../kit/words";
import { useWeek } from "../week/context";

const LEVELS = ["helper", "qualified", "lead"];

/**
 * Crafts with levels, the main one first, and certificates with their last valid day; as they are, or being
 * changed.
 */
export function Skills({ person }: { person: Shapes["PersonRow"] }) {
  const { now, can } = useWeek();
  const [open, setOpen] = useState(false);
  if (open) return <Form person={person} close={() => setOpen(false)} />;
  return (
    <section>
      <div className="row">
        <h2 className="grow">Crafts and certificates</h2>
        {can("edit") && (
          <Button size="small" onClick={() => setOpen(true)}>
            Change crafts
          </Button>
        )}
      </div>
      {person.crafts.map((c, n) => (
        <p key={c.craft}>
          {c.name}{" "}
          <span className="soft">
            level {c.level}, {LEVELS[c.level - 1]}
            {n === 0 ? " · main craft" : ""}
          </span>
        </p>
      ))}
      {person.certificates.map((c) => (
        <p key={c.name}>
          {c.name}{" "}
          <span className={c.until && c.until < now.days[0]! ? "brick" : "soft"}>
            {c.until
              ? c.until < now.days[0]!
                ? `ended on ${dayName(c.until)}`
                : `until ${dayName(c.until)}`
              : "without an end"}
          </span>
        </p>
      ))}
    </section>
  );
}

function Form({ person, close }: { person: Shapes["PersonRow"]; close: () => void }) {
  const { now, edit } = useWeek();
  const [crafts, setCrafts] = useState(person.crafts.map((c): [string, number] => [c.craft, c.level]));
  const [held, setHeld] = useState(person.certificates.map((c): [string, string] => [c.name, c.until ?? ""]));
  const free = now.crafts.filter((c) => !crafts.some(([k]) => k === c.key));
  const name = (key: string) => now.crafts.find((c) => c.key === key)?.name ?? key;
  const send = async () => {
    const certificates = held
      .filter(([c]) => c.trim())
      .map(([c, until]): [string, string | null] => [c.trim(), until || null]);
    if (await edit({ kind: "skills", person: person.key, crafts, certificates })) close();
  };
  return (
    <section>
      <form
        className="stack"
        aria-label="Crafts and certificates"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <h2>Crafts and certificates</h2>
        {crafts.map(([craft, level], n) => (
          <div key={craft} className="row">
            <span className="grow">
              {name(craft)}
              {n === 0 && <span className="soft"> · main</span>}
            </span>
            <select
              className="plainselect"
              style={{ width: 104 }}
              aria-label={`Level of ${name(craft)}`}
              value={level}
              onChange={(e) =>
                setCrafts(crafts.map((c, k) => (k === n ? [craft, Number(e.target.value)] : c)))
              }
            >
              {LEVELS.map((l, k) => (
                <option key={l} value={k + 1}>
                  {k + 1} {l}
                </option>
              ))}
            </select>
            {n > 0 && (
              <Button
                size="small"
                aria-label={`${name(craft)} is the main craft`}
                onClick={() => setCrafts([crafts[n]!, ...crafts.filter((_, k) => k !== n)])}
              >
                ↑ main
              </Button>
            )}
            <Button
              size="small"
              aria-label={`Without ${name(craft)}`}
              disabled={crafts.length === 1}
              onClick={() => setCrafts(crafts.filter((_, k) => k !== n))}
            >
              ✕
            </Button>
          </div>
        ))}
        {free.length > 0 && (
          <select
            className="plainselect"
            aria-label="One more craft"
            value=""
            onChange={(e) => setCrafts([...crafts, [e.target.value, 1]])}
          >
            <option value="">one more craft …</option>
            {free.map((c) => (
              <option key={c.key} value={c.key}>
                {c.name}
              </option>
            ))}
          </select>
        )}
        {held.map(([c, until], n) => (
          <div key={n} className="row">
            <input
              className="plainselect grow"
              aria-label="Certificate"
              maxLength={40}
              placeholder="certificate"
              value={c}
              onChange={(e) => setHeld(held.map((x, k) => (k === n ? [e.target.value, until] : x)))}
            />
            <Day
              bare
              empty
              width={140}
              placeholder="no end"
              label={`Last valid day of ${c || "the certificate"}`}
              value={until}
              change={(day) => setHeld(held.map((x, k) => (k === n ? [c, day] : x)))}
            />
            <Button
              size="small"
              aria-label={`Without ${c || "the certificate"}`}
              onClick={() => setHeld(held.filter((_, k) => k !== n))}
            >
              ✕
            </Button>
          </div>
        ))}
        <Button size="small" onClick={() => setHeld([...held, ["", ""]])}>
          One more certificate
        </Button>
        <div className="row">
          <Button size="small" type="primary" htmlType="submit">
            Write it down
          </Button>
          <Button size="small" onClick={close}>
            Leave it
          </Button>
        </div>
      </form>
    </section>
  );
}
