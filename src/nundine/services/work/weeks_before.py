"""What became of a WO in the weeks before: where it stood unfinished when they were closed, why, and where it
went."""

from __future__ import annotations

from dataclasses import dataclass

from peewee import fn

from nundine.store.week import Closing, Week

SHOWN = 12
"""So many weeks are told, the newest first."""


@dataclass(frozen=True)
class LeftOver:
    """A closed week that the job was left in: why, with how many work hours, and where it went."""

    week: str
    reason: str
    hours: float
    to: str


def history_of(number: str) -> list[LeftOver]:
    """Week, reason, remaining work hours and where it went, for each closed week that the WO was left in."""
    rows = (
        Closing.select(Closing, Week.name.alias("week_name"))
        .join(Week)
        .where(Closing.reopened.is_null() & (fn.INSTR(Closing.content, f'"number":"{number}"') > 0))
    )
    out = []
    for closing in rows.order_by(Week.name.desc()).limit(SHOWN).dicts():
        for r in closing["content"]["unfinished"]:
            if r["number"] == number:
                out.append(LeftOver(closing["week_name"], r["reason"], r["hours"], r["to"]))
    return out
