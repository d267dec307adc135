import { memo, type KeyboardEvent } from "react";

import { count, hours } from "../../kit/words";
import { beforeOf } from "./crew";
import { hoursOfTask, peopleOf } from "./network";
import type { Cells } from "./useOrders";

interface Props {
  n: number;
  task: Cells;
  open: (n: number) => void;
}

/** A task of a long job in one line; a click or Enter opens it, arrows lead from one to the next. */
export const FoldedTask = memo(function FoldedTask({ n, task: t, open }: Props) {
  const people = peopleOf(t);
  const before = beforeOf(t.after ?? "").map((b) => b.task);
  const facts = [
    hoursOfTask(t) > 0 && hours(hoursOfTask(t)),
    people > 0 && count(people, "person", "people"),
    before.length > 0 && `after ${before.join(", ")}`,
  ].filter(Boolean);
  return (
    <button type="button" className="foldedtask small" onClick={() => open(n)} onKeyDown={toNeighbour}>
      <span className="strong">{t.task}</span>
      <span dir="auto">{t.title}</span>
      <span className="soft">{facts.join(" · ")}</span>
    </button>
  );
});

function toNeighbour(e: KeyboardEvent<HTMLButtonElement>) {
  const by = e.key === "ArrowDown" ? 1 : e.key === "ArrowUp" ? -1 : 0;
  if (!by || e.altKey) return;
  e.preventDefault();
  const all = [...(e.currentTarget.parentElement?.querySelectorAll<HTMLElement>(".foldedtask") ?? [])];
  all[all.indexOf(e.currentTarget) + by]?.focus();
}
