"""How work stood at the planning desk as the last weeks began: around how it stands now, with a lull in the
seventh week before, from which it recovered."""

from __future__ import annotations

from datetime import timedelta
from random import Random

from nundine.core.timeline import week_monday, week_name
from nundine.services.week.state import load_state
from nundine.services.work.planning_desk import WEEKS, desk
from nundine.store.desk import DeskWeek
from nundine.store.site import Craft

LULL, DEEP, SHARE_PLACED = 7, 0.45, 0.8
"""Weeks before the present, how much of its ready work was gone, and how much of its hours a craft had
placed."""


def make(week: str) -> None:
    """Before the week in which the demo's scheduler plans."""
    r, this = Random(f"desk {week}"), week_monday(week) - timedelta(weeks=1)
    now = desk(load_state(week_name(this)))
    ids = dict(Craft.select(Craft.key, Craft.id).tuples())
    rows = []
    for n in range(WEEKS, 0, -1):
        lull = 1 - DEEP * max(0.0, 1 - abs(n - LULL) / 4)
        for c in now.crafts:
            has = c.hours_a_week or 0.0
            rows.append(
                {
                    "monday": this - timedelta(weeks=n),
                    "craft": ids[c.craft],
                    "being_planned": round(c.being_planned * r.uniform(0.7, 1.3), 1),
                    "ready": round((c.ready + c.placed) * lull * r.uniform(0.85, 1.1), 1),
                    "placed": round(min(has, c.ready + c.placed) * SHARE_PLACED * r.uniform(0.8, 1.1), 1),
                }
            )
    DeskWeek.insert_many(rows).execute()
