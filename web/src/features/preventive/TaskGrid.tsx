import type { Shapes } from "../../api/client";
import { gridCell, gridOf } from "./rungs";

/** Which tasks of the job plan each rung does: tasks by rungs. A task with no mark belongs to every rung. */
export function TaskGrid({
  tasks,
  rungs,
  cell,
  change,
}: {
  tasks: Shapes["PlanTaskName"][];
  rungs: string[];
  cell: string;
  change: (cell: string) => void;
}) {
  if (rungs.length < 2 || !tasks.length) return null;
  const grid = gridOf(cell);
  const toggle = (task: string, rung: string) => {
    const has = grid.get(task) ?? [...rungs];
    const now = has.includes(rung)
      ? has.filter((r) => r !== rung)
      : rungs.filter((r) => r === rung || has.includes(r));
    const next = new Map(grid);
    if (now.length === 0 || now.length === rungs.length) next.delete(task);
    else next.set(task, now);
    change(gridCell(next));
  };
  return (
    <table className="plain taskgrid" aria-label="Tasks by rungs">
      <thead>
        <tr>
          <th scope="col">Task</th>
          {rungs.map((r) => (
            <th key={r} scope="col">
              {r}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {tasks.map((t) => (
          <tr key={t.task}>
            <th scope="row">
              {t.task} <span dir="auto">{t.title}</span>
            </th>
            {rungs.map((r) => (
              <td key={r}>
                <input
                  type="checkbox"
                  aria-label={`Task ${t.task} in ${r}`}
                  checked={(grid.get(t.task) ?? rungs).includes(r)}
                  onChange={() => toggle(t.task, r)}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
