import { Button, Checkbox, Input, Radio, Select } from "antd";
import { useState } from "react";

import type { Column, Filter } from "../../api/lists";
import { HOW_WORDS } from "./words";

const DAYS = [
  ["overdue", "", "today-1"],
  ["before the week", "", "week-1"],
  ["this week", "week", "week+6"],
  ["next 7 days", "today", "today+7"],
  ["next 30 days", "today", "today+30"],
] as const;

/** What one column is asked for. */
export function FilterForm({
  column,
  now,
  apply,
}: {
  column: Column;
  now: Filter | undefined;
  apply: (to: Filter | null) => void;
}) {
  const [how, setHow] = useState<Filter["how"]>(now?.how ?? column.hows[0] ?? "is");
  const [values, setValues] = useState<string[]>(now?.values ?? []);
  const bare = how === "empty" || how === "not empty";
  const two = how === "between";
  const full = bare || (two ? values.some(Boolean) : values.some((v) => v.trim() !== ""));
  const send = (to: string[] = values) =>
    apply(bare ? { column: column.name, how, values: [] } : { column: column.name, how, values: to });
  const chooses = column.kind === "choice" || column.kind === "marks";
  return (
    <form
      className="filterform"
      aria-label={`Filter ${column.label}`}
      onSubmit={(e) => {
        e.preventDefault();
        if (full) send();
      }}
    >
      {column.hint && <p className="soft small">{column.hint}</p>}
      {column.hows.length > 1 && (
        <Select
          aria-label="How"
          size="small"
          value={how}
          onChange={(to) => {
            setHow(to);
            if (to === "between" || how === "between") setValues([]);
          }}
          options={column.hows.map((h) => ({ value: h, label: HOW_WORDS[h] }))}
          style={{ width: "100%" }}
        />
      )}
      {column.kind === "yes" && (
        <Radio.Group value={values[0]} onChange={(e) => send([e.target.value as string])}>
          <Radio value="yes">yes</Radio>
          <Radio value="no">no</Radio>
        </Radio.Group>
      )}
      {chooses && !bare && (
        <Checkbox.Group
          className="choices"
          value={values}
          onChange={(to) => setValues(to as string[])}
          options={column.choices.map((c) => ({ value: c.value, label: c.label }))}
        />
      )}
      {!chooses && column.kind !== "yes" && !bare && !two && (
        <Input
          autoFocus
          aria-label={`${column.label} ${HOW_WORDS[how]}`}
          size="small"
          value={values.join(", ")}
          onChange={(e) => setValues(e.target.value.split(",").map((v) => v.trimStart()))}
          placeholder="several: with commas"
        />
      )}
      {two && (
        <div className="row">
          {["from", "to"].map((end, n) => (
            <Input
              key={end}
              autoFocus={n === 0}
              aria-label={`${column.label} ${end}`}
              size="small"
              placeholder={end}
              value={values[n] ?? ""}
              onChange={(e) => {
                const to = [values[0] ?? "", values[1] ?? ""];
                to[n] = e.target.value.trim();
                setValues(to);
              }}
            />
          ))}
        </div>
      )}
      {two && (column.kind === "day" || column.kind === "moment") && (
        <>
          <div className="row wrap">
            {DAYS.map(([name, low, high]) => (
              <Button key={name} size="small" type="link" onClick={() => send([low, high])}>
                {name}
              </Button>
            ))}
          </div>
          <p className="soft small">2026-12-01, today, today+7, week, week+6</p>
        </>
      )}
      <div className="row">
        <Button size="small" type="primary" htmlType="submit" disabled={!full}>
          Filter
        </Button>
        {now && (
          <Button size="small" onClick={() => apply(null)}>
            Take it off
          </Button>
        )}
      </div>
    </form>
  );
}
