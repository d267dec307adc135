"""How work stood at the planning desk as each week began."""

from __future__ import annotations

from peewee import DateField, DoubleField, ForeignKeyField

from nundine.store.belonging import SiteTable
from nundine.store.site import Craft


class DeskWeek(SiteTable):
    """Work hours of a craft that were being planned, ready, and placed in the week, as the week of a Monday
    began."""

    monday = DateField()
    craft = ForeignKeyField(Craft, on_delete="CASCADE")
    being_planned = DoubleField()
    ready = DoubleField()
    placed = DoubleField()

    class Meta:
        indexes = ((("site", "monday", "craft"), True),)
