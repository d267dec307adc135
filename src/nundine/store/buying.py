"""What is asked to be bought, and what is ordered."""

from __future__ import annotations

from peewee import BooleanField, CharField, DateField, DoubleField, ForeignKeyField, TextField

from nundine.store.base import KeyField, UtcField
from nundine.store.belonging import SiteRecord, SiteTable
from nundine.store.part import Part, Storeroom
from nundine.store.work_order import WorkOrder


class BuyRequest(SiteRecord):
    """A request to buy; `by` asked for it, `decided` is who approved or refused it."""

    number = KeyField(max_length=40)
    state = CharField(max_length=12, default="written", index=True)
    made = UtcField(index=True)
    by = CharField(max_length=120, default="")
    decided = CharField(max_length=120, default="")
    remark = TextField(default="")

    class Meta:
        indexes = ((("site", "number"), True),)


class Wanted(SiteTable):
    """What a line wants: a part, or something in words, at a price of one; for a storeroom, or straight to a
    WO; by a day."""

    line = KeyField(max_length=20)
    part = ForeignKeyField(Part, null=True, on_delete="RESTRICT")
    words = CharField(max_length=200, default="")
    quantity = DoubleField()
    price = DoubleField(null=True)
    storeroom = ForeignKeyField(Storeroom, null=True, on_delete="RESTRICT")
    order = ForeignKeyField(WorkOrder, null=True, on_delete="SET NULL")
    day = DateField(null=True)


class BuyLine(Wanted):
    """A line of a request to buy; `settled`: how it was dealt with without an order, empty = it was not."""

    request = ForeignKeyField(BuyRequest, backref="lines", on_delete="CASCADE")
    settled = CharField(max_length=120, default="")

    class Meta:
        indexes = ((("request", "line"), True),)


class Purchase(SiteRecord):
    """An order; a supplier is not needed. `placed`: the day on which it was."""

    number = KeyField(max_length=40)
    supplier = CharField(max_length=120, default="")
    state = CharField(max_length=12, default="written", index=True)
    made = UtcField(index=True)
    placed = DateField(null=True)
    by = CharField(max_length=120, default="")
    remark = TextField(default="")

    class Meta:
        indexes = ((("site", "number"), True),)


class PurchaseLine(Wanted):
    """A line of an order, of a line of a request or made from scratch. `day`: when it is expected;
    `confirmed`: the supplier says so. `noted`: how much its delivery notes say was brought; `received`: how
    much was taken in so far; `awaited`: the rest is still to come."""

    purchase = ForeignKeyField(Purchase, backref="lines", on_delete="CASCADE")
    request = ForeignKeyField(BuyRequest, null=True, backref="ordered", on_delete="SET NULL")
    request_line = KeyField(max_length=20, default="")
    confirmed = BooleanField(default=False)
    noted = DoubleField(default=0.0)
    received = DoubleField(default=0.0)
    awaited = BooleanField(default=True)

    class Meta:
        indexes = ((("purchase", "line"), True),)
