"""The site, its areas, crafts and tools."""

from __future__ import annotations

from peewee import CharField, Check, DateField, DoubleField, ForeignKeyField, IntegerField

from nundine.store.base import JsonField, KeyField, Table


class Site(Table):
    """One plant. The two revisions grow with every change of people or of work, and key what is kept in memory.

    `aged` is the day for which priorities were computed last.
    """

    name = CharField(max_length=120)
    timezone = CharField(max_length=60)
    settings = JsonField(default=dict)
    people_revision = IntegerField(default=0)
    work_revision = IntegerField(default=0)
    aged = DateField(null=True)


class Area(Table):
    key = KeyField(max_length=40, unique=True)
    name = CharField(max_length=120)


class Way(Table):
    """Minutes between two areas, the same both ways; `start` is the one whose key comes first."""

    start = ForeignKeyField(Area, on_delete="CASCADE")
    end = ForeignKeyField(Area, on_delete="CASCADE")
    minutes = IntegerField(constraints=[Check("minutes >= 0")])

    class Meta:
        indexes = ((("start", "end"), True),)


class Craft(Table):
    key = KeyField(max_length=40, unique=True)
    name = CharField(max_length=120)
    held_back = DoubleField(default=0.0, constraints=[Check("held_back >= 0 AND held_back <= 1")])


class Tool(Table):
    key = KeyField(max_length=40, unique=True)
    name = CharField(max_length=120)
    count = IntegerField(default=1, constraints=[Check("`count` >= 0")])


def site() -> Site:
    """The one site of this database."""
    return Site.get()


def touch(*, people: bool = False, work: bool = False) -> None:
    """Say that people or work changed, so that nobody goes on with what is kept in memory."""
    if people:
        Site.update(people_revision=Site.people_revision + 1).execute()
    if work:
        Site.update(work_revision=Site.work_revision + 1).execute()
