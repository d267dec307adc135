"""Assets, and their windows, as lists."""

from __future__ import annotations

from typing import Any

from peewee import JOIN, fn

from nundine.core.lifecycle import OPEN_STATES
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.asset import WINDOW_KINDS, Asset, AssetWindow
from nundine.store.preventive import PreventivePlan, Service
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder

ABOVE: Any = Asset.alias("above")


@listing("assets", "Assets", READ)
def assets(around: Around) -> Listing:
    """All assets, with the open work on each."""
    work = (
        WorkOrder.select(
            WorkOrder.asset.alias("asset"),
            fn.COUNT(WorkOrder.id).alias("jobs"),
            fn.SUM(WorkOrder.hours).alias("hours"),
        )
        .where(WorkOrder.state.in_(OPEN_STATES))
        .group_by(WorkOrder.asset)
        .alias("work")
    )
    services = (
        Service.select(Service.asset, fn.COUNT(Service.id).alias("count"))
        .join(PreventivePlan)
        .where(PreventivePlan.state == "running")
        .group_by(Service.asset)
        .alias("services")
    )
    columns = (
        Column("asset", "Asset", "text", Asset.key, find=True, width=120, weight=1),
        Column("name", "Name", "text", Asset.name, find=True, width=280, weight=1),
        Column("area", "Area", "choice", Area.key, ("area",), group=True, width=120, weight=2, choices=areas),
        Column("parent", "Part of", "text", ABOVE.name, ("above",), find=True, group=True, width=200,
        weight=3),
        Column("criticality", "Criticality", "number", Asset.criticality, group=True, width=86, weight=3),
        Column("limited", "In work windows only", "yes", Asset.limited, group=True, width=120, weight=4),
        Column("in_store", "In store", "yes", Asset.in_store, group=True, width=80, shown=False),
        Column("one_job_at_a_time", "One job at a time", "yes", Asset.one_job_at_a_time, group=True,
        width=110,
               weight=5),
        Column("maker", "Maker", "text", Asset.maker, find=True, group=True, width=120, shown=False),
        Column("model", "Model", "text", Asset.model, find=True, group=True, width=110, shown=False),
        Column("serial", "Serial number", "text", Asset.serial, find=True, width=110, shown=False),
        Column("jobs", "Open jobs", "number", work.c.jobs, ("work",), total=True, width=112, weight=2),
        Column("services", "Services", "number", services.c.count, ("services",), total=True, width=90,
               shown=False, hint="Preventive plans that are running on it"),
        Column("hours", "Open work", "hours", work.c.hours, ("work",), total=True, width=118, weight=2),
    )  # fmt: skip
    joins = {
        "services": lambda q: q.join(
            services, JOIN.LEFT_OUTER, on=Asset.id == services.c.asset_id, src=Asset
        ),
        "area": lambda q: q.join(Area, on=Asset.area == Area.id, src=Asset),
        "above": lambda q: q.join(ABOVE, JOIN.LEFT_OUTER, on=Asset.parent == ABOVE.id, src=Asset),
        "work": lambda q: q.join(work, JOIN.LEFT_OUTER, on=Asset.id == work.c.asset, src=Asset),
    }
    return Listing(columns, Asset.select(), Asset.id, "asset", joins, (Sort("asset"),))


@listing("windows", "Windows", READ)
def windows(around: Around) -> Listing:
    """Work and run windows of all assets, with what operations answered."""
    columns = (
        Column("id", "Number", "number", AssetWindow.id, width=80, shown=False),
        Column("asset", "Asset", "text", Asset.key, ("asset",), find=True, group=True, width=110, weight=1),
        Column("name", "Name", "text", Asset.name, ("asset",), find=True, width=260, weight=1),
        Column("area", "Area", "choice", Area.key, ("asset", "area"), group=True, width=120, weight=3,
        choices=areas),
        Column("kind", "Kind", "choice", AssetWindow.kind, group=True, width=90, weight=1,
               choices=words(*WINDOW_KINDS)),
        Column("start", "Start", "moment", AssetWindow.start, width=150, weight=1),
        Column("end", "End", "moment", AssetWindow.end, width=150, weight=1),
        Column("answer", "Answer", "choice", AssetWindow.answer, group=True, width=90, weight=2,
               choices=words("agreed", "refused")),
        Column("answer_by", "Answered by", "text", AssetWindow.answer_by, group=True, width=130, weight=4),
        Column("remark", "Remark", "text", AssetWindow.remark, find=True, width=180, weight=5),
    )  # fmt: skip
    joins = {
        "asset": lambda q: q.join(Asset, on=AssetWindow.asset == Asset.id, src=AssetWindow),
        "area": lambda q: q.join(Area, on=Asset.area == Area.id, src=Asset),
    }
    return Listing(columns, AssetWindow.select(), AssetWindow.id, "id", joins, (Sort("start"),))
