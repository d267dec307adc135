"""What an export says against what stands here, in three ways: theirs now, theirs at the last import, and
ours.

Values are compared as plain JSON. A field that was changed here and not there is ours to keep; one that was
changed there and not here is theirs; one changed on both sides is for people to decide.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from typing import Any


@dataclass(frozen=True)
class FieldChange:
    """One field of a WO (`task` None) or of a task: ours, theirs, and whether it was changed here by hand
    since the last import."""

    task: str | None
    field: str
    before: Any
    after: Any
    by_hand: bool


@dataclass(frozen=True)
class Difference:
    """A WO of the export against ours. `kept`: fields that were changed here and not there."""

    number: str
    changes: tuple[FieldChange, ...]
    kept: int
    new_tasks: tuple[str, ...]
    gone_tasks: tuple[str, ...]

    @property
    def any(self) -> bool:
        return bool(self.changes or self.new_tasks or self.gone_tasks)


def json_value(value: Any, whole: Callable[[int], Any] = int) -> Any:
    """A value as JSON keeps it: moments in UTC, tuples as lists; whole numbers as `whole` makes them."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return f"{value:%H:%M}"
    if isinstance(value, (tuple, list)):
        return [json_value(v, whole) for v in value]
    if isinstance(value, Mapping):
        return {str(k): json_value(v, whole) for k, v in value.items()}
    return whole(value) if isinstance(value, int) and not isinstance(value, bool) else value


def plain_value(value: Any) -> Any:
    """The same with all numbers alike, for exports write 2 and 2.0 for one another."""
    return json_value(value, float)


def field_changes(
    task: str | None, base: Mapping[str, Any] | None, ours: Mapping[str, Any], theirs: Mapping[str, Any]
) -> tuple[list[FieldChange], int]:
    """Changes of the fields that theirs tells, and how many fields stay as they were changed here."""
    out, kept, was = [], 0, base or {}
    for name, after in theirs.items():
        before = ours.get(name)
        if after == before:
            continue
        known = name in was
        if known and was[name] == after:
            kept += 1
            continue
        out.append(FieldChange(task, name, before, after, known and was[name] != before))
    return out, kept


def difference(
    number: str, base: Mapping[str, Any] | None, ours: Mapping[str, Any], theirs: Mapping[str, Any]
) -> Difference:
    """Compare one WO; each side is {"fields": {...}, "tasks": {id: {...}}} in plain values, `base` None if it
    was never imported.

    Tasks that theirs does not tell any more are gone only if theirs told of them before; tasks made here
    stay.
    """
    changes, kept = field_changes(None, base and base["fields"], ours["fields"], theirs["fields"])
    told = (base or {"tasks": {}})["tasks"]
    for task, values in theirs["tasks"].items():
        if task in ours["tasks"]:
            more, also = field_changes(task, told.get(task), ours["tasks"][task], values)
            changes += more
            kept += also
    new = tuple(t for t in theirs["tasks"] if t not in ours["tasks"])
    gone = tuple(t for t in ours["tasks"] if t in told and t not in theirs["tasks"])
    return Difference(number, tuple(changes), kept, new, gone)
