"""Values of records as the ledger keeps them: plain JSON that reads back equal, however a zone was
written."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime, time, timedelta
from typing import Any

from nundine.core.difference import json_value

PLAIN, DAY, MOMENT, CLOCK = "plain", "day", "moment", "clock"
"""What a value is: text, number, truth or JSON; a date; a moment (kept in UTC); a time of day."""


encode = json_value
"""A value as the ledger keeps it."""


def decode(kind: str, value: Any) -> Any:
    """The value that was encoded."""
    if not isinstance(value, str) or kind == PLAIN:
        return value
    if kind == DAY:
        return date.fromisoformat(value)
    if kind == MOMENT:
        return datetime.fromisoformat(value)
    return time.fromisoformat(value)


def clock(value: time | timedelta) -> time:
    """A time of day, as which MariaDB gives the time since midnight."""
    return value if isinstance(value, time) else (datetime.min + value).time()


def same(one: Any, other: Any) -> bool:
    """Whether two encoded values mean the same; moments do however their zone is written."""
    if one == other:
        return True
    if isinstance(one, str) and isinstance(other, str) and "T" in one and "T" in other:
        try:
            return datetime.fromisoformat(one) == datetime.fromisoformat(other)
        except ValueError:
            return False
    return False


def same_fields(row: Mapping[str, Any] | None, seen: Mapping[str, Any] | None) -> bool:
    """Whether a row is as it was seen, in the fields that both know."""
    if row is None or seen is None:
        return row is seen
    return all(same(row[k], seen[k]) for k in row.keys() & seen.keys())
