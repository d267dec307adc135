"""Preventive plans, the services that each means for each of its assets, and what became of them."""

from __future__ import annotations

from peewee import BooleanField, CharField, DateField, DoubleField, ForeignKeyField, IntegerField, TextField

from nundine.store.asset import Asset
from nundine.store.base import JsonField, KeyField
from nundine.store.belonging import SiteRecord, SiteTable
from nundine.store.job_plan import JobPlan
from nundine.store.request import WorkRequest
from nundine.store.work_order import WorkOrder


class PreventivePlan(SiteRecord):
    """`rungs` as `core.preventive.rung_text` writes them, the lowest first; `grid` holds the rungs of each
    task by its number; `season` the months in which it may fall due. `before` and `behind` are the
    tolerance as it is written, in days or as a share of the interval, `days_before` and `days_behind` the
    days computed from it; `notice` days or a share of the interval, `together` the days within which rungs
    are one. `raises` says as what it is raised: a WO, or a request that planners decide on.
    `correction`: points by which the priority of its WOs is corrected. Without a job plan its work is typed
    in: its description, `hours`, crew `needs` and `asset_state` as a task's."""

    number = KeyField(max_length=40)
    title = CharField(max_length=200)
    state = CharField(max_length=16, default="being written", index=True)
    kind = CharField(max_length=20, default="preventive")
    job_plan = ForeignKeyField(JobPlan, null=True, backref="preventive_plans", on_delete="RESTRICT")
    crew = CharField(max_length=160, default="")
    assets = JsonField(default=list)
    basis = CharField(max_length=10, default="fixed")
    rungs = JsonField(default=list)
    grid = JsonField(default=list)
    season = JsonField(default=list)
    outside = CharField(max_length=8, default="skip")
    together = IntegerField(default=0)
    before = CharField(max_length=8, default="0")
    behind = CharField(max_length=8, default="0")
    days_before = IntegerField(default=0)
    days_behind = IntegerField(default=0)
    notice = CharField(max_length=8, default="14")
    raises = CharField(max_length=12, default="work order")
    hours = DoubleField(null=True)
    needs = JsonField(default=list)
    asset_state = CharField(max_length=8, default="any")
    correction = DoubleField(default=0.0)
    description = TextField(default="")

    class Meta:
        indexes = ((("site", "number"), True),)


class Service(SiteTable):
    """A plan on one asset. `lasts` holds rungs with the start of their cycle and when they were last due
    and done, as days or null; `last_done`, `next_due` and `next_rungs` are computed from
    them, null where nothing is to come. `moved`: the day on which it falls due next, and the one to which
    that was moved; it holds as long as it falls due on that day."""

    plan = ForeignKeyField(PreventivePlan, backref="services", on_delete="CASCADE")
    asset = ForeignKeyField(Asset, on_delete="RESTRICT")
    held = BooleanField(default=False)
    moved = JsonField(null=True)
    lasts = JsonField(default=list)
    last_done = DateField(null=True)
    next_due = DateField(null=True, index=True)
    next_rungs = JsonField(default=list)

    class Meta:
        indexes = ((("plan", "asset"), True),)


class Occurrence(SiteTable):
    """A service that was raised: its rungs with the day on which each fell due, its WO or the request that
    asks for one, and what became of it. `lasts` are those of its service before. The key sees to it that
    none is raised twice."""

    plan = ForeignKeyField(PreventivePlan, backref="occurrences", on_delete="CASCADE")
    asset = ForeignKeyField(Asset, on_delete="RESTRICT")
    due = DateField(index=True)
    rungs = JsonField(default=list)
    state = CharField(max_length=12, default="raised", index=True)
    done = DateField(null=True)
    order = ForeignKeyField(WorkOrder, null=True, backref="occurrences", on_delete="SET NULL")
    request = ForeignKeyField(WorkRequest, null=True, backref="occurrences", on_delete="SET NULL")
    lasts = JsonField(default=list)
    reason = CharField(max_length=400, default="")

    class Meta:
        indexes = ((("plan", "asset", "due"), True),)
