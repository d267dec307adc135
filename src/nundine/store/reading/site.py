"""Crafts, tools and the ways between areas."""

from __future__ import annotations

from nundine.core.week import problem as core
from nundine.store.reading.rows import keys_of
from nundine.store.site import Area, Craft, Tool, Way


def load_ways() -> tuple[core.Travel, ...]:
    """Minutes between areas."""
    areas = keys_of(Area)
    return tuple(
        core.Travel(areas[w["start"]], areas[w["end"]], w["minutes"])
        for w in Way.select().order_by(Way.start, Way.end).dicts()
    )


def load_crafts() -> tuple[core.Craft, ...]:
    return tuple(core.Craft(c.key, c.held_back) for c in Craft.select().order_by(Craft.id))


def load_tools() -> tuple[core.Tool, ...]:
    return tuple(core.Tool(t.key, t.count) for t in Tool.select().order_by(Tool.key))
