"""The backlog of a week as a list: WOs that are open, their gates for the week, where they stand in it."""

from __future__ import annotations

from collections.abc import Callable
from functools import reduce
from operator import or_
from typing import Any

from peewee import JOIN, Case, fn

from nundine.core.gates import GATES, gates
from nundine.core.gates import is_ready as ready_for
from nundine.core.lifecycle import OPEN_STATES, TO_DO
from nundine.core.priority import KINDS
from nundine.services.access import READ
from nundine.services.listing.choices import areas, crafts
from nundine.services.listing.column import Column, by_truth, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.week.state import WeekState, load_state
from nundine.services.work.backlog import gate_truths, hours_by_craft, is_ready
from nundine.services.work.gates import facts_by_id
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.gates import last_day_of, placed_elsewhere
from nundine.store.site import Area, Craft
from nundine.store.week import Placement, Seat, Week
from nundine.store.work_order import PERMITS, Task, WorkOrder

BACKLOG = "backlog"
WORK_FIRST = "STRAIGHT_JOIN"
"""So joined, the database does not go from the assets to their work; each WO has an asset and an area."""


@listing(BACKLOG, "Backlog", READ)
def backlog(around: Around) -> Listing:
    """Open WOs, for the week that is looked at."""
    return backlog_of(load_state(around.week), around)


def backlog_of(state: WeekState, around: Around) -> Listing:
    """The list for a week that was read."""
    truths = gate_truths(state)
    placed, elsewhere = _placed(state), _elsewhere(state)
    open_seats, overdue = _open_seats(state), _not_reported(state, around)

    is_open = is_ready(state)

    def asked_shut(values: tuple[str, ...]) -> Any:
        return reduce(or_, [~truths[v] for v in values if v in truths] or [WorkOrder.id.is_null()])

    columns = (
        Column("priority", "Pri", "number", WorkOrder.priority, width=66, weight=1),
        Column("number", "WO", "text", WorkOrder.number, find=True, width=84, weight=1),
        Column("title", "Work", "text", WorkOrder.title, find=True, width=170, weight=1),
        Column("asset", "Asset", "text", Asset.name, ("asset",), find=True, group=True, width=118, weight=2,
               by=WorkOrder.asset),
        Column("asset_key", "Asset's code", "text", Asset.key, ("asset",), find=True, width=90, shown=False,
               by=WorkOrder.asset),
        Column("area", "Area", "choice", Area.key, ("asset", "area"), group=True, width=96, shown=False,
               choices=areas, by=WorkOrder.asset, of=with_area()),
        Column("gates", "Gates", "marks", width=102, weight=2, choices=words(*GATES), asked=asked_shut,
               hint="which of its gates are shut"),
        Column("ready", "Ready", "yes", Case(None, [(is_open, 1)], 0), group=True, width=64,
        shown=False, asked=by_truth(is_open)),
        Column("hours", "Hours", "hours", WorkOrder.hours, total=True, width=100, weight=2),
        Column("craft", "Craft", "marks", width=110, shown=False, choices=crafts, asked=needs_craft,
               hint="crafts that it needs"),
        Column("due", "Due", "moment", WorkOrder.due, width=100, weight=2),
        Column("raised", "Raised", "day", WorkOrder.raised, width=96, weight=4),
        Column("kind", "Kind", "choice", WorkOrder.kind, group=True, width=100, weight=4, shown=False,
               choices=words(*KINDS)),
        Column("must", "Must-work", "yes", WorkOrder.must, group=True, width=84, shown=False),
        Column("state", "State", "choice", WorkOrder.state, group=True, width=96, shown=False,
               choices=words(*OPEN_STATES)),
        Column("placed", "In week", "day", placed.c.day, ("placed",), group=True, width=80, weight=2),
        Column("open_seats", "Open seats", "number", open_seats.c.seats, ("open_seats",), total=False,
        width=92,
               shown=False, hint="seats in this week that nobody fills"),
        Column("not_reported", "Not reported", "number", overdue.c.tasks, ("not_reported",), width=104,
        shown=False,
               hint="tasks whose time in this week is over and of which nobody has said how they went"),
        Column("elsewhere", "In another week", "text", elsewhere.c.name, ("elsewhere",), width=110,
        shown=False),
        Column("earliest", "Not before", "moment", WorkOrder.earliest, width=104, shown=False),
        Column("latest", "Not after", "moment", WorkOrder.latest, width=104, shown=False),
        Column("parts_ready", "Parts ready", "day", WorkOrder.parts_ready, width=96, shown=False),
        Column("permit", "Permit", "choice", WorkOrder.permit, group=True, width=96, shown=False,
               choices=words(*PERMITS)),
        Column("source", "Came from", "text", WorkOrder.source, width=110, shown=False),
    )  # fmt: skip
    query = WorkOrder.select().where(WorkOrder.state.in_(OPEN_STATES))
    joins = {
        "asset": lambda q: q.join(Asset, WORK_FIRST, on=WorkOrder.asset == Asset.id),
        "area": lambda q: q.join(Area, WORK_FIRST, on=Asset.area == Area.id),
        "placed": lambda q: q.join(
            placed, JOIN.LEFT_OUTER, on=WorkOrder.id == placed.c.work_order, src=WorkOrder
        ),
        "elsewhere": lambda q: q.join(
            elsewhere, JOIN.LEFT_OUTER, on=WorkOrder.id == elsewhere.c.work_order, src=WorkOrder
        ),
    }

    joins |= {name: _beside(table) for name, table in (("open_seats", open_seats), ("not_reported", overdue))}

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        last_day, hours = last_day_of(state.week), hours_by_craft(ids)
        return {
            i: {
                "gates": [gate for gate, is_open in gates(facts, last_day).items() if not is_open],
                "ready": ready_for(facts, last_day),
                "craft": hours.get(i, {}),
            }
            for i, facts in facts_by_id(state, ids).items()
        }

    sort, tells = (Sort("priority", down=True),), frozenset(("gates", "ready", "craft"))
    return Listing(columns, query, WorkOrder.id, "number", joins, sort, more, tells=tells, whole=WorkOrder)


def with_area() -> Any:
    """Assets with their areas."""
    return Asset.select().join(Area)


def _placed(state: WeekState) -> Any:
    """The first day of each WO that stands in the week."""
    rows = Placement.select(Task.work_order.alias("work_order"), fn.MIN(Placement.day).alias("day")).join(
        Task
    )
    return rows.where(Placement.week == state.week).group_by(Task.work_order).alias("placed")


def _beside(table: Any) -> Callable[[Any], Any]:
    """Joins WOs with a table that has a row for some of them."""
    return lambda q: q.join(table, JOIN.LEFT_OUTER, on=WorkOrder.id == table.c.work_order, src=WorkOrder)


def _open_seats(state: WeekState) -> Any:
    """Seats of each WO in the week that nobody fills."""
    rows = Seat.select(Task.work_order.alias("work_order"), fn.COUNT(Seat.id).alias("seats"))
    rows = rows.join(Placement).join(Task).where((Placement.week == state.week) & Seat.person.is_null())
    return rows.group_by(Task.work_order).alias("open_seats")


def _not_reported(state: WeekState, around: Around) -> Any:
    """Tasks of each WO in the week whose time is over, and which are neither done nor skipped."""
    over = (Placement.end < settings().now()) | (Placement.end.is_null() & (Placement.day < around.today))
    rows = Placement.select(
        Task.work_order.alias("work_order"), fn.COUNT(Task.id.distinct()).alias("tasks")
    ).join(Task)
    rows = rows.where((Placement.week == state.week) & over & Task.state.in_(TO_DO))
    return rows.group_by(Task.work_order).alias("not_reported")


def _elsewhere(state: WeekState) -> Any:
    """The first of the other open weeks in which each WO stands."""
    rows = placed_elsewhere(state.week).select(
        Task.work_order.alias("work_order"), fn.MIN(Week.name).alias("name")
    )
    return rows.group_by(Task.work_order).alias("elsewhere")


def needs_craft(values: tuple[str, ...]) -> Any:
    """Whether a WO needs one of these crafts, by their keys."""
    asked = Craft.select(Craft.id).where(Craft.key.in_(list(values)))
    return reduce(or_, [WorkOrder.crafts ** f"%,{c.id},%" for c in asked] or [WorkOrder.id.is_null()])
