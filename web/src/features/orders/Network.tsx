import { count, hours } from "../../kit/words";
import { beforeOf } from "./crew";
import { hoursOfTask, networkOf } from "./network";
import type { Cells } from "./useOrders";

const WIDTH = 470;
const ROW = 18;
const LEFT = 34;

/**
 * The tasks along their hours, each from when it can begin; lines lead from what comes before, the longest
 * way is dark.
 */
export function Network({ tasks }: { tasks: Cells[] }) {
  const { hours: all, critical, circle, starts } = networkOf(tasks);
  if (tasks.length < 2 || circle.length > 0 || !all) return null;
  const x = (h: number) => LEFT + ((WIDTH - LEFT - 4) * h) / all;
  const row = new Map(tasks.map((t, n) => [t.task ?? "", n]));
  const y = (n: number) => n * ROW + ROW / 2;
  const end = (t: Cells) => starts.get(t.task ?? "")! + hoursOfTask(t);
  const isCritical = (t: Cells) => critical.includes(t.task ?? "");
  const said = `${count(tasks.length, "task")} over ${hours(all)}; the longest way is ${critical.join(", ")}`;
  return (
    <div className="network" tabIndex={0} role="group" aria-label="The tasks along their hours">
      <svg width={WIDTH} height={tasks.length * ROW} role="img" aria-label={said}>
        <title>{said}</title>
        {tasks.flatMap((t, n) =>
          beforeOf(t.after ?? "").map((b) => {
            const from = row.get(b.task);
            if (from === undefined) return null;
            const [ax, bx] = [x(end(tasks[from]!)), x(starts.get(t.task ?? "")!)];
            return (
              <path
                key={`${b.task} ${t.task}`}
                d={`M${ax} ${y(from)} H${(ax + bx) / 2} V${y(n)} H${bx}`}
                fill="none"
                stroke={isCritical(t) && isCritical(tasks[from]!) ? "var(--verdigris)" : "var(--glass)"}
              />
            );
          }),
        )}
        {tasks.map((t, n) => (
          <g key={n}>
            <text x={0} y={y(n) + 4} fontSize={11} fill="var(--soft)">
              {t.task}
            </text>
            <rect
              x={x(starts.get(t.task ?? "")!)}
              y={y(n) - 5}
              width={Math.max(3, x(end(t)) - x(starts.get(t.task ?? "")!))}
              height={10}
              rx={2}
              fill={isCritical(t) ? "var(--verdigris)" : "var(--sheet)"}
              stroke="var(--verdigris)"
            >
              <title>{`${t.task} ${t.title}: ${hours(hoursOfTask(t))}`}</title>
            </rect>
          </g>
        ))}
      </svg>
    </div>
  );
}
