"""The site, its areas, crafts and tools."""

from __future__ import annotations

from peewee import (
    BooleanField,
    CharField,
    Check,
    DateField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
)

from nundine.store.base import KeyField
from nundine.store.belonging import SharedRecord, Site, SiteRecord, site

__all__ = ["Area", "Craft", "Site", "Tool", "Way", "site"]


class Area(SiteRecord):
    """`planning_team`: who plans the work there."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    planning_team = CharField(max_length=60, default="")

    class Meta:
        indexes = ((("site", "key"), True),)


class Way(SiteRecord):
    """Minutes between two areas, the same both ways; `start` is the one whose key comes first."""

    start = ForeignKeyField(Area, on_delete="CASCADE")
    end = ForeignKeyField(Area, on_delete="CASCADE")
    minutes = IntegerField(constraints=[Check("minutes >= 0")])

    class Meta:
        indexes = ((("start", "end"), True),)


class Craft(SharedRecord):
    """`rate` and `overtime_rate` (None = the same) are what an hour costs. It may be planned with from
    `valid_from` to `valid_to`."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    held_back = DoubleField(default=0.0, constraints=[Check("held_back >= 0 AND held_back <= 1")])
    rate = DoubleField(default=0.0, constraints=[Check("rate >= 0")])
    overtime_rate = DoubleField(null=True, constraints=[Check("overtime_rate >= 0")])
    valid_from = DateField(null=True)
    valid_to = DateField(null=True)

    class Meta:
        indexes = ((("site", "key"), True),)


class Tool(SharedRecord):
    """A tool or a `vehicle` of which there are few."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    count = IntegerField(default=1, constraints=[Check("`count` >= 0")])
    vehicle = BooleanField(default=False)

    class Meta:
        indexes = ((("site", "key"), True),)
