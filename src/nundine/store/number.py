"""Counters of numbers that the site gives out, one row a series."""

from __future__ import annotations

from peewee import CharField, IntegerField

from nundine.store.base import Table


class Counter(Table):
    """`last` is the number that was given out last."""

    name = CharField(max_length=40, unique=True)
    last = IntegerField(default=0)
