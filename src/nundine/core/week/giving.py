"""Many seats given to one person, or to the people of a crew, on the days on which the work stands."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import replace

from nundine.core.week.cover import Cover, Key, Left
from nundine.core.week.hand import Candidate, candidates
from nundine.core.week.problem import Placement, WeekProblem

NEVER = {"certificate", "busy", "same job"}
"""Against these nothing is given: a missing certificate, another job then, another seat of the same one."""


def give_all(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    chosen: Sequence[Key],
    people: Set[str],
    stay: Set[Key] = frozenset(),
    despite: bool = False,
) -> Cover:
    """Give the chosen placements to `people`: one person takes one seat of each, several take all that they
    can.

    Open seats go first. A seat stays as it is where nobody of them can take it; with `despite` what could
    not be taken only for the sake of hours or of the way is given all the same. What is in `stay` keeps its
    people.
    """
    given: list[tuple[Placement, str]] = []
    left: list[Left] = []
    wanted = set(chosen)
    order = sorted(
        (p for p in placements if p.key in wanted), key=lambda p: (p.day, str(p.start or ""), p.key)
    )
    for first in order:
        if first.key in stay:
            continue
        one, tried = first, list[Left]()
        here = sum(s.id in people for s in one.people)
        for seat in _seats(one, people):
            if len(people) == 1 and here:
                break
            found = [c for c in candidates(problem, placements, one, seat) if c.person in people]
            best = next((c for c in found if c.fits), None) or _despite(found, despite)
            if best is None:
                near = found[0] if found else None
                tried.append(Left(one, near.person if near else None, near.blocked if near else None))
                continue
            seats = (replace(s, id=best.person) if n == seat else s for n, s in enumerate(one.people))
            one = replace(one, people=tuple(seats))
            placements = tuple(one if p.key == one.key else p for p in placements)
            given.append((one, best.person))
            here += 1
        left += tried if len(people) > 1 or not here else []
    last = {one.key: one for one, _ in given}
    return Cover(tuple((last[one.key], who) for one, who in given), tuple(_once(left)))


def _seats(one: Placement, people: Set[str]) -> list[int]:
    """Seats that are not theirs yet, the open ones first."""
    others = [n for n, s in enumerate(one.people) if s.id not in people]
    return sorted(others, key=lambda n: one.people[n].id is not None)


def _despite(found: Sequence[Candidate], despite: bool) -> Candidate | None:
    can = (c for c in found if c.blocked is not None and c.blocked.code not in NEVER)
    return next(can, None) if despite else None


def _once(left: Sequence[Left]) -> list[Left]:
    """One line for each placement: the one that names somebody, where there is one."""
    found: dict[Key, Left] = {}
    for one in left:
        if one.placement.key not in found or found[one.placement.key].best is None:
            found[one.placement.key] = one
    return list(found.values())
