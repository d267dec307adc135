"""What the last uses of a job plan teach of its hours."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from nundine.core.job_plan import Learned, learned
from nundine.store.asset import Asset
from nundine.store.job_plan import JobPlan, PlanTask
from nundine.store.work_order import Task, WorkOrder

MOST_USES = 12
"""So many of the last uses are looked at: a plant and its people change."""


@dataclass(frozen=True)
class PlanUse:
    """A WO of the plan that is over: hours planned and spent of its tasks, elapsed."""

    number: str
    title: str
    asset: str
    raised: date
    planned: float
    spent: float


@dataclass(frozen=True)
class Estimate:
    """Hours as planned and as spent, of a task or of the whole plan (`task` None): median, the middle half of
    the uses from `low` to `high`, each use in `spent`, oldest first; `suggested` where it differs, `off`
    where it does by more than a third."""

    task: str | None
    title: str
    planned: float
    uses: int
    median: float
    low: float
    high: float
    spent: list[float]
    suggested: float | None
    off: bool


def uses_of(plan: JobPlan) -> tuple[list[PlanUse], list[Estimate]]:
    """The last uses, newest first, and what they teach: of the whole, then of each task."""
    tasks = list(plan.tasks.order_by(PlanTask.id))
    orders, spent = _spent(plan)
    uses = [
        PlanUse(o.number, o.title, o.asset.name, o.raised, sum(p for p, _ in hours), sum(s for _, s in hours))
        for o in orders
        for hours in [list(spent[o.id].values())]
        if hours
    ]
    whole = [sum(s for _, s in spent[o.id].values()) for o in reversed(orders) if _all_of(tasks, spent[o.id])]
    out = [_estimate(None, plan.title, sum(t.hours for t in tasks), whole)]
    for t in tasks:
        told = [spent[o.id][t.number][1] for o in reversed(orders) if t.number in spent[o.id]]
        out.append(_estimate(t.number, t.title, t.hours, told))
    return uses, [e for e in out if e is not None]


Hours = dict[str, tuple[float, float]]
"""By task hours planned and spent."""


def _spent(plan: JobPlan) -> tuple[list[WorkOrder], dict[int, Hours]]:
    """The last WOs of a plan that are over, newest first; by id the hours of their tasks that were done."""
    over = (WorkOrder.plan == plan) & WorkOrder.state.in_(("done", "closed"))
    newest = (WorkOrder.raised.desc(), WorkOrder.id.desc())
    orders = list(
        WorkOrder.select(WorkOrder, Asset).join(Asset).where(over).order_by(*newest).limit(MOST_USES)
    )
    done = (Task.state == "done") & (Task.hours_spent > 0)
    rows = Task.select(Task.work_order, Task.number, Task.hours, Task.hours_spent).where(
        Task.work_order.in_([o.id for o in orders] or [0]) & done
    )
    spent: dict[int, Hours] = defaultdict(dict)
    for order, number, planned, hours in rows.tuples():
        spent[order][number] = (planned, hours)
    return orders, spent


def _all_of(tasks: list[PlanTask], spent: Hours) -> bool:
    """Whether a use did the whole plan, so that its hours are those of the whole."""
    return bool(tasks) and {t.number for t in tasks} <= set(spent)


def _estimate(task: str | None, title: str, planned: float, spent: list[float]) -> Estimate | None:
    said: Learned | None = learned(planned, spent)
    if said is None:
        return None
    figures = (said.uses, said.median, said.low, said.high)
    return Estimate(
        task, title, planned, *figures, spent, said.suggested if task is not None else None, said.off
    )
