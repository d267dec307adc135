"""One person's work of some days given to others: seat by seat to the best who can take it, and what nobody
can take, with why."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass, replace
from datetime import date

from nundine.core.finding import Finding
from nundine.core.week.hand import candidates
from nundine.core.week.problem import Placement, WeekProblem

Key = tuple[str, str, int]


@dataclass(frozen=True)
class Left:
    """A seat that stays: nobody else has what it needs (`best` None), or the best other person can not take
    it, and why."""

    placement: Placement
    best: str | None
    why: Finding | None


@dataclass(frozen=True)
class Cover:
    """Placements with their new people, who took each, and what stays with whom it was."""

    given: tuple[tuple[Placement, str], ...]
    left: tuple[Left, ...]


def cover(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    person: str,
    days: Set[date],
    stay: Set[Key] = frozenset(),
) -> Cover:
    """Give each seat of a person on these days to the best other person; placements with keys in `stay` keep
    their people."""
    given: list[tuple[Placement, str]] = []
    left: list[Left] = []
    for one in [p for p in placements if p.day in days and p.key not in stay]:
        seat = next((n for n, s in enumerate(one.people) if s.id == person), None)
        if seat is None:
            continue
        others = [c for c in candidates(problem, placements, one, seat) if c.person != person]
        best = next((c for c in others if c.fits), None)
        if best is None:
            near = others[0] if others else None
            left.append(Left(one, near.person if near else None, near.blocked if near else None))
            continue
        people = tuple(replace(s, id=best.person) if n == seat else s for n, s in enumerate(one.people))
        new = replace(one, people=people)
        given.append((new, best.person))
        placements = tuple(new if p.key == one.key else p for p in placements)
    return Cover(tuple(given), tuple(left))
