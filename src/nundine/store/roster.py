"""People, their crafts and certificates, shift patterns, rosters, absences and overtime offers."""

from __future__ import annotations

from peewee import CharField, Check, DateField, ForeignKeyField, IntegerField, TimeField

from nundine.store.base import KeyField, UtcField
from nundine.store.belonging import SiteRecord, SiteTable
from nundine.store.site import Area, Craft


class Person(SiteRecord):
    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    area = ForeignKeyField(Area, null=True, on_delete="RESTRICT")
    crew = CharField(max_length=60, null=True)

    class Meta:
        indexes = ((("site", "key"), True),)


class PersonCraft(SiteTable):
    """`rank` 0 is the main craft."""

    person = ForeignKeyField(Person, backref="crafts", on_delete="CASCADE")
    craft = ForeignKeyField(Craft, on_delete="RESTRICT")
    level = IntegerField(constraints=[Check("level BETWEEN 1 AND 3")])
    rank = IntegerField()

    class Meta:
        indexes = ((("person", "craft"), True),)


class PersonCertificate(SiteTable):
    person = ForeignKeyField(Person, backref="certificates", on_delete="CASCADE")
    certificate = KeyField(max_length=40)
    until = DateField(null=True)

    class Meta:
        indexes = ((("person", "certificate"), True),)


class ShiftPattern(SiteRecord):
    key = KeyField(max_length=40)
    cycle_days = IntegerField(constraints=[Check("cycle_days >= 1")])

    class Meta:
        indexes = ((("site", "key"), True),)


class PatternShift(SiteTable):
    pattern = ForeignKeyField(ShiftPattern, backref="shifts", on_delete="CASCADE")
    day_index = IntegerField()
    start = TimeField()
    end = TimeField()
    standing_minutes = IntegerField(default=0, constraints=[Check("standing_minutes >= 0")])

    class Meta:
        indexes = ((("pattern", "day_index", "start"), True),)


class RosterLine(SiteRecord):
    person = ForeignKeyField(Person, backref="roster", on_delete="CASCADE")
    pattern = ForeignKeyField(ShiftPattern, on_delete="RESTRICT")
    first = DateField()
    last = DateField(null=True)

    class Meta:
        indexes = ((("person", "first"), True),)


class Absence(SiteRecord):
    """`stand_in` answers meanwhile for what the person answers for."""

    person = ForeignKeyField(Person, backref="absences", on_delete="CASCADE")
    start = UtcField(index=True)
    end = UtcField()
    reason = CharField(max_length=40)
    stand_in = ForeignKeyField(Person, null=True, backref="stands_in", on_delete="SET NULL")

    class Meta:
        indexes = ((("person", "start"), True),)


class ExtraShift(SiteRecord):
    """Regular hours beside the roster, on the day on which they start."""

    person = ForeignKeyField(Person, backref="extra_shifts", on_delete="CASCADE")
    start = UtcField(index=True)
    end = UtcField()

    class Meta:
        indexes = ((("person", "start"), True),)


class Loan(SiteRecord):
    """A person works for another area from `first` to `last`, inclusive."""

    person = ForeignKeyField(Person, backref="loans", on_delete="CASCADE")
    area = ForeignKeyField(Area, on_delete="RESTRICT")
    first = DateField()
    last = DateField()

    class Meta:
        indexes = ((("person", "first"), True),)


class OvertimeOffer(SiteRecord):
    person = ForeignKeyField(Person, backref="overtime", on_delete="CASCADE")
    start = UtcField(index=True)
    end = UtcField()

    class Meta:
        indexes = ((("person", "start"), True),)
