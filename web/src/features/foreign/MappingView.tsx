import { Alert, Button, Checkbox, Input, Radio, Select } from "antd";

import type { Shapes } from "../../api/client";
import { Side } from "../../kit/Side";
import { Hours } from "../../kit/When";
import { count, hours } from "../../kit/words";
import { Making } from "./Making";
import { usePreview, type Mapping, type Opened } from "./useForeign";

interface Props {
  opened: Opened;
  mapping: Mapping;
  change: (mapping: Mapping) => void;
  leaveOut: boolean;
  setLeaveOut: (on: boolean) => void;
  go: () => void;
  again: () => void;
}

/**
 * How the file is read: columns at the left with the first rows as understood, what is still open at the
 * right.
 */
export function MappingView({ opened, mapping, change, leaveOut, setLeaveOut, go, again }: Props) {
  const preview = usePreview(opened.id, mapping);
  const p = preview.data;
  const open = (p?.questions.length ?? 0) > 0 || (p?.orders ?? 0) === 0;
  const bad = p?.bad_rows ?? 0;
  return (
    <div className="foreign">
      <div>
        <div className="row" style={{ marginBottom: 8 }}>
          <h2 className="grow">
            {opened.file}{" "}
            <span className="soft" style={{ fontWeight: 400 }}>
              · {opened.rows} rows · {opened.read_as}
              {opened.saved ? ` · mapping “${opened.saved}”` : ""}
            </span>
          </h2>
          <Button size="small" onClick={again}>
            Another file
          </Button>
        </div>
        <Columns opened={opened} mapping={mapping} change={change} />
        <h2 style={{ margin: "16px 0 6px" }}>
          The first as they will be understood{" "}
          <span className="soft" style={{ fontWeight: 400 }}>
            {p && `· ${count(p.orders, "WO")}, ${count(p.tasks, "task")} in all`}
          </span>
        </h2>
        {preview.error && (
          <Alert
            type="error"
            showIcon
            title="It can not be read this way"
            description={preview.error.message}
          />
        )}
        {p && <Understood preview={p} opened={opened} />}
      </div>
      <Side name="How it is read">
        {p?.questions.map((q) => (
          <section key={q.what} className="box" aria-label="Question">
            <p className="strong">? {q.text}</p>
            <Radio.Group
              vertical
              style={{ marginTop: 6 }}
              onChange={(e) => change({ ...mapping, [q.what]: e.target.value })}
              value={null}
              options={q.choices}
            />
          </section>
        ))}
        {p && <Making preview={p} opened={opened} mapping={mapping} change={change} />}
        {(p?.words.length ?? 0) > 0 && (
          <Words preview={p!} opened={opened} mapping={mapping} change={change} />
        )}
        <section>
          <label>
            Keep this mapping as
            <Input
              aria-label="Name of the mapping"
              placeholder="for example: North system"
              value={mapping.name}
              maxLength={80}
              onChange={(e) => change({ ...mapping, name: e.target.value })}
            />
          </label>
          <p className="small soft" style={{ marginTop: 4 }}>
            {mapping.name
              ? "Next week's export of the same columns is read in the same way, " +
                "and WOs that vanished from it are shown."
              : "Without a name it is not kept, and WOs that vanished can not be told."}
          </p>
          {bad > 0 && p?.problems.some((x) => x.row > 0) && (
            <Checkbox
              style={{ marginTop: 8 }}
              checked={leaveOut}
              onChange={(e) => setLeaveOut(e.target.checked)}
            >
              Leave out the WOs of {count(bad, "row")} that are not understood
            </Checkbox>
          )}
          <Button
            type="primary"
            block
            style={{ marginTop: 10 }}
            disabled={!p || open || preview.isFetching || (bad > 0 && !leaveOut)}
            onClick={go}
          >
            Compare with what is here
          </Button>
        </section>
        <Formats opened={opened} mapping={mapping} change={change} />
        {p && p.notes.length > 0 && (
          <section>
            <h2>Worth knowing</h2>
            {p.notes.map((n) => (
              <p key={n} className="small soft">
                {n}
              </p>
            ))}
          </section>
        )}
        {p && p.problems.length > 0 && (
          <section>
            <h2 className="brick">
              ▲{" "}
              {p.problems.every((x) => x.row === 0)
                ? `${count(p.problems.length, "column")} to choose`
                : `${count(p.problems.length, "row")} with problems`}
            </h2>
            {p.problems.slice(0, 8).map((x) => (
              <p key={`${x.row} ${x.text}`} className="small">
                {x.row > 0 && <span className="strong">row {x.row}</span>} {x.column && `${x.column}: `}
                {x.text}
              </p>
            ))}
          </section>
        )}
      </Side>
    </div>
  );
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

function Columns({ opened, mapping, change }: Pick<Props, "opened" | "mapping" | "change">) {
  const fieldOf = (column: string) =>
    Object.entries(mapping.columns).find(([, c]) => c === column)?.[0] ?? "";
  const set = (column: string, field: string) => {
    const columns = Object.fromEntries(
      Object.entries(mapping.columns).filter(([f, c]) => c !== column && f !== field),
    );
    change({ ...mapping, columns: field ? { ...columns, [field]: column } : columns });
  };
  const fields = [
    { value: "", label: "not used" },
    ...opened.fields.map((f) => ({ value: f.name, label: f.label })),
  ];
  return (
    <div className="columns" role="group" aria-label="Columns">
      {opened.columns.map((c) => (
        <div key={c.name} className="row columnmap">
          <span className="strong cut" title={c.name}>
            {c.name}
          </span>
          <span className="soft small cut" title={c.samples.join(" · ")}>
            {c.samples.slice(0, 3).join(" · ")}
          </span>
          <Select
            size="small"
            aria-label={`Meaning of ${c.name}`}
            value={fieldOf(c.name)}
            onChange={(f) => set(c.name, f)}
            options={fields}
            popupMatchSelectWidth={160}
            style={{ width: 128 }}
            showSearch={{ optionFilterProp: "label" }}
            className={fieldOf(c.name) ? "" : "unused"}
          />
        </div>
      ))}
    </div>
  );
}

function Understood({ preview, opened }: { preview: Shapes["ForeignPreview"]; opened: Opened }) {
  const named = Object.fromEntries(opened.fields.map((f) => [f.name, f.label]));
  const shown = ["asset", "kind", "state", "due"].filter((f) => preview.rows.some((r) => r.fields[f]));
  return (
    <table className="list" aria-label="As understood">
      <colgroup>
        <col style={{ width: 40 }} />
        <col style={{ width: 116 }} />
        <col />
        {shown.map((f) => (
          <col key={f} style={{ width: f === "due" ? 128 : 84 }} />
        ))}
        <col style={{ width: "34%" }} />
      </colgroup>
      <thead>
        <tr>
          <th>Row</th>
          <th>WO</th>
          <th>Title</th>
          {shown.map((f) => (
            <th key={f}>{capital(named[f]!)}</th>
          ))}
          <th>Tasks</th>
        </tr>
      </thead>
      <tbody>
        {preview.rows.map((r) => (
          <tr key={r.number}>
            <td className="soft">{r.row}</td>
            <td>{r.number}</td>
            <td title={r.fields.title}>{r.fields.title}</td>
            {shown.map((f) => (
              <td key={f} title={r.fields[f]}>
                {r.fields[f] ?? "–"}
              </td>
            ))}
            <td title={r.tasks.map((t) => `${t.task} ${t.title}: ${hours(t.hours)}, ${t.needs}`).join("\n")}>
              {r.tasks.length === 0 ? (
                <span className="brick">▲ none understood</span>
              ) : (
                r.tasks
                  .map((t) => `${t.task}: ${hours(t.hours)} ${t.needs}${t.after ? ` after ${t.after}` : ""}`)
                  .join(" · ")
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Words({
  preview,
  opened,
  mapping,
  change,
}: { preview: Shapes["ForeignPreview"] } & Pick<Props, "opened" | "mapping" | "change">) {
  const set = (field: string, word: string, ours: string) =>
    change({
      ...mapping,
      values: { ...mapping.values, [field]: { ...mapping.values[field], [word]: ours } },
    });
  return (
    <section className="box" aria-label="Words without a meaning">
      <p className="strong">? {count(preview.words.length, "word")} without a meaning</p>
      {preview.words.slice(0, 12).map((w) => (
        <div key={w.field + w.word} className="row" style={{ marginTop: 5 }}>
          <span className="grow cut" title={`${w.label}: ${w.word}`}>
            <span className="strong">{w.word}</span>{" "}
            <span className="soft small">
              {w.label} · {count(w.rows, "row")}
            </span>
          </span>
          <Select
            size="small"
            aria-label={`${w.label} ${w.word} means`}
            placeholder="means"
            style={{ width: 104 }}
            popupMatchSelectWidth={150}
            showSearch
            onChange={(v: string) => set(w.field, w.word, v)}
            options={(opened.meanings[w.field] ?? []).map((v) => ({ value: v, label: v }))}
          />
        </div>
      ))}
      {preview.words.length > 12 && <p className="small soft">and {preview.words.length - 12} more</p>}
    </section>
  );
}

function Formats({ opened, mapping, change }: Pick<Props, "opened" | "mapping" | "change">) {
  const line = (
    label: string,
    name: "unit" | "hours_are" | "dates" | "decimals",
    options: [string, string][],
  ) => (
    <div className="row" style={{ marginTop: 5 }}>
      <span className="grow">{label}</span>
      <Select
        size="small"
        aria-label={label}
        style={{ width: 150 }}
        value={mapping[name]}
        placeholder="nothing to tell"
        onChange={(v) => change({ ...mapping, [name]: v } as Mapping)}
        options={options.map(([value, l]) => ({ value, label: l }))}
      />
    </div>
  );
  const fallback = (label: string, name: string, options: string[]) => (
    <div className="row" style={{ marginTop: 5 }}>
      <span className="grow">{label}</span>
      <Select
        size="small"
        aria-label={label}
        allowClear
        style={{ width: 150 }}
        value={mapping.defaults[name]}
        placeholder="none"
        onChange={(v?: string) => {
          const rest = { ...mapping.defaults };
          delete rest[name];
          change({ ...mapping, defaults: v ? { ...rest, [name]: v } : rest });
        }}
        options={options.map((v) => ({ value: v, label: v }))}
      />
    </div>
  );
  const missing = (label: string, name: string) => (
    <div className="row" style={{ marginTop: 5 }} key={name}>
      <span className="grow">{label}</span>
      <Hours
        bare
        empty
        width={150}
        label={label}
        placeholder="none"
        value={mapping.defaults[name] ?? ""}
        change={(v) => {
          const rest = { ...mapping.defaults };
          delete rest[name];
          change({ ...mapping, defaults: v ? { ...rest, [name]: v } : rest });
        }}
      />
    </div>
  );
  return (
    <section>
      <h2>Reading</h2>
      {mapping.dates &&
        line("Dates", "dates", [
          ["dmy", "day, month, year"],
          ["mdy", "month, day, year"],
          ["ymd", "year, month, day"],
        ])}
      {mapping.decimals &&
        line("Decimals", "decimals", [
          [",", "comma 1,5"],
          [".", "point 1.5"],
        ])}
      {line("Bare figures are", "unit", [
        ["h", "hours"],
        ["min", "minutes"],
      ])}
      {line("Hours are", "hours_are", [
        ["elapsed", "of the task"],
        ["work", "of all its people"],
      ])}
      {!mapping.columns.after && (
        <Checkbox
          style={{ marginTop: 6 }}
          checked={mapping.chain}
          onChange={(e) => change({ ...mapping, chain: e.target.checked })}
        >
          Tasks follow each other in their order
        </Checkbox>
      )}
      {fallback("Kind if missing", "kind", opened.meanings.kind ?? [])}
      {fallback("Craft if missing", "craft", opened.meanings.craft ?? [])}
      {missing("Hours if missing", "hours")}
      <details className="small" style={{ marginTop: 5 }}>
        <summary>Hours if missing, by kind of work</summary>
        {(opened.meanings.kind ?? []).map((k) => missing(capital(k), `hours ${k}`))}
      </details>
    </section>
  );
}
