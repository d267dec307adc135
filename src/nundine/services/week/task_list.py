"""What is placed in a week as a list: each task on its day, with its people, how it went, and what is to be
reported."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from peewee import JOIN, Case, Value, fn

from nundine.core.lifecycle import TASK_STATES
from nundine.core.priority import KINDS
from nundine.services.access import READ
from nundine.services.listing.choices import areas, crafts
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.roster import Person
from nundine.store.site import Area, Craft
from nundine.store.week import Placement, Seat, Week
from nundine.store.work_order import Task, WorkOrder


@listing("tasks", "Tasks of a week", READ)
def tasks(around: Around) -> Listing:
    """All that is placed in the week that is looked at, a row for each portion of a task."""
    over = (Placement.end < settings().now()) | (Placement.end.is_null() & (Placement.day < around.today))
    unreported = Case(None, [(over & Task.state.in_(("to do", "under way")), 1)], 0)
    key = fn.CONCAT(WorkOrder.number, Value(" "), Task.number, Value(" "), Placement.portion)

    def needs(values: tuple[str, ...]) -> Any:
        seated = Seat.select(Seat.placement).join(Craft).where(Craft.key.in_(list(values)))
        return Placement.id.in_(seated)

    def has_open(values: tuple[str, ...]) -> Any:
        found = Placement.id.in_(Seat.select(Seat.placement).where(Seat.person.is_null()))
        return found if "yes" in values else ~found

    columns = (
        Column("key", "Task of the week", "text", key, width=120, shown=False),
        Column("day", "Day", "day", Placement.day, group=True, width=92, weight=1),
        Column("start", "Start", "moment", Placement.start, width=150, weight=2),
        Column("number", "WO", "text", WorkOrder.number, find=True, width=84, weight=1),
        Column("title", "Work", "text", WorkOrder.title, find=True, width=180, weight=1),
        Column("task", "Task", "text", Task.title, find=True, width=140, weight=2),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=150, weight=3),
        Column("area", "Area", "choice", Area.key, group=True, width=96, shown=False, choices=areas),
        Column("people", "Who", "marks", width=150, weight=2),
        Column("craft", "Craft", "marks", width=110, shown=False, choices=crafts, asked=needs),
        Column("open", "Open seats", "yes", None, width=90, shown=False, asked=has_open),
        Column("state", "State", "choice", Task.state, group=True, width=96, weight=1,
               choices=words(*TASK_STATES)),
        Column("hours", "Hours planned", "hours", Task.hours, total=True, width=80, weight=2),
        Column("spent", "Hours so far", "hours", Task.hours_spent, total=True, width=80, weight=3),
        Column("left", "Hours left", "hours", Task.hours_left, total=True, width=80, shown=False),
        Column("reason", "Why not done", "text", Task.reason, group=True, width=120, weight=4),
        Column("ended", "Ended", "moment", Task.ended, width=130, shown=False),
        Column("unreported", "Not reported back", "yes", unreported, group=True, width=110, shown=False),
        Column("priority", "Priority", "number", WorkOrder.priority, width=80, shown=False),
        Column("kind", "Kind", "choice", WorkOrder.kind, group=True, width=100, shown=False,
               choices=words(*KINDS)),
        Column("must", "Must-work", "yes", WorkOrder.must, group=True, width=84, shown=False),
        Column("pinned", "Pinned", "yes", Placement.pinned, group=True, width=80, shown=False),
        Column("answer", "Operations", "text", Placement.answer, group=True, width=100, shown=False),
    )  # fmt: skip

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        rows = Seat.select(Seat.placement, Person.name, Craft.key).join(Person, JOIN.LEFT_OUTER)
        seats = rows.switch(Seat).join(Craft).where(Seat.placement.in_(ids)).order_by(Seat.position)
        who, need, empty = (
            defaultdict[int, list[str]](list),
            defaultdict[int, dict[str, float]](dict),
            set[int](),
        )
        for placement, name, craft in seats.tuples():
            who[placement].append(name or "open")
            need[placement][craft] = need[placement].get(craft, 0) + 1
            empty |= {placement} if name is None else set()
        return {i: {"people": who[i], "craft": need[i], "open": i in empty} for i in ids}

    query = (
        Placement.select()
        .join(Week)
        .switch(Placement)
        .join(Task)
        .join(WorkOrder)
        .join(Asset)
        .join(Area)
        .where(Week.name == around.week)
    )
    return Listing(columns, query, Placement.id, "key", {}, (Sort("day"), Sort("start")), more)
