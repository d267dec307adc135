"""Kinds of permit, and those that WOs have asked for and been given."""

from __future__ import annotations

from peewee import CharField, ForeignKeyField

from nundine.store.base import KeyField, UtcField
from nundine.store.belonging import SiteRecord
from nundine.store.work_order import WorkOrder


class PermitKind(SiteRecord):
    """What is permitted: work at height, hot work. `asks` says what whoever gives it looks at."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    asks = CharField(max_length=400, default="")

    class Meta:
        indexes = ((("site", "key"), True),)


class Permit(SiteRecord):
    """A permit of one kind for a WO: asked for, given for a time, or refused; `by` said so last, `at` that
    time, with a `remark`."""

    work_order = ForeignKeyField(WorkOrder, backref="asked_permits", on_delete="CASCADE")
    kind = KeyField(max_length=40)
    state = CharField(max_length=12, default="asked")
    valid_from = UtcField(null=True)
    valid_to = UtcField(null=True)
    by = CharField(max_length=120, default="")
    at = UtcField(null=True)
    remark = CharField(max_length=400, default="")

    class Meta:
        indexes = ((("work_order", "kind"), True),)
