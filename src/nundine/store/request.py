"""Work requests: what somebody saw and wants mended."""

from __future__ import annotations

from peewee import CharField, Check, ForeignKeyField, TextField

from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import JsonField, KeyField, UtcField
from nundine.store.belonging import SiteRecord
from nundine.store.work_order import WorkOrder


class WorkRequest(SiteRecord):
    """A need that somebody reported. `place` says where, of what is no asset; `account` is whoever
    reported it here, `reporter` the name of whoever did. `talk`: what was asked and answered, oldest
    first, each with `at` (ISO 8601, UTC), `by` and `text`. `order`: the WO that came of it or that it was
    joined to."""

    number = KeyField(max_length=40)
    title = CharField(max_length=200)
    asset = ForeignKeyField(Asset, null=True, backref="requests", on_delete="RESTRICT")
    place = CharField(max_length=160, default="")
    description = TextField(default="")
    urgency = CharField(max_length=14, constraints=[Check("urgency IN ('now','this week','when it fits')")])
    state = CharField(max_length=12, default="new", index=True)
    raised = UtcField(index=True)
    reporter = CharField(max_length=120, default="")
    account = ForeignKeyField(Account, null=True, on_delete="SET NULL")
    order = ForeignKeyField(WorkOrder, null=True, backref="requests", on_delete="SET NULL")
    talk = JsonField(default=list)

    class Meta:
        indexes = ((("site", "number"), True),)
