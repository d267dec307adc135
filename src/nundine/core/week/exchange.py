"""Two people who are busy at the same time change places: each takes the work of the other that cannot
stay."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from nundine.core.week.board.bits import span
from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.problem import Placement, Seat, WeekProblem

MOST_SEATS = 6

Place = tuple[Placement, int]


@dataclass(frozen=True)
class Exchange:
    """`person` takes the seat asked for and the rest of `takes`; who sat there takes `gives`. Each a
    placement and a seat of it."""

    person: str
    takes: tuple[Place, ...]
    gives: tuple[Place, ...]

    def placements(self, sat: str) -> tuple[Placement, ...]:
        """The placements as they are when it is done; `sat` is who sat on the seat before."""
        people: dict[tuple[str, str, int], list[Seat]] = {}
        found: dict[tuple[str, str, int], Placement] = {}
        for places, who in ((self.takes, self.person), (self.gives, sat)):
            for one, seat in places:
                found[one.key] = one
                people.setdefault(one.key, list(one.people))[seat] = replace(one.people[seat], id=who)
        return tuple(replace(one, people=tuple(people[key])) for key, one in found.items())


def exchanges(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    one: Placement,
    seat: int,
    stay: Collection[object] = (),
) -> tuple[Exchange, ...]:
    """Everybody who is busy while `one` runs and could change places with who sits on its seat, fewest seats
    first.

    What overlaps changes hands too, and what overlaps that, up to six seats in all: then nobody is on two
    things at once who was not before. Each seat is checked for craft, level, certificate, shift and its day.
    Placements with keys in `stay` keep their people. An open seat, or a placement without a time, has no
    exchange.
    """
    sat = one.people[seat].id
    if sat is None or one.start is None or one.end is None or one.key in stay:
        return ()
    board = Board(problem.with_placements(placements))
    Draft(board, complete=False)
    held: dict[str, list[Place]] = {}
    for p in placements:
        for n, s in enumerate(p.people):
            if s.id is not None and p.start is not None:
                held.setdefault(s.id, []).append((p, n))
    found = []
    for person in problem.people:
        if (
            person.id == sat
            or any(s.id == person.id for s in one.people)
            or not _may_sit(board, (one, seat), person.id)
        ):
            continue
        made = _change(board, held, sat, person.id, (one, seat), stay)
        if made is not None and _leaves_time(problem, held, made, sat):
            found.append(made)
    main = {p.id: p.main_craft for p in problem.people}
    craft = one.people[seat].craft
    return tuple(
        sorted(found, key=lambda e: (len(e.takes) + len(e.gives), main[e.person] != craft, e.person))
    )


def _change(
    board: Board, held: dict[str, list[Place]], sat: str, other: str, asked: Place, stay: Collection[object]
) -> Exchange | None:
    """The seats that change hands when the asked one does; None if nobody needs to give anything back, or one
    cannot."""
    mine, theirs = held.get(sat, []), held.get(other, [])
    takes, gives = [asked], _overlapping(board, asked, theirs)
    if not gives:
        return None
    waiting = [(place, mine) for place in gives]
    while waiting:
        place, across = waiting.pop()
        for more in _overlapping(board, place, across):
            side = takes if across is mine else gives
            if not any(more[0].key == p.key and more[1] == n for p, n in side):
                side.append(more)
                waiting.append((more, theirs if across is mine else mine))
        if len(takes) + len(gives) > MOST_SEATS:
            return None
    for places, who in ((takes, other), (gives, sat)):
        if any(p.key in stay or not _may_sit(board, (p, n), who) for p, n in places):
            return None
    return Exchange(other, _in_order(takes), _in_order(gives))


def _leaves_time(problem: WeekProblem, held: dict[str, list[Place]], made: Exchange, sat: str) -> bool:
    """Whether neither of the two is hurried from area to area more often than before."""
    for who, takes, gives in ((made.person, made.takes, made.gives), (sat, made.gives, made.takes)):
        before = held.get(who, [])
        given = {(p.key, n) for p, n in gives}
        after = [place for place in before if (place[0].key, place[1]) not in given] + list(takes)
        if _hurried(problem, after) > _hurried(problem, before):
            return False
    return True


def _hurried(problem: WeekProblem, places: list[Place]) -> int:
    """Pairs of seats of one person in different areas without the time for the way between them."""
    ways = problem.minutes_between
    if not ways:
        return 0
    count = 0
    for n, (one, _) in enumerate(places):
        for other, _ in places[:n]:
            areas = (problem.area_of(problem.job_by_id[p.job]) or "" for p in (one, other))
            minutes = ways.get((next(areas), next(areas)), 0.0)
            if minutes and _minutes_apart(one, other) < minutes - 1e-9:
                count += 1
    return count


def _minutes_apart(one: Placement, other: Placement) -> float:
    """Minutes from the end of the earlier to the start of the later; less than 0 where they overlap."""
    assert one.start and one.end and other.start and other.end
    a, b = (one, other) if one.start.astimezone(UTC) <= other.start.astimezone(UTC) else (other, one)
    assert a.end and b.start
    return (b.start.astimezone(UTC) - a.end.astimezone(UTC)).total_seconds() / 60


def _in_order(places: list[Place]) -> tuple[Place, ...]:
    def first_of(place: Place) -> tuple[datetime, tuple[str, str, int]]:
        assert place[0].start
        return place[0].start, place[0].key

    return tuple(sorted(places, key=first_of))


def _overlapping(board: Board, place: Place, others: list[Place]) -> list[Place]:
    part = _part(board, place[0])
    return [other for other in others if _part(board, other[0]) & part]


def _part(board: Board, one: Placement) -> int:
    grid = board.problem.grid
    assert one.start is not None and one.end is not None
    return span(grid.floor(one.start), grid.ceil(one.end))


def _may_sit(board: Board, place: Place, who: str) -> bool:
    """Craft, level, certificate and a shift of the placement's day over all of it; what else they do is not
    looked at."""
    one, seat = place
    n = board.position[who]
    need = replace(board.problem.job_by_id[one.job].task(one.task).seat_needs[seat], people=1)
    able = dict(board.qualified(need)).get(n, 0)
    return not _part(board, one) & ~(able & board.there[n] & board.day_of[n].get(one.day, 0))
