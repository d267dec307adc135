"""Tasks of job plans: what a WO's task says, without what becomes of it."""

from __future__ import annotations

from nundine.services.exchange.kinds import tasks
from nundine.services.exchange.kinds.kind import KEY, Column, Kind
from nundine.services.ledger.noun import Row

LISTS = ("after", "needs", "tools")
PLANNED = tuple(c for c in tasks.KIND.columns if c.name not in ("number", "state"))


def _complete(rows: list[Row]) -> list[Row]:
    """Lists as a file's cells are read."""

    def whole(value: object) -> object:
        return tuple(whole(v) for v in value) if isinstance(value, list) else value

    return [{**r, **{name: whole(r[name]) for name in LISTS}} for r in rows]


KIND = Kind(
    "plan_tasks",
    ("plan", "task"),
    (Column("plan", KEY, refers="job_plans", example="JP-1001"), *PLANNED),
    "plan task",
    names=tasks.KIND.names,
    looks_at=("plan_tasks",),
    check=tasks.check,
    check_all=tasks.check_order("plan_tasks", "plan"),
    complete=_complete,
)
