"""Tasks of job plans: what a WO's task says, without what becomes of it."""

from __future__ import annotations

from nundine.services.exchange.kinds import tasks
from nundine.services.exchange.kinds.kind import KEY, Column, Kind, as_read

LISTS = ("after", "needs", "tools", *tasks.LISTS)
PLANNED = tuple(c for c in tasks.KIND.columns if c.name not in ("number", "state"))

KIND = Kind(
    "plan_tasks",
    ("plan", "task"),
    (Column("plan", KEY, refers="job_plans", example="JP-1001"), *PLANNED),
    "plan task",
    names=tasks.KIND.names,
    looks_at=("plan_tasks",),
    check=tasks.check,
    check_all=tasks.check_order("plan_tasks", "plan"),
    complete=as_read(*LISTS),
)
