"""The stages of the planning desk as each week began: kept once a week, for the weeks that follow."""

from __future__ import annotations

from datetime import date, timedelta

from nundine.core.timeline import week_name
from nundine.services.week.state import load_state
from nundine.services.work.planning_desk import desk
from nundine.store.desk import DeskWeek
from nundine.store.site import Craft


def keep(day: date) -> None:
    """How work stands now, as that with which the day's week began; what was kept of it before stays."""
    monday = day - timedelta(days=day.weekday())
    if DeskWeek.select().where(DeskWeek.monday == monday).exists():
        return
    ids = dict(Craft.select(Craft.key, Craft.id).tuples())
    rows = [
        {
            "monday": monday,
            "craft": ids[c.craft],
            "being_planned": c.being_planned,
            "ready": c.ready,
            "placed": c.placed,
        }
        for c in desk(load_state(week_name(monday))).crafts
    ]
    if rows:
        DeskWeek.insert_many(rows).execute()
