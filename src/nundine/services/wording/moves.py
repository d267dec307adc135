"""What is different between two plans of a week, in words."""

from __future__ import annotations

from nundine.core.week.moves import Move
from nundine.core.week.problem import Placement
from nundine.services.wording.names import Names
from nundine.services.wording.phrases import day_words


def move(one: Move, names: Names) -> str:
    """One placement before and after."""
    was, now = one.before, one.after
    there = now or was
    assert there is not None
    name = f"{there.job} task {there.task}"
    if was is None or now is None:
        if now is not None:
            return f"{name} comes in, {_when(now)}, {_who(now, names)}"
        return f"{name} leaves the week (was {_when(there)})"
    changed = [(a.id, b.id) for a, b in zip(was.people, now.people, strict=True) if a.id != b.id]
    people = ", ".join(
        f"{_name(a, names) or 'an open seat'} → {_name(b, names) or 'open'}" for a, b in changed
    )
    also = f", {people}" if people else ""
    if one.kind == "day":
        return f"{name} moves from {_when(was)} to {_when(now)}{also}"
    if one.kind == "start":
        return f"{name} is on {_when(now)} instead of {_when(was)}{also}"
    return f"{name}, {_when(now)}: {people}"


def _name(person: str | None, names: Names) -> str:
    return names.called("person", person)


def _who(one: Placement, names: Names) -> str:
    if not one.people:
        return "without a crew"
    return "with " + ", ".join(_name(s.id, names) or "an open seat" for s in one.people)


def _when(one: Placement) -> str:
    if one.start is None or one.end is None:
        return day_words(one.day)
    night = f"{one.day:%a} night, " if one.start.date() > one.day else ""
    return f"{night}{day_words(one.start)} {one.start:%H:%M}–{one.end:%H:%M}"
