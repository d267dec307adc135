"""Tasks of WOs with their order and states, and what a report of one means for the others of its WO."""

from __future__ import annotations

from collections.abc import Mapping, Set
from typing import Any

from peewee import JOIN

from nundine.core.lifecycle import BEGUN, EARLIER_FINISHED, FINISHED, LATER_NOT_BEGUN
from nundine.core.week.problem import After
from nundine.core.week.problem import Task as CoreTask
from nundine.core.work import tasks_before
from nundine.services.ledger.values import encode
from nundine.services.lifecycles import need
from nundine.services.wording.phrases import all_of
from nundine.store.work_order import Task, TaskAfter, WorkOrder

Step = tuple[str, str]
"""Number of a WO and of one of its tasks."""
PROGRESS = ("state", "hours_spent", "hours_left", "reason", "done_by", "hours_by", "ended")
"""Fields of a task in which its progress is reported."""


def tasks_of(numbers: set[str]) -> dict[Step, Task]:
    """All tasks of some WOs by their numbers, each with the numbers of those that it follows in `follows`."""
    earlier: Any = Task.alias()
    columns = (WorkOrder.number.alias("job"), earlier.number.alias("behind"))
    rows = (
        Task.select(Task, *columns)
        .join(WorkOrder)
        .join_from(Task, TaskAfter, JOIN.LEFT_OUTER, on=TaskAfter.task == Task.id)
        .join(earlier, JOIN.LEFT_OUTER, on=TaskAfter.before == earlier.id)
        .where(WorkOrder.number.in_(numbers or {""}))
        .order_by(Task.id, TaskAfter.id)
    )
    found: dict[Step, Task] = {}
    for row in rows.objects():
        task = found.setdefault((row.job, row.number), row)
        task.follows = [*getattr(task, "follows", ()), *([row.behind] if row.behind is not None else ())]
    return found


def before(
    rows: dict[Step, Task], chosen: list[Step], to: str, along: bool, done_too: Set[Step] = frozenset()
) -> list[Step]:
    """Earlier tasks that are to be reported done along with the chosen ones; `done_too` are reported done
    with them anyway.

    Raises
    ------
    Refused
        Naming the tasks, if earlier ones are not finished and are not to be taken along, or if later ones
        have begun while the chosen ones are opened again.
    """
    found: list[Step] = []
    for job in dict.fromkeys(j for j, _ in chosen):
        steps = [
            CoreTask(t.number, t.hours, after=tuple(After(n) for n in t.follows))
            for (j, _), t in rows.items()
            if j == job
        ]
        mine = {task for j, task in chosen if j == job}
        listed = all_of(sorted(mine))
        if to in BEGUN:
            left = [
                n
                for n in tasks_before(steps, mine)
                if rows[(job, n)].state not in FINISHED and (job, n) not in done_too
            ]
            if not along:
                need(EARLIER_FINISHED, f"{job} task {listed}", {"earlier": left}, job=job, tasks=left)
            found += [(job, n) for n in left]
        elif to != "skipped":
            opened = {n for n in mine if rows[(job, n)].state == "done"}
            later = [s.id for s in steps if s.id not in mine and set(tasks_before(steps, {s.id})) & opened]
            begun = [n for n in later if rows[(job, n)].state in BEGUN]
            need(LATER_NOT_BEGUN, f"task {listed}", {"later": begun, "job": job})
    return found


def progress_of(task: Mapping[str, Any]) -> dict[str, Any]:
    """What is reported of a task, as commands keep it."""
    return {k: encode(task[k]) for k in PROGRESS}
