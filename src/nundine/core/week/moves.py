"""What is different between two plans of a week, move by move."""

from __future__ import annotations

from collections.abc import Iterable
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

    @property
    def job(self) -> str:
        one = self.after or self.before
        assert one is not None
        return one.job


def moves_between(before: Iterable[Placement], after: Iterable[Placement]) -> tuple[Move, ...]:
    """Every placement that differs, by job and task."""
    old, new = {p.key: p for p in before}, {p.key: p for p in after}
    return tuple(m for key in sorted(set(old) | set(new)) if (m := _move(old.get(key), new.get(key))))


def _move(was: Placement | None, now: Placement | None) -> Move | None:
    if was is None or now is None:
        return Move("in", None, now, 0) if now is not None else Move("out", was, None, 1)
    changed = sum(a.id != b.id for a, b in zip(was.people, now.people, strict=True))
    if was.day != now.day:
        return Move("day", was, now, changed + 2)
    if (was.start, was.end) != (now.start, now.end):
        return Move("start", was, now, changed + 1)
    return Move("people", was, now, changed) if changed else None
