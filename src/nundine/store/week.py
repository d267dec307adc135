"""The week: placements and seats, revisions, crew sheets, closings, and events."""

from __future__ import annotations

from peewee import (
    BigAutoField,
    BooleanField,
    CharField,
    Check,
    DateField,
    DoubleField,
    ForeignKeyField,
    IntegerField,
)

from nundine.store.account import Account
from nundine.store.base import JsonField, LongBlobField, UtcField
from nundine.store.belonging import SharedTable, SiteTable
from nundine.store.roster import Person
from nundine.store.site import Craft
from nundine.store.work_order import Task


class Week(SiteTable):
    """`edits` counts the commands. The bound is that of the free week, proven for the two revisions beside
    it."""

    name = CharField(max_length=8)
    status = CharField(
        max_length=12,
        default="drafting",
        constraints=[Check("status IN ('drafting','agreed','published','closed')")],
    )
    edits = IntegerField(default=0)
    bound = DoubleField(null=True)
    bound_of = CharField(max_length=60, null=True)

    class Meta:
        indexes = ((("site", "name"), True),)


class Placement(SiteTable):
    """The one truth about when work happens. `hand`: put or moved by hand, so a build keeps it."""

    week = ForeignKeyField(Week, backref="placements", on_delete="CASCADE")
    task = ForeignKeyField(Task, on_delete="RESTRICT")
    portion = IntegerField(default=1)
    day = DateField()
    start = UtcField(null=True)
    end = UtcField(null=True)
    hours = DoubleField(null=True)
    pinned = BooleanField(default=False)
    hand = BooleanField(default=False)
    answer = CharField(max_length=8, null=True)
    answer_by = CharField(max_length=120, null=True)
    remark = CharField(max_length=300, null=True)

    class Meta:
        indexes = ((("week", "task", "portion"), True),)


class Seat(SiteTable):
    placement = ForeignKeyField(Placement, backref="seats", on_delete="CASCADE")
    position = IntegerField()
    craft = ForeignKeyField(Craft, on_delete="RESTRICT")
    person = ForeignKeyField(Person, null=True, on_delete="RESTRICT")

    class Meta:
        indexes = ((("placement", "position"), True),)


class Revision(SiteTable):
    """A frozen copy of a published week."""

    week = ForeignKeyField(Week, backref="revisions", on_delete="RESTRICT")
    number = IntegerField()
    at = UtcField()
    account = ForeignKeyField(Account, on_delete="RESTRICT")
    edits = IntegerField()
    content = JsonField()

    class Meta:
        indexes = ((("week", "number"), True),)


class Handout(SiteTable):
    """Crew sheets of a revision as PDF, of all areas or of some (their keys with semicolons between); `made`
    once they are there."""

    week = ForeignKeyField(Week, backref="handouts", on_delete="CASCADE")
    revision = IntegerField()
    by = CharField(max_length=8)
    areas = CharField(max_length=400, default="")
    content = LongBlobField(null=True)
    asked = UtcField()
    made = UtcField(null=True)

    class Meta:
        indexes = ((("week", "revision", "by", "areas"), True),)


class Closing(SiteTable):
    """A closed week as it was then: its review, what was not finished and why, backlog before and after.

    `reopened` is when it was opened again; it may be closed anew.
    """

    week = ForeignKeyField(Week, backref="closings", on_delete="RESTRICT")
    at = UtcField()
    account = ForeignKeyField(Account, on_delete="RESTRICT")
    content = JsonField()
    reopened = UtcField(null=True)


class Event(SharedTable):
    """What open browsers are told."""

    id = BigAutoField()
    week = CharField(max_length=8, index=True)
    kind = CharField(max_length=20)
    body = JsonField()
    at = UtcField(index=True)
