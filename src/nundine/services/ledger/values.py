"""Values of records as the ledger keeps them: plain JSON that reads back equal, however a zone was
written."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime, time, timedelta
from typing import Any

PLAIN, DAY, MOMENT, CLOCK = "plain", "day", "moment", "clock"
"""What a value is: text, number, truth or JSON; a date; a moment (kept in UTC); a time of day."""


def encode(value: Any) -> Any:
    """A value as JSON keeps it."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return f"{value:%H:%M}"
    if isinstance(value, (tuple, list)):
        return [encode(v) for v in value]
    if isinstance(value, Mapping):
        return {str(k): encode(v) for k, v in value.items()}
    return value


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
