import { Input, Modal } from "antd";
import { useId, useState } from "react";

import { useBacklog } from "../api/queries";
import { useBoard } from "./keys";

interface Entry {
  name: string;
  note: string;
  run: () => void;
}

/** Everything by name: commands of this screen, and jobs. */
export function Palette({
  open,
  close,
  week,
  openJob,
}: {
  open: boolean;
  close: () => void;
  week: string;
  openJob: (number: string) => void;
}) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const list = useId();
  const board = useBoard();
  const jobs = useBacklog(week, { search: text, size: 8, page: 1 }, open && text !== "");
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const commands: Entry[] = open
    ? board
        .all()
        .filter((s) => words.every((w) => s.what.toLowerCase().includes(w)))
        .map((s) => ({ name: s.what, note: s.keys, run: s.run }))
    : [];
  const found: Entry[] = text
    ? (jobs.data?.rows ?? []).map((j) => ({
        name: `${j.number} ${j.title}`,
        note: j.asset,
        run: () => openJob(j.number),
      }))
    : [];
  const all = [...commands.slice(0, 12), ...found];
  const choose = (entry?: Entry) => {
    if (!entry) return;
    close();
    setText("");
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
        aria-label="Command or job"
        role="combobox"
        aria-expanded={all.length > 0}
        aria-controls={list}
        aria-activedescendant={all[at] && `${list}-${at}`}
        autoComplete="off"
        placeholder="Type a command or a job"
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
