import { Button, Checkbox, Input } from "antd";
import { useState, type ReactNode } from "react";

import { Problem } from "../api/client";

export interface KeptStart {
  cells: Record<string, string>;
  /** The revision at which they were seen; null for a new record. */
  revision: number | null;
}

/** A record of a small list by hand: its cells as text, and what was wrong with one. */
export function useKeptForm(start: KeptStart) {
  const [cells, setCells] = useState(start.cells);
  const [wrong, setWrong] = useState<{ field: string; text: string } | null>(null);
  const set = (column: string, value: string) => setCells((now) => ({ ...now, [column]: value }));
  /** Does it, or shows why not. */
  const act = async (work: () => Promise<unknown>) => {
    setWrong(null);
    try {
      await work();
    } catch (bad) {
      setWrong({ field: bad instanceof Problem ? bad.field : "", text: (bad as Error).message });
    }
  };
  const text = (column: string, label: string, hint = "", fixed = false) => (
    <label className="grow">
      {label}
      <Input
        aria-label={label}
        disabled={fixed}
        status={wrong?.field === column ? "error" : undefined}
        placeholder={hint}
        value={cells[column] ?? ""}
        onChange={(e) => set(column, e.target.value)}
      />
    </label>
  );
  const yes = (column: string, label: string) => (
    <Checkbox
      checked={cells[column] === "yes"}
      onChange={(e) => set(column, e.target.checked ? "yes" : "no")}
    >
      {label}
    </Checkbox>
  );
  const made = start.revision !== null;
  const changed = JSON.stringify(cells) !== JSON.stringify(start.cells);
  return { cells, set, wrong, act, text, yes, made, changed };
}

/** What is wrong, and the buttons at the end of a form. */
export function KeptEnd({
  wrong,
  send,
  leave,
  children,
}: {
  wrong: { text: string } | null;
  send: string;
  leave: () => void;
  children?: ReactNode;
}) {
  return (
    <>
      {wrong && (
        <p className="brick" role="alert">
          {wrong.text}
        </p>
      )}
      <div className="row wrap">
        <Button type="primary" htmlType="submit">
          {send}
        </Button>
        {children}
        <Button onClick={leave}>Leave it</Button>
      </div>
    </>
  );
}
