"""The tasks of all work orders as a list."""

from __future__ import annotations

from dataclasses import replace

from peewee import fn

from nundine.core.lifecycle import ORDER_STATES, TASK_STATES
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, Leading, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.work.backlog_list import WORK_FIRST, with_area
from nundine.store.asset import Asset
from nundine.store.belonging import here
from nundine.store.site import Area
from nundine.store.work_order import Task, WorkOrder

KEY_AND_TASK = " / "
"""Stands between the number of a WO and that of its task."""


@listing("all tasks", "Tasks", READ)
def all_tasks(around: Around) -> Listing:
    """Of WOs in whatever state."""
    key = fn.CONCAT(WorkOrder.number, KEY_AND_TASK, Task.number)
    by_work, by_asset, by_area = _led_by()
    columns = (
        Column("key", "Task", "text", key, ("work",), width=120, weight=1,
               leading=replace(by_work, value=WorkOrder.number),
               hint="Sorted by the WO, whose tasks stand in their order"),
        Column("title", "What is done", "text", Task.title, find=True, width=240, weight=1),
        Column("text", "How", "text", Task.text, find=True, width=240, shown=False),
        Column("order", "Work", "text", WorkOrder.title, ("work",), width=220, weight=2,
               leading=by_work),
        Column("asset", "Asset", "text", Asset.name, ("work", "asset"), group=True, width=160, weight=3,
               by=WorkOrder.asset, reach=("work",), leading=by_asset),
        Column("area", "Area", "choice", Area.key, ("work", "asset", "area"), group=True, width=110,
               shown=False, choices=areas, by=WorkOrder.asset, of=with_area(), reach=("work",),
               leading=by_area),
        Column("hours", "Hours", "hours", Task.hours, total=True, width=80, weight=2),
        Column("spent", "Hours spent", "hours", Task.hours_spent, total=True, width=90, weight=4),
        Column("state", "State", "choice", Task.state, group=True, width=90, weight=2,
               choices=words(*TASK_STATES)),
        Column("order_state", "State of the WO", "choice", WorkOrder.state, ("work",), group=True, width=100,
               weight=4, choices=words(*ORDER_STATES), leading=by_work),
        Column("ended", "Done at", "moment", Task.ended, width=104, weight=4),
        Column("why", "Why not done", "text", Task.reason, group=True, width=120, shown=False),
    )  # fmt: skip
    joins = {
        "work": lambda q: q.join(WorkOrder, WORK_FIRST, on=Task.work_order == WorkOrder.id),
        "asset": lambda q: q.join(Asset, WORK_FIRST, on=WorkOrder.asset == Asset.id, src=WorkOrder),
        "area": lambda q: q.join(Area, WORK_FIRST, on=Asset.area == Area.id, src=Asset),
    }
    return Listing(columns, Task.select(), Task.id, "key", joins, whole=Task)


def _led_by() -> tuple[Leading, Leading, Leading]:
    """Tasks as their WOs lead to them, and the WOs as their assets and areas do."""
    its_tasks = {"join_type": WORK_FIRST, "on": Task.work_order == WorkOrder.id}
    its_work = {"join_type": WORK_FIRST, "on": WorkOrder.asset == Asset.id}
    its_assets = {"join_type": WORK_FIRST, "on": Asset.area == Area.id}
    work = WorkOrder.select().join(Task, **its_tasks)
    assets = Asset.select().join(WorkOrder, **its_work).join(Task, **its_tasks)
    areas = Area.select().join(Asset, **its_assets).join(WorkOrder, **its_work).join(Task, **its_tasks)
    of_site, keys = Task.site == here(), (Task.work_order, WorkOrder.asset, Asset.area)
    return (
        Leading(work.where(of_site), ("work",), keys[:1]),
        Leading(assets.where(of_site), ("work", "asset"), keys[:2]),
        Leading(areas.where(of_site), ("work", "asset", "area"), keys),
    )
