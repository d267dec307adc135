"""Meters of assets, and what they were read."""

from __future__ import annotations

from peewee import BooleanField, CharField, DateField, DoubleField, ForeignKeyField

from nundine.store.asset import Asset
from nundine.store.base import KeyField
from nundine.store.belonging import SiteRecord, SiteTable


class Meter(SiteRecord):
    """Counts `unit`s on an asset and on what is part of it. `rollover`: the value at which it begins at 0
    again; null = it never does."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    asset = ForeignKeyField(Asset, backref="meters", on_delete="RESTRICT")
    unit = CharField(max_length=12)
    rollover = DoubleField(null=True)

    class Meta:
        indexes = ((("site", "key"), True),)


class Reading(SiteTable):
    """What a meter showed on a day. `fresh`: the first of a meter that was put in the place of another."""

    meter = ForeignKeyField(Meter, backref="readings", on_delete="CASCADE")
    day = DateField()
    value = DoubleField()
    fresh = BooleanField(default=False)
    by = CharField(max_length=120, default="")
    remark = CharField(max_length=400, default="")

    class Meta:
        indexes = ((("meter", "day"), True),)
