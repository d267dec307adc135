"""What the WOs of a week are called, and their tasks."""

from __future__ import annotations

from dataclasses import dataclass, field

from nundine.services.cache import remember
from nundine.services.week.state import WeekState
from nundine.store.work_order import Task, WorkOrder


@dataclass(frozen=True)
class Titles:
    """Of a WO that is placed, with the titles of its tasks by number."""

    title: str
    must: bool
    kind: str
    tasks: dict[str, str] = field(default_factory=dict)


def titles(state: WeekState) -> dict[str, Titles]:
    """By number; read once while work is as it is, as far as it was asked for."""
    known: dict[str, Titles] = remember(("titles", id(state.problem)), state.problem, dict)
    missing = {p.job for p in state.placements} - known.keys()
    if missing:
        known.update(_read(missing))
    return known


def _read(numbers: set[str]) -> dict[str, Titles]:
    columns = (WorkOrder.number, WorkOrder.title, WorkOrder.must, WorkOrder.kind)
    rows = WorkOrder.select(*columns).where(WorkOrder.number.in_(numbers)).tuples()
    out = {number: Titles(title, must, kind) for number, title, must, kind in rows}
    tasks = Task.select(WorkOrder.number, Task.number, Task.title).join(WorkOrder)
    for job, task, title in tasks.where(WorkOrder.number.in_(numbers)).tuples():
        out[job].tasks[task] = title
    return out
