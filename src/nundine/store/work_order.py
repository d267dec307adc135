"""Work orders with their tasks, crew needs and order."""

from __future__ import annotations

from peewee import (
    SQL,
    BooleanField,
    CharField,
    Check,
    DateField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    TextField,
)

from nundine.core.lifecycle import OPEN_STATES, ORDER_STATES, TASK_STATES
from nundine.store.asset import Asset
from nundine.store.base import JsonField, KeyField, UtcField
from nundine.store.belonging import SiteRecord, SiteTable
from nundine.store.job_plan import JobPlan
from nundine.store.shutdown import Shutdown
from nundine.store.site import Craft, Tool

STATES = ORDER_STATES
__all__ = [
    "OPEN_STATES",
    "PERMITS",
    "STATES",
    "TASK_STATES",
    "CrewNeed",
    "Task",
    "TaskAfter",
    "TaskTool",
    "WorkOrder",
]
PERMITS = ("not needed", "waiting", "granted")


class WorkOrder(SiteRecord):
    """`priority`, `hours` (work hours left) and `crafts` (ids of those that its tasks need, each between
    commas) are computed when the WO changes, so that lists sort and filter in the database.

    `put_back`: the asset goes back into service between tasks. `source` names the mapping through which it
    came from another system, `imported` holds what was brought in last: so a later export tells apart what
    changed there from what was changed here. `plan` and `plan_edition`: the job plan that it was made of;
    `plan_from` that of another site, as `JP-1001 of north`.
    `shutdown`: the one in which it is done. `kit`: the place where its parts were set aside.

    `sub_kind` is the site's own word under its kind, `crew` or a person is answerable for it, `contact` knows
    more. `cost_account`: what pays for it, where not that of its asset. `correction`: points that a planner
    added to its priority. `permits`: kinds of permit that it needs, `permit` sums up how far they are;
    `isolation`: points that are shut off and locked for it. `shares`: other assets that bear a
    part of its cost, each with its percent. `cost_planned`, `cost_actual` (cents) and `charges` (cents by
    account) are kept when it is closed.
    """

    number = KeyField(max_length=40)
    title = CharField(max_length=200)
    asset = ForeignKeyField(Asset, backref="work_orders", on_delete="RESTRICT")
    kind = CharField(max_length=20, index=True)
    state = CharField(max_length=12, default="approved")
    raised = DateField()
    priority = DoubleField(default=0.0, index=True)
    must = BooleanField(default=False)
    divisible = BooleanField(default=False)
    put_back = BooleanField(default=False)
    earliest = UtcField(null=True)
    due = UtcField(null=True, index=True)
    latest = UtcField(null=True)
    parts_ready = DateField(null=True)
    parts_unknown = BooleanField(default=False)
    permit = CharField(max_length=12, default="not needed")
    permits = JsonField(default=list)
    isolation = JsonField(default=list)
    description = TextField(default="")
    hours = DoubleField(default=0.0, index=True)
    planned = BooleanField(default=False)
    staffed = BooleanField(default=True)
    needs_stop = BooleanField(default=False)
    crafts = CharField(max_length=400, default="")
    source = CharField(max_length=80, null=True, index=True)
    imported = JsonField(null=True)
    sub_kind = CharField(max_length=40, default="")
    department = CharField(max_length=60, default="")
    crew = CharField(max_length=160, default="")
    contact = CharField(max_length=120, default="")
    cost_account = KeyField(max_length=40, null=True)
    correction = DoubleField(default=0.0)
    shares = JsonField(default=list)
    cost_planned = IntegerField(null=True)
    cost_actual = IntegerField(null=True)
    charges = JsonField(null=True)
    plan = ForeignKeyField(JobPlan, null=True, backref="orders", on_delete="SET NULL")
    plan_edition = IntegerField(null=True)
    plan_from = CharField(max_length=100, default="")
    shutdown = ForeignKeyField(Shutdown, null=True, backref="orders", on_delete="SET NULL")
    kit = CharField(max_length=60, default="")

    class Meta:
        indexes = (
            (("site", "number"), True),
            (("number", "site"), False),
            (("site", "priority"), False),
            (("site", "title"), False),
            (("site", "kit"), False),
            (("site", "state", "hours"), False),
            (("site", "state", "asset", "kind", "hours"), False),
            (("asset", "raised", "kind"), False),
        )


WorkOrder.add_index(SQL("CREATE FULLTEXT INDEX `work_order_words` ON `work_order` (`title`)"))


class Task(SiteTable):
    """`reason` says why it was not done; `done_by` holds the keys of those who did it, `hours_by` the
    hours that each of them spent, where they were told; `ended` is when it was done. `text` says more than
    its title. `outside`: people of other firms by contract, how many, and what an hour of one costs.
    `checklist`: entries as `core.checklist` writes them, `answers` to them by entry, each with who and when.
    `parts`: a part's key or null, what it is where it has none, quantity, storeroom or null, must be used.
    """

    work_order = ForeignKeyField(WorkOrder, backref="tasks", on_delete="CASCADE")
    number = KeyField(max_length=20)
    title = CharField(max_length=200)
    text = TextField(default="")
    hours = DoubleField(constraints=[Check("hours > 0")])
    asset_state = CharField(max_length=8, default="any")
    splittable = BooleanField(default=False)
    min_portion = DoubleField(default=1.0)
    state = CharField(max_length=12, default="to do", index=True)
    hours_spent = DoubleField(default=0.0, constraints=[Check("hours_spent >= 0")])
    hours_left = DoubleField(null=True)
    reason = CharField(max_length=80, null=True)
    done_by = JsonField(null=True)
    hours_by = JsonField(null=True)
    ended = UtcField(null=True)
    outside = JsonField(default=list)
    checklist = JsonField(default=list)
    answers = JsonField(null=True)
    parts = JsonField(default=list)

    class Meta:
        indexes = (
            (("work_order", "number"), True),
            (("site", "work_order", "hours", "hours_spent"), False),
            (("site", "title"), False),
        )


Task.add_index(SQL("CREATE FULLTEXT INDEX `task_words` ON `task` (`title`, `text`)"))


class CrewNeed(SiteTable):
    task = ForeignKeyField(Task, backref="needs", on_delete="CASCADE")
    position = IntegerField()
    craft = ForeignKeyField(Craft, on_delete="RESTRICT")
    level = IntegerField(default=1)
    people = IntegerField(default=1, constraints=[Check("people >= 1")])
    certificate = KeyField(max_length=40, null=True)

    class Meta:
        indexes = ((("task", "position"), True),)


class TaskAfter(SiteTable):
    task = ForeignKeyField(Task, backref="after", on_delete="CASCADE")
    before = ForeignKeyField(Task, on_delete="CASCADE")
    lag = DoubleField(default=0.0)

    class Meta:
        indexes = ((("task", "before"), True),)


class TaskTool(SiteTable):
    task = ForeignKeyField(Task, backref="tools", on_delete="CASCADE")
    tool = ForeignKeyField(Tool, on_delete="RESTRICT")

    class Meta:
        indexes = ((("task", "tool"), True),)
