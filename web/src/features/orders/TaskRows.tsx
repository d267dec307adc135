import { Button } from "antd";
import { useCallback, useDeferredValue, useLayoutEffect, useMemo, useRef, useState } from "react";

import { hours, money } from "../../kit/words";
import { FoldedTask } from "./FoldedTask";
import { Network } from "./Network";
import { costOf, networkOf, workOf } from "./network";
import { OneTask, type Make } from "./OneTask";
import { renumbered, TASK } from "./taskOrder";
import { useChoices, type Cells } from "./useOrders";

/** Of more tasks than these all but the one that is worked at stand in a line each. */
const MOST_OPEN = 8;

interface Props {
  tasks: Cells[];
  setTasks: (tasks: Cells[]) => void;
  /** The field that the server refused, `tasks.0.hours`. */
  wrong: string;
  /** The hours of the first task have the focus as they appear. */
  first?: boolean;
  /** The asset of the work, whose parts are offered first. */
  asset?: string;
  /** Why tasks keep their numbers and places, where they do: some are placed or begun. */
  fixed?: string;
}

/** The tasks of a WO: what is done, how long, who it takes, and what comes before. */
export function TaskRows({ tasks, setTasks, wrong, first, fixed, asset }: Props) {
  const [drawn, setDrawn] = useState({ time: 0, focus: -1 });
  const [opened, setOpened] = useState(0);
  const folds = tasks.length > MOST_OPEN;
  const latest = useRef({ tasks, setTasks });
  useLayoutEffect(() => {
    latest.current = { tasks, setTasks };
  });
  const change = useCallback((make: Make) => {
    const now = make(latest.current.tasks);
    latest.current.tasks = now;
    latest.current.setTasks(now);
  }, []);
  const open = useCallback((n: number) => {
    setOpened(n);
    setDrawn((was) => ({ ...was, focus: n }));
  }, []);
  const place = useCallback(
    (make: Make, focus: number) => {
      setDrawn((was) => ({ time: was.time + 1, focus }));
      if (focus >= 0) setOpened(focus);
      change(make);
    },
    [change],
  );
  const said = tasks.map((t) => t.task ?? "").join("\n");
  const numbers = useMemo(() => said.split("\n"), [said]);
  const add = () => {
    setOpened(tasks.length);
    change(withOneMore);
  };
  const calm = useDeferredValue(tasks);
  return (
    <div role="group" aria-label="Tasks">
      <div className="taskline soft small" aria-hidden>
        <span>Task</span>
        <span>What</span>
        <span>Hours</span>
        <span>Asset</span>
        <span />
      </div>
      {tasks.map((t, n) => {
        const its = `tasks.${n}.`;
        return folds && n !== opened && !wrong.startsWith(its) ? (
          <FoldedTask key={`${drawn.time} ${n}`} n={n} task={t} open={open} />
        ) : (
          <OneTask
            key={`${drawn.time} ${n} open`}
            n={n}
            task={t}
            numbers={numbers}
            change={change}
            place={place}
            focus={n === drawn.focus}
            wrong={wrong.startsWith(its) ? wrong.slice(its.length) : ""}
            first={first && n === 0}
            fixed={fixed}
            asset={asset}
          />
        );
      })}
      <div className="row" style={{ marginTop: 6 }}>
        <Button size="small" onClick={add}>
          One more task
        </Button>
        {tasks.length > 1 && (
          <Button
            size="small"
            disabled={fixed !== undefined}
            title={fixed ?? "Number them 10, 20, 30"}
            onClick={() => place(renumbered, -1)}
          >
            10, 20, 30
          </Button>
        )}
        <Sum tasks={calm} />
      </div>
      <Network tasks={calm} />
    </div>
  );
}

/** An empty task at the end, which follows the last and takes whom it takes. */
function withOneMore(tasks: Cells[]): Cells[] {
  const last = tasks.at(-1);
  const task = String(10 + Math.max(0, ...tasks.map((t) => Number(t.task) || 0)));
  const like = { needs: last?.needs ?? "", asset_state: last?.asset_state ?? "any" };
  return [...tasks, { ...TASK, ...like, task, after: last?.task ?? "" }];
}

/** What all tasks take together, live: work, and hours from the first to the last by the longest way. */
function Sum({ tasks }: { tasks: Cells[] }) {
  const { hours: elapsed, critical, circle } = networkOf(tasks);
  const { rates, currency } = useChoices();
  const work = tasks.reduce((all, t) => all + workOf(t), 0);
  const cost = tasks.reduce((all, t) => all + costOf(t, rates), 0);
  if (circle.length)
    return (
      <span className="brick small" role="status">
        Tasks {circle.join(", ")} wait for one another.
      </span>
    );
  if (!elapsed) return null;
  return (
    <span className="soft small" role="status">
      {hours(work)} of work{cost > 0 && `, ${money(cost, currency)}`}, {hours(elapsed)} from first to last
      {tasks.length > 1 && ` (${critical.join(", ")})`}
    </span>
  );
}
