import { Button } from "antd";
import { useRef } from "react";

import { Choice } from "../../kit/Choice";
import { useCellRows } from "../../kit/useCellRows";
import {
  amount,
  checksCell,
  choicesOf,
  entriesOf,
  lacks,
  NOTHING,
  pasted,
  plain,
  unit,
  type Answer,
  type Entry,
} from "./checklist";

const ANSWERS = [
  { value: "tick", label: "ticked" },
  { value: "choice", label: "one of …" },
  { value: "number", label: "a number" },
  { value: "text", label: "in words" },
];

interface Props {
  task: string;
  cell: string;
  change: (cell: string) => void;
  wrong: boolean;
}

/**
 * What a task asks its crew to check, a row each: Enter begins the next row, several pasted lines become as
 * many.
 */
export function ChecklistRows({ task, cell, change, wrong }: Props) {
  const { rows, write, put, take } = useCellRows(cell, entriesOf, checksCell, change);
  const group = useRef<HTMLDivElement>(null);
  const begin = (after: number) => {
    write(rows.toSpliced(after + 1, 0, NOTHING));
    requestAnimationFrame(() => field(after + 1)?.focus());
  };
  const field = (n: number) => group.current?.querySelectorAll<HTMLInputElement>("[data-what]")[n];
  return (
    <div ref={group} className="small" role="group" aria-label={`To check in task ${task}`}>
      To check
      {rows.map((r, n) => {
        const told = lacks(r);
        const of = `${n + 1} of task ${task}`;
        return (
          <div key={n}>
            <div className="row" style={{ gap: 5, marginTop: 4 }}>
              <input
                data-what
                className="plainselect grow"
                style={{ minWidth: 0 }}
                aria-label={`Check ${of}`}
                aria-invalid={wrong || told !== null}
                placeholder="what is checked"
                value={r.what}
                onChange={(e) => put(n, { what: plain(e.target.value) })}
                onPaste={(e) => {
                  const several = pasted(e.clipboardData.getData("text"));
                  if (several.length < 2) return;
                  e.preventDefault();
                  write([...rows.slice(0, r.what ? n + 1 : n), ...several, ...rows.slice(n + 1)]);
                }}
                onKeyDown={(e) => {
                  if (e.key === "Enter" && !e.ctrlKey && !e.metaKey) {
                    e.preventDefault();
                    if (r.what.trim()) begin(n);
                  }
                }}
              />
              <Choice
                label={`How check ${of} is answered`}
                hidden
                width={92}
                value={r.answer}
                options={ANSWERS}
                change={(v) => put(n, { answer: v as Answer })}
              />
              <Button
                size="small"
                type="text"
                tabIndex={-1}
                aria-label={`Take check ${of} off`}
                onClick={() => take(n)}
              >
                ×
              </Button>
            </div>
            {r.answer === "number" && <Limits of={of} entry={r} put={(more) => put(n, more)} />}
            {r.answer === "choice" && <Choices of={of} entry={r} put={(more) => put(n, more)} />}
            {told && (
              <p className="brick" role="status" style={{ margin: "2px 0 0" }}>
                {r.what}: {told}
              </p>
            )}
          </div>
        );
      })}
      <div>
        <Button size="small" type="link" className="morecraft" onClick={() => begin(rows.length - 1)}>
          One more to check
        </Button>
      </div>
    </div>
  );
}

interface OfEntry {
  of: string;
  entry: Entry;
  put: (more: Partial<Entry>) => void;
}

function Limits({ of, entry, put }: OfEntry) {
  const box = (label: string, value: string, change: (v: string) => void, hint: string) => (
    <input
      className="plainselect"
      style={{ width: 76 }}
      aria-label={label}
      placeholder={hint}
      value={value}
      onChange={(e) => change(e.target.value)}
    />
  );
  return (
    <div className="row" style={{ gap: 5, margin: "2px 0 0 12px" }}>
      {box(`Unit of check ${of}`, entry.unit, (v) => put({ unit: unit(v) }), "unit")}
      <span className="soft">from</span>
      {box(`Lowest of check ${of}`, entry.low, (v) => put({ low: amount(v) }), "no limit")}
      <span className="soft">to</span>
      {box(`Highest of check ${of}`, entry.high, (v) => put({ high: amount(v) }), "no limit")}
    </div>
  );
}

function Choices({ of, entry, put }: OfEntry) {
  const names = [...new Set(choicesOf(entry.choices))];
  return (
    <div className="row wrap" style={{ gap: 5, margin: "2px 0 0 12px" }}>
      <input
        className="plainselect grow"
        aria-label={`Choices of check ${of}`}
        placeholder="none, slight, loud"
        value={entry.choices}
        onChange={(e) => put({ choices: plain(e.target.value).replace(/!/g, "") })}
        onBlur={() => put({ bad: entry.bad.filter((b) => names.includes(b)) })}
      />
      {names.length > 1 && <span className="soft">out of limits:</span>}
      {names.length > 1 &&
        names.map((name) => (
          <label key={name} className="row" style={{ gap: 3 }}>
            <input
              type="checkbox"
              checked={entry.bad.includes(name)}
              onChange={(e) =>
                put({ bad: e.target.checked ? [...entry.bad, name] : entry.bad.filter((b) => b !== name) })
              }
            />
            {name}
          </label>
        ))}
    </div>
  );
}
