"""Values and changes of records in words."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from nundine.services.ledger.values import same
from nundine.store.site import site

NOTHING = "–"


def shown(value: Any, zone: ZoneInfo | None = None) -> str:
    """An encoded value in words, moments in the site's zone."""
    if value is None or value == "" or value == []:
        return NOTHING
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        return f"{value:g}"
    if isinstance(value, str):
        return _text(value, zone)
    if isinstance(value, dict):
        return "; ".join(f"{name.replace('_', ' ')} {shown(v, zone)}" for name, v in sorted(value.items()))
    if all(isinstance(v, (list, dict)) for v in value):
        return "; ".join(shown(v, zone) if isinstance(v, dict) else _row(v, zone) for v in value)
    return ", ".join(shown(v, zone) for v in value)


def flattened(label: str, before: Any, after: Any) -> list[tuple[str, Any, Any]]:
    """A change of a field by its own fields where it is a record in itself: what differs, each with its
    label."""
    if not isinstance(before, dict) and not isinstance(after, dict):
        return [(label, before, after)] if not same(before, after) else []
    old = before if isinstance(before, dict) else {}
    new = after if isinstance(after, dict) else {}
    out = []
    for name in sorted({*old, *new}):
        out += flattened(f"{label}, {name.replace('_', ' ')}", old.get(name), new.get(name))
    return out


def _row(values: list[Any], zone: ZoneInfo | None) -> str:
    return " ".join(shown(v, zone) for v in values if v is not None)


def _text(value: str, zone: ZoneInfo | None) -> str:
    """A day or a moment as people write it, other texts as they are."""
    try:
        if len(value) == 10 and value[4] == "-":
            return _day(date.fromisoformat(value))
        if len(value) > 15 and value[10:11] == "T":
            local = datetime.fromisoformat(value).astimezone(zone or ZoneInfo(site().timezone))
            return f"{_day(local.date())} {local:%H:%M}"
    except ValueError:
        pass
    return value


def _day(day: date) -> str:
    return f"{day:%a} {day.day} {day:%b %Y}"
