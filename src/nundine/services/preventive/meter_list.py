"""The meters of assets as a list, each with its last reading."""

from __future__ import annotations

from peewee import JOIN, fn

from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.asset import Asset
from nundine.store.meter import Meter, Reading
from nundine.store.site import Area


@listing("meters", "Meters", READ)
def meters(_: Around) -> Listing:
    """Whatever they count."""
    newest = Reading.select(Reading.meter, fn.MAX(Reading.day).alias("day")).group_by(Reading.meter)
    newest = newest.alias("newest")
    last = Reading.alias("last")
    columns = (
        Column("meter", "Meter", "text", Meter.key, find=True, width=110, weight=1),
        Column("name", "What it counts", "text", Meter.name, find=True, group=True, width=180, weight=2),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=220, weight=1),
        Column("area", "Area", "choice", Area.key, group=True, width=100, weight=4, choices=areas),
        Column("value", "Last reading", "number", last.value, width=110, weight=1),
        Column("unit", "Unit", "text", Meter.unit, group=True, width=70, weight=2),
        Column("read", "Read on", "day", last.day, width=100, weight=1),
        Column("by", "Read by", "text", last.by, find=True, group=True, width=140, weight=4),
        Column("rollover", "Begins again at", "number", Meter.rollover, width=110, shown=False),
    )
    query = (
        Meter.select()
        .join(Asset)
        .join(Area)
        .join_from(Meter, newest, JOIN.LEFT_OUTER, on=(newest.c.meter_id == Meter.id))
        .join_from(Meter, last, JOIN.LEFT_OUTER, on=((last.meter == Meter.id) & (last.day == newest.c.day)))
    )
    return Listing(columns, query, Meter.id, "meter", {}, (Sort("read"),))
