"""The site, its areas, crafts and tools."""

from __future__ import annotations

from peewee import CharField, Check, DateField, DoubleField, ForeignKeyField, IntegerField

from nundine.store.base import JsonField, KeyField, Record


class Site(Record):
    """One plant. `aged` is the day for which priorities were computed last."""

    key = KeyField(max_length=40, unique=True, default="site")
    name = CharField(max_length=120)
    timezone = CharField(max_length=60)
    settings = JsonField(default=dict)
    aged = DateField(null=True)


class Area(Record):
    key = KeyField(max_length=40, unique=True)
    name = CharField(max_length=120)


class Way(Record):
    """Minutes between two areas, the same both ways; `start` is the one whose key comes first."""

    start = ForeignKeyField(Area, on_delete="CASCADE")
    end = ForeignKeyField(Area, on_delete="CASCADE")
    minutes = IntegerField(constraints=[Check("minutes >= 0")])

    class Meta:
        indexes = ((("start", "end"), True),)


class Craft(Record):
    key = KeyField(max_length=40, unique=True)
    name = CharField(max_length=120)
    held_back = DoubleField(default=0.0, constraints=[Check("held_back >= 0 AND held_back <= 1")])


class Tool(Record):
    key = KeyField(max_length=40, unique=True)
    name = CharField(max_length=120)
    count = IntegerField(default=1, constraints=[Check("`count` >= 0")])


def site() -> Site:
    """The one site of this database."""
    return Site.get()
