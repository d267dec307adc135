import { Button, Input } from "antd";
import { useState } from "react";

import { Choice } from "../../kit/Choice";
import { Day } from "../../kit/When";
import { PartsOffered } from "../parts/PartsOffered";
import { useStorerooms } from "../parts/useParts";
import type { Wanted } from "./useBuying";

/** A line while it is typed. */
export interface LineTyped {
  line: string | null;
  part: string;
  words: string;
  name: string;
  quantity: string;
  price: string;
  storeroom: string;
  order: string;
  day: string;
}

export const typed = (w: Wanted, name = ""): LineTyped => ({
  line: w.line ?? null,
  part: w.part ?? "",
  words: w.words ?? "",
  name: name || w.words || "",
  quantity: String(w.quantity),
  price: w.price === null || w.price === undefined ? "" : String(w.price),
  storeroom: w.storeroom ?? "",
  order: w.order ?? "",
  day: w.day ?? "",
});

export const read = (t: LineTyped): Wanted => ({
  line: t.line,
  part: t.part || null,
  words: t.part ? "" : t.words,
  quantity: Number(t.quantity) || 0,
  price: t.price === "" ? null : Number(t.price),
  storeroom: t.order.trim() ? null : t.storeroom || null,
  order: t.order.trim() || null,
  day: t.day || null,
});

/**
 * What is to be bought, line by line: a part, or something in words; for a storeroom, or straight to a job.
 */
export function WantedLines({ lines, change }: { lines: LineTyped[]; change: (lines: LineTyped[]) => void }) {
  const [text, setText] = useState("");
  const put = (n: number, more: Partial<LineTyped>) =>
    change(lines.map((li, k) => (k === n ? { ...li, ...more } : li)));
  const add = (part: { part: string; name: string } | null) => {
    const words = text.trim();
    if (!part && !words) return;
    change([
      ...lines,
      typed({ part: part?.part ?? null, words: part ? "" : words, quantity: 1 }, part?.name),
    ]);
    setText("");
  };
  return (
    <div role="group" aria-label="What is to be bought">
      {lines.map((li, n) => (
        <WantedLine
          key={n}
          line={li}
          put={(more) => put(n, more)}
          drop={() => change(lines.filter((_, k) => k !== n))}
        />
      ))}
      <label>
        Another part, or in words
        <Input
          aria-label="Another part, or in words"
          placeholder="type a part’s number or name; Enter keeps the words"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== "Enter") return;
            e.preventDefault();
            add(null);
          }}
        />
      </label>
      <PartsOffered text={text} taken={lines.map((li) => li.part)} pick={add} />
    </div>
  );
}

function WantedLine({
  line,
  put,
  drop,
}: {
  line: LineTyped;
  put: (more: Partial<LineTyped>) => void;
  drop: () => void;
}) {
  const stores = useStorerooms();
  const what = line.part || line.words;
  const number = (field: "quantity" | "price", label: string, hint = "") => (
    <label style={{ width: 92 }}>
      {label}
      <Input
        aria-label={`${label} of ${what}`}
        inputMode="decimal"
        placeholder={hint}
        value={line[field]}
        onChange={(e) => put({ [field]: e.target.value.replace(",", ".").replace(/[^\d.]/g, "") })}
        onFocus={(e) => e.target.select()}
      />
    </label>
  );
  return (
    <fieldset className="item" aria-label={what} style={{ border: 0, margin: 0, padding: "6px 0" }}>
      <div className="row">
        <span className="grow" dir="auto">
          <span className="strong">{line.part}</span> {line.name}
        </span>
        <Button size="small" type="text" aria-label={`Without ${what}`} onClick={drop}>
          ×
        </Button>
      </div>
      <div className="row" style={{ alignItems: "flex-end" }}>
        {number("quantity", "Quantity")}
        {number("price", "Price of one", "usual")}
        <label className="grow">
          By
          <Day label={`Day of ${what}`} bare empty value={line.day} change={(day) => put({ day })} />
        </label>
      </div>
      <div className="row" style={{ alignItems: "flex-end" }}>
        {line.part && !line.order && (
          <Choice
            label="Storeroom"
            width={180}
            value={line.storeroom}
            change={(storeroom) => put({ storeroom })}
            options={[{ value: "", label: "where most of it lies" }, ...stores]}
          />
        )}
        <label className="grow">
          Straight to WO
          <Input
            aria-label={`WO of ${what}`}
            placeholder={line.part ? "none" : "WO-1234"}
            value={line.order}
            onChange={(e) => put({ order: e.target.value })}
          />
        </label>
      </div>
    </fieldset>
  );
}
