"""The gates of WOs as SQL, for lists and for what a build is offered; `core.gates` decides the same for one
WO."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from functools import reduce
from operator import and_
from typing import Any

from peewee import Expression, Select

from nundine.core.gates import APPROVED
from nundine.core.timeline import week_monday
from nundine.store.many_ids import one_of
from nundine.store.week import Placement, Week
from nundine.store.work_order import Task, WorkOrder

OFFERED = ("plan", "parts", "permit")
"""Gates that must be open for a job to be in the week problem; people and windows are looked at by the engine
itself."""


def placed_elsewhere(week: Week) -> Select:
    """Placements in other weeks that are not closed, joined with their tasks and weeks."""
    return (
        Placement.select()
        .join(Week)
        .switch(Placement)
        .join(Task)
        .where((Placement.week != week) & (Week.status != "closed"))
    )


def gate_columns(last_day: date, free_assets: Iterable[int] = ()) -> dict[str, Any]:
    """Each gate as an SQL truth; `free_assets` are the ids of assets that may be stopped at some time of the
    week."""
    return {
        "plan": WorkOrder.planned & WorkOrder.state.in_(APPROVED),
        "parts": (~WorkOrder.parts_unknown)
        & (WorkOrder.parts_ready.is_null() | (WorkOrder.parts_ready <= last_day)),
        "people": WorkOrder.staffed == True,  # noqa: E712
        "window": (~WorkOrder.needs_stop) | one_of(WorkOrder.asset, free_assets),
        "permit": WorkOrder.permit != "waiting",
    }


def not_elsewhere(week: Week) -> Expression:
    """Whether a WO stands in no other open week."""
    return WorkOrder.id.not_in(placed_elsewhere(week).select(Task.work_order))


def offered(week: Week) -> Expression:
    """Whether a WO belongs into the week problem."""
    columns = gate_columns(last_day_of(week))
    return reduce(and_, [*(columns[g] for g in OFFERED), not_elsewhere(week)])


def last_day_of(week: Week) -> date:
    return week_monday(week.name) + timedelta(days=6)
