"""What became of a WO in the weeks before: where it stood unfinished when they were closed, why, and where it
went."""

from __future__ import annotations

from typing import Any

from peewee import fn

from nundine.store.week import Closing, Week

SHOWN = 12
"""So many weeks are told, the newest first."""


def history_of(number: str) -> list[dict[str, Any]]:
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
                out.append(
                    {"week": closing["week_name"], "reason": r["reason"], "hours": r["hours"], "to": r["to"]}
                )
    return out
