import { Modal, Switch } from "antd";

import { useBoard } from "./keys";

/** What `?` shows. */
export function Help({ open, close }: { open: boolean; close: () => void }) {
  const board = useBoard();
  const groups = new Map<string, [string, string][]>();
  if (open)
    for (const s of board.all())
      groups.set(s.group ?? "Everywhere", [...(groups.get(s.group ?? "Everywhere") ?? []), [s.keys, s.what]]);
  return (
    <Modal open={open} onCancel={close} footer={null} title="Keyboard" width={620}>
      <div style={{ columns: 2, columnGap: 28 }}>
        {[...groups].map(([name, list]) => (
          <section key={name} style={{ breakInside: "avoid", marginBottom: 12 }}>
            <h2>{name}</h2>
            {list.map(([keys, what]) => (
              <div
                key={keys + what}
                className="row"
                style={{ justifyContent: "space-between", padding: "2px 0" }}
              >
                <span>{what}</span>
                <kbd>{keys}</kbd>
              </div>
            ))}
          </section>
        ))}
      </div>
      <label className="row">
        <Switch size="small" checked={board.letters} onChange={board.setLetters} /> Single-letter shortcuts
      </label>
    </Modal>
  );
}
