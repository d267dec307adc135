"""Choices that several lists offer: areas and crafts of the site."""

from __future__ import annotations

from nundine.services.listing.column import Choice
from nundine.store.site import Area, Craft


def areas() -> list[Choice]:
    """In their order."""
    return [Choice(a.key, a.name) for a in Area.select().order_by(Area.id)]


def crafts() -> list[Choice]:
    """In their order."""
    return [Choice(c.key, c.name) for c in Craft.select().order_by(Craft.id)]
