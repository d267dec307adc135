"""Parts, the storerooms that hold them, what moved, and which assets use them."""

from __future__ import annotations

from peewee import (
    BooleanField,
    CharField,
    DateField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)

from nundine.store.asset import Asset
from nundine.store.base import JsonField, KeyField, UtcField
from nundine.store.belonging import SiteRecord, SiteTable
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder


class Storeroom(SiteRecord):
    """Where parts lie; in an area, or null = beside all."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    area = ForeignKeyField(Area, null=True, on_delete="RESTRICT")

    class Meta:
        indexes = ((("site", "key"), True),)


class Part(SiteRecord):
    """`price` of a unit as it is usually paid; `valued` says what it costs a job: the average that was paid,
    or that price. `lead_days` until it is there when bought, null = it can't be. `minimum`: below it, it is
    bought, `reorder` at once. `alternates`: parts that do instead, each with whether this one does for them
    too. `tracked`: its movements are kept; others are consumables. `must_use`: what is planned of it is used.
    `blocked`: none is handed out. `on_hand` and `average` follow from its movements."""

    key = KeyField(max_length=40)
    name = CharField(max_length=200)
    unit = CharField(max_length=12, default="pcs")
    group = CharField(max_length=60, default="", index=True)
    maker = CharField(max_length=120, default="")
    maker_number = CharField(max_length=80, default="")
    price = DoubleField(null=True)
    valued = CharField(max_length=10, default="average")
    lead_days = IntegerField(null=True)
    minimum = DoubleField(default=0.0)
    reorder = DoubleField(null=True)
    alternates = JsonField(default=list)
    tracked = BooleanField(default=True)
    must_use = BooleanField(default=True)
    blocked = BooleanField(default=False)
    description = TextField(default="")
    on_hand = DoubleField(default=0.0)
    average = DoubleField(null=True)

    class Meta:
        indexes = ((("site", "key"), True),)


class AssetPart(SiteTable):
    """A part of an asset: how many are in it, and where."""

    asset = ForeignKeyField(Asset, backref="parts", on_delete="CASCADE")
    part = ForeignKeyField(Part, backref="used_on", on_delete="CASCADE")
    quantity = DoubleField(default=1.0)
    remark = CharField(max_length=200, default="")

    class Meta:
        indexes = ((("asset", "part"), True),)


class Movement(SiteTable):
    """Parts that came to a place (quantity > 0) or left it, in the order of `at`, then of their numbers.

    Without a storeroom they went straight to their WO. `purchase`: the line of an order with which they came,
    as `P-1001/10`.
    """

    number = KeyField(max_length=40)
    at = UtcField(index=True)
    kind = CharField(max_length=12)
    part = ForeignKeyField(Part, backref="movements", on_delete="RESTRICT")
    storeroom = ForeignKeyField(Storeroom, null=True, backref="movements", on_delete="RESTRICT")
    shelf = KeyField(max_length=40, default="")
    lot = KeyField(max_length=40, default="")
    quantity = DoubleField()
    price = DoubleField(null=True)
    order = ForeignKeyField(WorkOrder, null=True, backref="movements", on_delete="SET NULL")
    by = CharField(max_length=120, default="")
    reason = CharField(max_length=400, default="")
    purchase = KeyField(max_length=64, default="", index=True)

    class Meta:
        indexes = ((("site", "number"), True), (("part", "at"), False))


class Stock(SiteTable):
    """What lies where, as it follows from the movements."""

    part = ForeignKeyField(Part, backref="stock", on_delete="CASCADE")
    storeroom = ForeignKeyField(Storeroom, backref="stock", on_delete="CASCADE")
    shelf = KeyField(max_length=40, default="")
    lot = KeyField(max_length=40, default="")
    on_hand = DoubleField()

    class Meta:
        indexes = ((("part", "storeroom", "shelf", "lot"), True),)


class PartNeed(SiteTable):
    """What a task of an open WO needs of a part, as the task says, and what becomes of it: how much was
    handed out, how much is reserved, from which day the rest is there (null = nobody knows), how, and by
    which receipt or alternate. All of it is computed."""

    order = ForeignKeyField(WorkOrder, backref="part_needs", on_delete="CASCADE")
    task = KeyField(max_length=20)
    part = ForeignKeyField(Part, backref="needs", on_delete="RESTRICT")
    quantity = DoubleField()
    storeroom = ForeignKeyField(Storeroom, null=True, on_delete="SET NULL")
    must = BooleanField(default=True)
    given = DoubleField(default=0.0)
    reserved = DoubleField(default=0.0)
    day = DateField(null=True)
    how = CharField(max_length=12, default="unknown")
    name = CharField(max_length=60, default="")

    class Meta:
        indexes = ((("order", "task", "part"), True),)
