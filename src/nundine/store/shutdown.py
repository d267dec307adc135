"""Shutdowns: dated overhauls and closures on which work hangs."""

from __future__ import annotations

from peewee import BooleanField, CharField, DateField

from nundine.store.base import KeyField
from nundine.store.belonging import SiteRecord


class Shutdown(SiteRecord):
    """From the day `first` to the day `last`, both inclusive. `series`: what comes again, like autumn; rungs
    of preventive plans hang on it. `moves_work`: days by which its WOs are required move with it."""

    key = KeyField(max_length=40)
    name = CharField(max_length=120)
    series = CharField(max_length=40, default="")
    first = DateField()
    last = DateField()
    moves_work = BooleanField(default=True)

    class Meta:
        indexes = ((("site", "key"), True),)
