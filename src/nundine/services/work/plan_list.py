"""Job plans as a list, with how often each was used and how its hours came out."""

from __future__ import annotations

from typing import Any

from peewee import JOIN, Case, fn

from nundine.core.lifecycle import PLAN_STATES
from nundine.core.priority import KINDS
from nundine.services.access import READ
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.job_plan import JobPlan, PlanTask
from nundine.store.work_order import Task, WorkOrder


@listing("job plans", "Job plans", READ)
def job_plans(around: Around) -> Listing:
    """All of them, whatever their state."""
    P = JobPlan
    tasks, uses = _tasks().alias("planned"), _uses().alias("used")
    share = Case(None, [(uses.c.hours > 0, fn.ROUND(100 * uses.c.spent / uses.c.hours))], None)
    columns = (
        Column("number", "Plan", "text", P.number, find=True, width=80, weight=1),
        Column("title", "Work", "text", P.title, find=True, width=240, weight=1),
        Column("kind", "Kind", "choice", P.kind, group=True, width=104, weight=2, choices=words(*KINDS)),
        Column("state", "State", "choice", P.state, group=True, width=92, weight=1,
               choices=words(*PLAN_STATES)),
        Column("edition", "Edition", "number", P.edition, width=70, weight=4),
        Column("words", "For assets named", "text", P.words, find=True, width=130, weight=4),
        Column("tasks", "Tasks", "number", fn.COALESCE(tasks.c.count_, 0), width=64, weight=3),
        Column("hours", "Hours", "hours", fn.COALESCE(tasks.c.hours, 0.0), width=74, weight=2,
               hint="Elapsed hours of all tasks"),
        Column("uses", "Uses", "number", fn.COALESCE(uses.c.count_, 0), width=64, weight=2,
               hint="WOs of it that are over"),
        Column("actual", "Actual %", "number", share, width=92, weight=2,
               hint="Hours spent of hours planned, over all uses"),
        Column("valid_from", "Valid from", "day", P.valid_from, width=96, shown=False),
        Column("permit", "Permit", "text", P.permit, group=True, width=100, shown=False),
        Column("description", "Description", "text", P.description, find=True, width=220, shown=False),
    )  # fmt: skip
    query = (
        P.select()
        .join(tasks, JOIN.LEFT_OUTER, on=tasks.c.plan == P.id)
        .join_from(P, uses, JOIN.LEFT_OUTER, on=uses.c.plan == P.id)
    )
    return Listing(columns, query, P.id, "number", {}, (Sort("title"),))


def _tasks() -> Any:
    """By plan, its tasks and their elapsed hours."""
    return PlanTask.select(
        PlanTask.plan.alias("plan"),
        fn.COUNT(PlanTask.id).alias("count_"),
        fn.SUM(PlanTask.hours).alias("hours"),
    ).group_by(PlanTask.plan)


def _uses() -> Any:
    """By plan, its uses that are over, and hours planned and spent of their tasks that were done."""
    return (
        WorkOrder.select(
            WorkOrder.plan.alias("plan"),
            fn.COUNT(WorkOrder.id.distinct()).alias("count_"),
            fn.SUM(Task.hours).alias("hours"),
            fn.SUM(Task.hours_spent).alias("spent"),
        )
        .join(Task)
        .where(
            WorkOrder.plan.is_null(False)
            & WorkOrder.state.in_(("done", "closed"))
            & (Task.state == "done")
            & (Task.hours_spent > 0)
        )
        .group_by(WorkOrder.plan)
    )
