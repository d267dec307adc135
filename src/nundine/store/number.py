"""Counters of numbers that the site gives out, one row a series."""

from __future__ import annotations

from peewee import CharField, IntegerField

from nundine.store.belonging import SiteTable


class Counter(SiteTable):
    """`last` is the number that was given out last."""

    name = CharField(max_length=40)
    last = IntegerField(default=0)

    class Meta:
        indexes = ((("site", "name"), True),)
