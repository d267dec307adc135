"""Job plans: how a job is done, kept once and copied into WOs; their tasks, and their editions."""

from __future__ import annotations

from peewee import (
    BooleanField,
    CharField,
    Check,
    DateField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)

from nundine.store.base import JsonField, KeyField, UtcField
from nundine.store.belonging import SiteRecord, SiteTable


class JobPlan(SiteRecord):
    """`assets` holds keys of assets, `words` words of their names: what it applies to. `edition` counts how
    often it was put in force, or changed in force. `sites`: keys of other sites that it serves too, or
    "everywhere"."""

    number = KeyField(max_length=40)
    title = CharField(max_length=200)
    kind = CharField(max_length=20)
    state = CharField(max_length=16, default="being written", index=True)
    edition = IntegerField(default=1)
    valid_from = DateField(null=True)
    assets = JsonField(default=list)
    words = CharField(max_length=200, default="")
    divisible = BooleanField(default=False)
    put_back = BooleanField(default=False)
    permit = CharField(max_length=12, default="not needed")
    permits = JsonField(default=list)
    isolation = JsonField(default=list)
    description = TextField(default="")
    sites = JsonField(default=list)

    class Meta:
        indexes = ((("site", "number"), True),)


class PlanTask(SiteTable):
    """A task as WOs get it; `after`, `needs` and `tools` as the ledger keeps those of a WO's task."""

    plan = ForeignKeyField(JobPlan, backref="tasks", on_delete="CASCADE")
    number = KeyField(max_length=20)
    title = CharField(max_length=200)
    text = TextField(default="")
    hours = DoubleField(constraints=[Check("hours > 0")])
    asset_state = CharField(max_length=8, default="any")
    splittable = BooleanField(default=False)
    min_portion = DoubleField(default=1.0)
    after = JsonField(default=list)
    needs = JsonField(default=list)
    tools = JsonField(default=list)
    outside = JsonField(default=list)
    checklist = JsonField(default=list)
    parts = JsonField(default=list)

    class Meta:
        indexes = ((("plan", "number"), True),)


class PlanEdition(SiteTable):
    """A plan as it was put in force: `body` holds its `fields` and its `tasks` by number."""

    plan = ForeignKeyField(JobPlan, backref="editions", on_delete="CASCADE")
    edition = IntegerField()
    at = UtcField()
    by = CharField(max_length=120)
    body = JsonField()

    class Meta:
        indexes = ((("plan", "edition"), True),)
