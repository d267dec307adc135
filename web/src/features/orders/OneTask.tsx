import { Button, Dropdown, Input } from "antd";
import { memo, type KeyboardEvent } from "react";

import { Choice } from "../../kit/Choice";
import { Hours } from "../../kit/When";
import { TaskBefore } from "./TaskBefore";
import { Crew } from "./TaskCrew";
import { TaskMore } from "./TaskMore";
import { doubled, everywhere, insertedAfter, moved, TASK } from "./taskOrder";
import type { Cells } from "./useOrders";

/** Makes other tasks of those that stand. */
export type Make = (tasks: Cells[]) => Cells[];

interface Props {
  n: number;
  task: Cells;
  /** Numbers of all tasks of the job. */
  numbers: readonly string[];
  /** Tasks in their places. */
  change: (make: Make) => void;
  /** Tasks in other places: their fields are drawn anew, and the one meant has the keyboard. */
  place: (make: Make, focus: number) => void;
  wrong: string;
  first?: boolean;
  asset?: string;
  /** It was put here, or opened, just now. */
  focus: boolean;
  fixed?: string;
}

/** One task of a job as it is filled in. */
export const OneTask = memo(function OneTask(props: Props) {
  const { n, task: t, numbers, change, place, wrong, first, asset, focus, fixed } = props;
  const isOnly = numbers.length === 1;
  const set = (name: string, value: string) =>
    change((tasks) => tasks.map((one, k) => (k === n ? { ...one, [name]: value } : one)));
  const goes = { up: n > 0 && fixed === undefined, down: n < numbers.length - 1 && fixed === undefined };
  const go = (by: -1 | 1) => place((tasks) => moved(tasks, n, by), n + by);
  const byKey = (e: KeyboardEvent) => {
    if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
    e.preventDefault();
    if (e.key === "ArrowUp" ? goes.up : goes.down) go(e.key === "ArrowUp" ? -1 : 1);
  };
  const cell = (name: string, label: string, placeholder: string) => (
    <Input
      size="small"
      autoFocus={name === "title" && (focus || (!isOnly && !t.title))}
      aria-label={`${label} of task ${t.task}`}
      status={wrong === name ? "error" : undefined}
      value={t[name] ?? ""}
      placeholder={placeholder}
      onChange={(e) => set(name, e.target.value)}
    />
  );
  const items = [
    {
      key: "after",
      label: "A task after it",
      onClick: () => place((tasks) => insertedAfter(tasks, n, TASK), n + 1),
    },
    { key: "twin", label: "The same once more", onClick: () => place((tasks) => doubled(tasks, n), n + 1) },
    {
      key: "everywhere",
      label: "Its people and tools for the whole job",
      disabled: isOnly,
      onClick: () => place((tasks) => everywhere(tasks, n), n),
    },
    { key: "earlier", label: "Earlier (Alt ↑)", disabled: !goes.up, title: fixed, onClick: () => go(-1) },
    { key: "later", label: "Later (Alt ↓)", disabled: !goes.down, title: fixed, onClick: () => go(1) },
    {
      key: "off",
      label: "Take it off",
      disabled: isOnly,
      onClick: () => place((tasks) => tasks.filter((_, k) => k !== n), Math.max(0, n - 1)),
    },
  ];
  return (
    <div className="onetask" role="group" aria-label={`Task ${t.task}`} onKeyDown={byKey}>
      <div className="taskline">
        {cell("task", "Number", "10")}
        {cell("title", "What", "what is done")}
        <Hours
          bare
          empty
          first={first}
          label={`Hours of task ${t.task}`}
          wrong={wrong === "hours"}
          placeholder="1:30"
          value={t.hours ?? ""}
          change={(v) => set("hours", v)}
        />
        <Choice
          label={`Asset state of task ${t.task}`}
          hidden
          value={t.asset_state || "any"}
          change={(v) => set("asset_state", v)}
          options={["any", "stopped", "running"]}
        />
        <Dropdown trigger={["click"]} menu={{ items }}>
          <Button size="small" type="text" tabIndex={-1} aria-label={`More of task ${t.task}`}>
            ⋯
          </Button>
        </Dropdown>
      </div>
      <Crew
        task={t}
        change={(v) => set("needs", v)}
        wrong={wrong === "needs"}
        setHours={(v) => set("hours", v)}
      />
      <TaskMore task={t} asset={asset} set={set} wrong={wrong} />
      {!isOnly && <TaskBefore task={t} numbers={numbers} change={(v) => set("after", v)} />}
      {wrong === "after" && <span className="small brick">The order of the tasks does not work out.</span>}
    </div>
  );
});
