"""Values and changes of an export in words."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.difference import Difference
from nundine.formats.foreign.fields import DATES, FIELD_BY_NAME
from nundine.services.exchange.foreign.answers import ChangeLine

SHOWN = 200
"""So many of each kind are listed; the rest is counted."""


def label_of(field: str) -> str:
    return FIELD_BY_NAME[field].label if field in FIELD_BY_NAME else {"needs": "crew need"}.get(field, field)


def needs_text(needs: Any) -> str:
    return "; ".join(
        f"{craft} x{people:g}" + (f" level {level:g}" if level > 1 else "")
        for craft, people, level, _ in needs
    )


def shown(value: Any, zone: ZoneInfo) -> str:
    """A value in words; a moment in the site's zone, its clock left out at the ends of a day."""
    if value is None or value == "" or value == []:
        return "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        local = value.astimezone(zone)
        clock = "" if f"{local:%H:%M}" in ("00:00", "23:59") else f" {local:%H:%M}"
        return f"{local:%a} {local.day} {local:%b %Y}{clock}"
    if isinstance(value, date):
        return f"{value:%a} {value.day} {value:%b %Y}"
    return str(value)


def _told(field: str, value: Any, zone: ZoneInfo) -> str:
    """A value as JSON keeps it, in words."""
    if not value:
        return shown(value, zone)
    if field == "needs":
        return needs_text(value)
    if field == "after":
        return ", ".join(str(before) for before, _ in value)
    if field == "hours":
        return f"{value:g} h"
    if field in DATES:
        return shown(datetime.fromisoformat(value) if "T" in value else date.fromisoformat(value), zone)
    return shown(value, zone)


def lines_of(one: Difference, zone: ZoneInfo) -> list[ChangeLine]:
    """Each change of a WO in words: what, ours, theirs."""
    out = [
        ChangeLine(
            c.field,
            label_of(c.field) + (f" of task {c.task}" if c.task else ""),
            _told(c.field, c.before, zone),
            _told(c.field, c.after, zone),
            c.by_hand,
        )
        for c in one.changes
    ]
    out += [ChangeLine("tasks", "task", "–", f"{t} is new", False) for t in one.new_tasks]
    out += [ChangeLine("tasks", "task", t, "gone there: will be skipped", False) for t in one.gone_tasks]
    return out
