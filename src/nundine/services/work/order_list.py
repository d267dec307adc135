"""All work orders as a list, whatever their state."""

from __future__ import annotations

from typing import Any

from peewee import JOIN, fn

from nundine.core.lifecycle import ORDER_STATES
from nundine.core.priority import KINDS
from nundine.services.access import READ
from nundine.services.listing.choices import areas, crafts
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.work.backlog import hours_by_craft
from nundine.services.work.backlog_list import WORK_FIRST, needs_craft, with_area
from nundine.store.asset import Asset
from nundine.store.beside import Printing
from nundine.store.job_plan import JobPlan
from nundine.store.shutdown import Shutdown
from nundine.store.site import Area
from nundine.store.work_order import PERMITS, WorkOrder


@listing("work orders", "Work orders", READ)
def work_orders(around: Around) -> Listing:
    """Drafts, open, done, closed and cancelled ones alike."""
    printed = Printing.select(Printing.key, fn.MAX(Printing.at).alias("at"))
    printed = printed.where(Printing.noun == "work order").group_by(Printing.key).alias("printed")
    columns = (
        Column("number", "WO", "text", WorkOrder.number, find=True, width=92, weight=1),
        Column("title", "Work", "text", WorkOrder.title, find=True, width=260, weight=1),
        Column("asset", "Asset", "text", Asset.name, ("asset",), find=True, group=True, width=180, weight=2,
               by=WorkOrder.asset),
        Column("asset_key", "Asset's code", "text", Asset.key, ("asset",), find=True, width=90, shown=False,
               by=WorkOrder.asset),
        Column("area", "Area", "choice", Area.key, ("asset", "area"), group=True, width=110, weight=4,
               choices=areas, by=WorkOrder.asset, of=with_area()),
        Column("planning_team", "Planning team", "text", Area.planning_team, ("asset", "area"),
               group=True, width=110, shown=False, by=WorkOrder.asset, of=with_area()),
        Column("kind", "Kind", "choice", WorkOrder.kind, group=True, width=104, weight=2,
        choices=words(*KINDS)),
        Column("state", "State", "choice", WorkOrder.state, group=True, width=100, weight=1,
               choices=words(*ORDER_STATES)),
        Column("priority", "Priority", "number", WorkOrder.priority, width=80, weight=2),
        Column("must", "Must-work", "yes", WorkOrder.must, group=True, width=84, weight=4, shown=False),
        Column("hours", "Hours left", "hours", WorkOrder.hours, total=True, width=100, weight=2),
        Column("craft", "Craft", "marks", width=120, shown=False, choices=crafts, asked=needs_craft),
        Column("raised", "Raised", "day", WorkOrder.raised, width=100, weight=3),
        Column("due", "Due", "moment", WorkOrder.due, width=104, weight=2),
        Column("earliest", "Not before", "moment", WorkOrder.earliest, width=104, shown=False),
        Column("latest", "Not after", "moment", WorkOrder.latest, width=104, shown=False),
        Column("parts_ready", "Parts ready", "day", WorkOrder.parts_ready, width=100, shown=False),
        Column("parts_unknown", "Parts not known", "yes", WorkOrder.parts_unknown, group=True, width=100,
        shown=False),
        Column("permit", "Permit", "choice", WorkOrder.permit, group=True, width=100, shown=False,
               choices=words(*PERMITS)),
        Column("sub_kind", "Sub-kind", "text", WorkOrder.sub_kind, find=True, group=True, width=110,
        shown=False),
        Column("department", "Department", "text", WorkOrder.department, group=True, width=110, shown=False),
        Column("crew", "Answerable", "text", WorkOrder.crew, find=True, group=True, width=110, shown=False),
        Column("contact", "Contact", "text", WorkOrder.contact, find=True, width=120, shown=False),
        Column("cost_account", "Cost account", "text",
               fn.COALESCE(WorkOrder.cost_account, Asset.cost_account), ("asset",), group=True, width=110,
               shown=False),
        Column("correction", "Priority corrected by", "number", WorkOrder.correction, width=90, shown=False),
        Column("plan", "Job plan", "text", JobPlan.number, ("plan",), group=True, width=90, shown=False),
        Column("shutdown", "Shutdown", "text", Shutdown.key, ("shutdown",), find=True, group=True, width=90,
               shown=False),
        Column("printed", "Printed", "moment", printed.c.at, ("printed",), width=100, shown=False,
               hint="When a sheet of it was laid out last"),
        Column("source", "Came from", "text", WorkOrder.source, group=True, width=120, shown=False),
        Column("description", "Description", "text", WorkOrder.description, find=True, width=260,
        shown=False),
    )  # fmt: skip
    joins = {
        "asset": lambda q: q.join(Asset, WORK_FIRST, on=WorkOrder.asset == Asset.id, src=WorkOrder),
        "plan": lambda q: q.join(JobPlan, JOIN.LEFT_OUTER, on=WorkOrder.plan == JobPlan.id, src=WorkOrder),
        "shutdown": lambda q: q.join(
            Shutdown, JOIN.LEFT_OUTER, on=WorkOrder.shutdown == Shutdown.id, src=WorkOrder
        ),
        "printed": lambda q: q.join(
            printed, JOIN.LEFT_OUTER, on=WorkOrder.number == printed.c.key, src=WorkOrder
        ),
        "area": lambda q: q.join(Area, WORK_FIRST, on=Asset.area == Area.id, src=Asset),
    }

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        return {i: {"craft": hours} for i, hours in hours_by_craft(ids).items()}

    sort, tells = (Sort("number", True),), frozenset(("craft",))
    return Listing(
        columns, WorkOrder.select(), WorkOrder.id, "number", joins, sort, more, tells=tells, whole=WorkOrder
    )
