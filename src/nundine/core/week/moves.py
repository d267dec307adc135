"""What is different between two plans of a week, move by move, in words."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from nundine.core.week.problem import Placement


@dataclass(frozen=True)
class Move:
    """One placement before and after. `kind`: people, start, day, out (it leaves), in (it comes), open (a
    seat nobody can take)."""

    kind: str
    before: Placement | None
    after: Placement | None
    moves: int
    text: str

    @property
    def job(self) -> str:
        one = self.after or self.before
        assert one is not None
        return one.job


def moves_between(
    before: Iterable[Placement], after: Iterable[Placement], names: Mapping[str, str]
) -> tuple[Move, ...]:
    """Every placement that differs, by job and task; `names` says what to call people, else their ids
    stand."""
    old, new = {p.key: p for p in before}, {p.key: p for p in after}
    return tuple(m for key in sorted(set(old) | set(new)) if (m := _move(old.get(key), new.get(key), names)))


def _move(was: Placement | None, now: Placement | None, names: Mapping[str, str]) -> Move | None:
    one = now or was
    assert one is not None
    name = f"{one.job} task {one.task}"
    if was is None or now is None:
        if now is not None:
            return Move("in", None, now, 0, f"{name} comes in, {_when(now)}, {_who(now, names)}")
        return Move("out", was, None, 1, f"{name} leaves the week (was {_when(one)})")
    changed = [(a.id, b.id) for a, b in zip(was.people, now.people, strict=True) if a.id != b.id]
    people = ", ".join(
        f"{_name(a, names) or 'an open seat'} → {_name(b, names) or 'open'}" for a, b in changed
    )
    also = f", {people}" if people else ""
    if was.day != now.day:
        return Move(
            "day", was, now, len(changed) + 2, f"{name} moves from {_when(was)} to {_when(now)}{also}"
        )
    if (was.start, was.end) != (now.start, now.end):
        return Move(
            "start", was, now, len(changed) + 1, f"{name} is on {_when(now)} instead of {_when(was)}{also}"
        )
    return Move("people", was, now, len(changed), f"{name}, {_when(now)}: {people}") if changed else None


def _name(person: str | None, names: Mapping[str, str]) -> str | None:
    return names.get(person, person) if person is not None else None


def _who(one: Placement, names: Mapping[str, str]) -> str:
    return (
        "with " + ", ".join(_name(s.id, names) or "an open seat" for s in one.people)
        if one.people
        else "without a crew"
    )


def _when(one: Placement) -> str:
    if one.start is None or one.end is None:
        return f"{one.day:%a} {one.day.day} {one.day:%b}"
    night = f"{one.day:%a} night, " if one.start.date() > one.day else ""
    return f"{night}{one.start:%a} {one.start.day} {one.start:%b %H:%M}–{one.end:%H:%M}"
