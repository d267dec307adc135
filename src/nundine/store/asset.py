"""Assets as a tree, and the times when each may be touched."""

from __future__ import annotations

from peewee import BooleanField, CharField, Check, ForeignKeyField, IntegerField

from nundine.store.base import KeyField, UtcField
from nundine.store.belonging import SiteRecord
from nundine.store.site import Area

WINDOW_KINDS = ("work", "run")


class Asset(SiteRecord):
    """`limited`: may be touched in its work windows only. `serial`: the number of its maker."""

    key = KeyField(max_length=60)
    name = CharField(max_length=160)
    area = ForeignKeyField(Area, backref="assets", on_delete="RESTRICT")
    parent = ForeignKeyField("self", null=True, backref="parts", on_delete="RESTRICT")
    criticality = IntegerField(default=5, constraints=[Check("criticality BETWEEN 1 AND 10")])
    limited = BooleanField(default=False)
    one_job_at_a_time = BooleanField(default=False)
    in_store = BooleanField(default=False)
    cost_account = KeyField(max_length=40, null=True)
    maker = CharField(max_length=120, default="")
    model = CharField(max_length=80, default="")
    serial = CharField(max_length=80, default="")

    class Meta:
        indexes = ((("site", "key"), True),)


class AssetWindow(SiteRecord):
    asset = ForeignKeyField(Asset, backref="windows", on_delete="CASCADE")
    kind = CharField(max_length=8, constraints=[Check("kind IN ('work','run')")])
    start = UtcField(index=True)
    end = UtcField()
    answer = CharField(max_length=8, null=True)
    answer_by = CharField(max_length=120, null=True)
    remark = CharField(max_length=300, null=True)

    class Meta:
        indexes = ((("asset", "kind", "start"), True),)
