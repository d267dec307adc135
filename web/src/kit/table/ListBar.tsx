import { Button, Checkbox, Dropdown, Input, Popover } from "antd";
import { useEffect, useRef, useState, type ReactNode } from "react";

import { getFile } from "../../api/client";
import { allKeys, makeFile, type Head, type Where } from "../../api/lists";
import { useShortcuts } from "../../app/keys";
import { endOf, howFar } from "../../api/watching";
import { giveOut } from "../Download";
import { useRefusal } from "../useRefusal";
import type { Chosen } from "./chosen";
import type { ListState } from "./shown";
import { Views } from "./Views";
import { filterWords } from "./words";

const SOON = 150;

/** What a list is asked: words, view, filters that stand; its columns; files of it; what is chosen. */
export function ListBar({
  where,
  head,
  state,
  chosen,
  label,
  summary,
  children,
  actions,
}: {
  where: Where;
  head: Head;
  state: ListState;
  chosen: Chosen;
  label: string;
  /** How many rows, and their sums. */
  summary: string;
  children?: ReactNode;
  /** What can be done with the rows that are chosen. */
  actions?: ReactNode;
}) {
  const [text, setText] = useState(state.find);
  const [was, setWas] = useState(state.find);
  if (was !== state.find) {
    setWas(state.find); // a view brought other words
    setText(state.find);
  }
  const refuse = useRefusal();
  const search = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (text === state.find) return;
    const timer = setTimeout(() => state.setFind(text), SOON);
    return () => clearTimeout(timer);
  }, [text, state]);
  useShortcuts([{ keys: "/", what: `Search: ${label}`, group: "Lists", run: () => search.current?.focus() }]);
  return (
    <>
      <div className="bar listbar">
        <Input
          ref={(r) => {
            search.current = r?.input ?? null;
          }}
          allowClear
          aria-label={`Search: ${label}`}
          placeholder="Search  /"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Escape" || e.key === "Enter") e.currentTarget.blur();
          }}
          style={{ width: 150 }}
        />
        <Views head={head} state={state} />
        {children}
        <span className="grow" />
        <Columns head={head} state={state} />
        <Files where={where} state={state} />
      </div>
      <div className="chips" aria-label="Filters that stand">
        {chosen.keys.size > 0 ? (
          <>
            <span className="strong" role="status">
              {chosen.keys.size} chosen
            </span>
            <Button
              size="small"
              type="link"
              onClick={() =>
                void allKeys(where, state.question)
                  .then(chosen.add)
                  .catch((bad: unknown) => refuse("Nothing was chosen", bad))
              }
            >
              choose all
            </Button>
            <Button size="small" type="link" onClick={chosen.clear}>
              none
            </Button>
            {actions}
          </>
        ) : (
          <>
            <span className="soft" role="status">
              {summary}
            </span>
            {state.shown.group && (
              <Chip
                text={`by ${head.columns.find((c) => c.name === state.shown.group)?.label.toLowerCase()}`}
                off={() => state.set({ group: null })}
              />
            )}
            {state.shown.filters.map((f) => {
              const column = head.columns.find((c) => c.name === f.column);
              const words = column ? filterWords(column, f) : f.column;
              return <Chip key={f.column} text={words} off={() => state.filter(f.column, null)} />;
            })}
            {state.shown.filters.length > 1 && (
              <Button size="small" type="link" onClick={() => state.set({ filters: [] })}>
                take all off
              </Button>
            )}
          </>
        )}
      </div>
    </>
  );
}

function Chip({ text, off }: { text: string; off: () => void }) {
  return (
    <span className="chip">
      {text}
      <button className="plain" aria-label={`Take off: ${text}`} onClick={off}>
        ×
      </button>
    </span>
  );
}

function Columns({ head, state }: { head: Head; state: ListState }) {
  const { columns, dense } = state.shown;
  const content = (
    <div className="columnmenu" role="group" aria-label="Columns">
      {head.columns.map((c) => (
        <Checkbox
          key={c.name}
          checked={columns.includes(c.name)}
          onChange={(e) =>
            state.set({
              columns: e.target.checked ? [...columns, c.name] : columns.filter((n) => n !== c.name),
            })
          }
        >
          {c.label}
        </Checkbox>
      ))}
      <Checkbox checked={dense} onChange={(e) => state.set({ dense: e.target.checked })} className="apart">
        Low rows
      </Checkbox>
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomRight" content={content}>
      <Button>Columns</Button>
    </Popover>
  );
}

/** The list as a file, exactly as it is seen: made in the background, then given out. */
function Files({ where, state }: { where: Where; state: ListState }) {
  const refuse = useRefusal();
  const [far, setFar] = useState<string | null>(null);
  const make = async (format: "csv" | "xlsx" | "pdf") => {
    setFar("being made …");
    try {
      const asked = await makeFile(where, state.question, state.shown.columns, format);
      const made = await endOf(asked, (now) => setFar(howFar(now)));
      giveOut(await getFile(`/api/runs/${made.id}/file`));
    } catch (bad) {
      refuse("The file was not made", bad);
    } finally {
      setFar(null);
    }
  };
  return (
    <Dropdown
      trigger={["click"]}
      disabled={far !== null}
      menu={{
        items: [
          { key: "xlsx", label: "As XLSX", onClick: () => void make("xlsx") },
          { key: "csv", label: "As CSV", onClick: () => void make("csv") },
          { key: "pdf", label: "On paper (PDF)", onClick: () => void make("pdf") },
        ],
      }}
    >
      <Button>{far ?? "File"}</Button>
    </Dropdown>
  );
}
