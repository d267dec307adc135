import { Button } from "antd";

import type { Row } from "./taskCell";

/** What can be said of the tasks that are chosen, or of the one that is stood on. */
export function Saying({
  tasks,
  reasons,
  why,
  setWhy,
  say,
  withHours,
}: {
  tasks: Row[];
  reasons: string[];
  /** The reason that is being chosen, while one is. */
  why: string | null;
  setWhy: (reason: string | null) => void;
  say: (tasks: Row[], to: "under way" | "done" | "not done", reason?: string | null) => void;
  withHours: () => void;
}) {
  return (
    <span className="row wrap" role="group" aria-label="Chosen tasks">
      <Button size="small" onClick={() => say(tasks, "under way")}>
        Started <kbd>S</kbd>
      </Button>
      <Button size="small" type="primary" onClick={() => say(tasks, "done")}>
        Done <kbd>E</kbd>
      </Button>
      <Button size="small" onClick={withHours}>
        With hours … <kbd>R</kbd>
      </Button>
      {why === null ? (
        <Button size="small" onClick={() => setWhy(reasons[0] ?? "other")}>
          Not done … <kbd>N</kbd>
        </Button>
      ) : (
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            say(tasks, "not done", why);
          }}
        >
          <select
            autoFocus
            className="plainselect"
            aria-label="Why not done"
            value={why}
            onChange={(e) => setWhy(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter") {
                e.preventDefault();
                say(tasks, "not done", why);
              }
              if (e.key === "Escape") setWhy(null);
            }}
          >
            {reasons.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </select>
          <Button size="small" danger htmlType="submit">
            Not done
          </Button>
        </form>
      )}
    </span>
  );
}
