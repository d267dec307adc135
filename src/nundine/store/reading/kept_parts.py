"""How much of each part is kept for WOs: reserved as itself, or as one that does instead of another."""

from __future__ import annotations

from typing import Any

from peewee import Select, fn

from nundine.store.part import Part, PartNeed
from nundine.store.work_order import WorkOrder

RESERVES = ("approved", "under way")
"""States of WOs for which parts are set aside."""
LEFT = PartNeed.quantity - PartNeed.given - PartNeed.reserved
"""Of a need that an alternate meets: how much of the alternate it takes."""


def instead() -> Any:
    """Needs of WOs that reserve which an alternate meets; `name` is the alternate's key."""
    rows = PartNeed.select(PartNeed, WorkOrder).join(WorkOrder)
    return rows.where((PartNeed.how == "alternate") & WorkOrder.state.in_(RESERVES))


def kept_of_parts() -> Any:
    """A query to join: `part_id`, and `much` that is kept of it, for each part of which some is."""
    own = PartNeed.select(PartNeed.part.alias("part_id"), PartNeed.reserved.alias("much"))
    others = instead().join_from(PartNeed, Part, on=PartNeed.name == Part.key)
    both = (own + others.select(Part.id.alias("part_id"), LEFT.alias("much"))).alias("each")
    total = Select([both], [both.c.part_id, fn.ROUND(fn.SUM(both.c.much), 3).alias("much")])
    return total.group_by(both.c.part_id).alias("kept")
