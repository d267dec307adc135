import { Input, Modal } from "antd";
import { useId, useState } from "react";

import { useNavigate } from "react-router";

import { useFound, usePinned, type Hit } from "../api/lists";
import { useBoard } from "./keys";
import { weekName } from "../kit/words";
import { mostUsed, used } from "./used";

interface Entry {
  name: string;
  note: string;
  run: () => void;
}

const WEEK = /^(?:(\d{4})[- ]?)?w(\d{1,2})$/i;

/** Everything by number or words: commands of this screen, weeks, views, jobs, people and assets. */
export function Palette({
  open,
  close,
  week,
  first,
  openJob,
}: {
  open: boolean;
  close: () => void;
  week: string;
  /** The first day of the week. */
  first: string;
  openJob: (number: string) => void;
}) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const list = useId();
  const board = useBoard();
  const go = useNavigate();
  const hits = useFound(week, text, open).data ?? [];
  const pinned = usePinned(week).data ?? [];
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const commands: Entry[] = open
    ? board
        .all()
        .filter((s) => words.every((w) => s.what.toLowerCase().includes(w)))
        .map((s) => ({ name: s.what, note: s.keys, run: s.run }))
        .sort(mostUsed)
    : [];
  const places: Entry[] = [];
  const named = WEEK.exec(text.trim());
  if (named) {
    const name = `${named[1] ?? week.slice(0, 4)}-W${named[2]!.padStart(2, "0")}`;
    places.push({ name: `Week ${weekName(name)}`, note: "week", run: () => go(`/week/${name}/gather`) });
  }
  for (const v of pinned)
    if (words.length && words.every((w) => v.title.toLowerCase().includes(w)))
      places.push({
        name: v.title,
        note: `view, ${v.count}`,
        run: () => go(`/week/${week}/gather?list=${encodeURIComponent(JSON.stringify({ view: v.key }))}`),
      });
  const open_ = (h: Hit) => {
    if (h.list === "work orders") openJob(h.key);
    else if (h.list === "all tasks") openJob(h.key.slice(0, h.key.lastIndexOf(" / ")));
    else if (h.list === "job plans") go(`/work/plans?open=${encodeURIComponent(h.key)}`);
    else if (h.list === "parts") go(`/parts/stock?open=${encodeURIComponent(h.key)}`);
    else if (h.list === "buy lines") go(`/parts/requests?open=${encodeURIComponent(h.key)}`);
    else if (h.list === "purchase lines") go(`/parts/orders?open=${encodeURIComponent(h.key)}`);
    else if (h.list === "requests") go(`/work/requests?open=${encodeURIComponent(h.key)}`);
    else if (h.list === "people") go(`/week/${week}/crew?person=${encodeURIComponent(`${h.key}~${first}`)}`);
    else go(`/lists/${h.list}?find=${encodeURIComponent(h.key)}`);
  };
  const found: Entry[] = hits.map((h) => ({
    name: h.list === "people" ? h.name : `${h.key} ${h.name}`,
    note: h.note,
    run: () => open_(h),
  }));
  const all = [...places, ...(found.length ? commands.slice(0, 5) : commands.slice(0, 12)), ...found];
  const choose = (entry?: Entry) => {
    if (!entry) return;
    close();
    setText("");
    used(entry.name);
    entry.run();
  };
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      closable={false}
      width={560}
      className="palette"
      destroyOnHidden
      title={null}
    >
      <Input
        autoFocus
        aria-label="Command, job, person or asset"
        role="combobox"
        aria-expanded={all.length > 0}
        aria-controls={list}
        aria-activedescendant={all[at] && `${list}-${at}`}
        autoComplete="off"
        placeholder="A command, w50, a WO, a person, an asset"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === "ArrowDown") setAt(Math.min(at + 1, all.length - 1));
          else if (e.key === "ArrowUp") setAt(Math.max(at - 1, 0));
          else if (e.key === "Enter") choose(all[at]);
          else return;
          e.preventDefault();
        }}
      />
      <ul id={list} role="listbox" aria-label="Matches">
        {all.map((entry, n) => (
          <li
            key={entry.name + entry.note}
            id={`${list}-${n}`}
            role="option"
            aria-selected={n === at}
            className={n === at ? "at" : ""}
            onClick={() => choose(entry)}
          >
            <span>{entry.name}</span>
            <span className="soft">{entry.note}</span>
          </li>
        ))}
      </ul>
      {all.length === 0 && (
        <p className="soft" role="status" style={{ padding: "7px 10px" }}>
          Nothing by that name.
        </p>
      )}
    </Modal>
  );
}
