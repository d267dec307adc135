"""Work that has its day alone, for mending: it takes hours on the board, and what comes of it is a day
again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.draft import Draft
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.problem import Placement, Seat


class DayAlone:
    """Finds hours that nobody is told for placements without a clock time, beside what stands on a board."""

    def __init__(self, board: Board, freedom: Freedom) -> None:
        self.board, self.freedom = board, freedom
        self.draft = Draft(board, complete=False)

    def hours_for(self, one: Placement) -> Portion | None:
        """Hours of its day for the people that it names."""
        return self.draft.give_time(one, self.freedom)

    def other_day(self, one: Placement) -> Portion | None:
        """Other people that day, else the nearest day, the same people before others."""
        bare = tuple(replace(s, id=None) for s in one.people)
        for day in sorted(self.board.problem.days, key=lambda d: (abs((d - one.day).days), d)):
            for people in dict.fromkeys((one.people, *_less_one(one.people), bare)):
                if self._may_sit(one, people, day):
                    found = self.hours_for(replace(one, day=day, people=people))
                    if found is not None:
                        return found
        return None

    def _may_sit(self, one: Placement, people: tuple[Seat, ...], day: date) -> bool:
        """Whether those who are named have craft, level and certificate on the day."""
        needs = self.board.problem.task_by_id[one.key[:2]].seat_needs
        for seat, need in zip(people, needs, strict=True):
            if seat.id is not None:
                n = self.board.position[seat.id]
                able = dict(self.board.qualified(replace(need, people=1)))
                if not able.get(n, 0) & self.board.day_of[n].get(day, 0):
                    return False
        return True

    def as_day(self, was: Placement, named: tuple[Seat, ...], p: Portion) -> Placement:
        """A portion as its day alone: seats that were open (of `named`) stay open, the others have the people
        found for them."""
        ids = (self.board.people[n].id if n is not None else None for n in p.people)
        people = tuple(
            replace(seat, id=n if had.id is not None else None)
            for seat, had, n in zip(was.people, named, ids, strict=True)
        )
        first = next((n for n in p.people if n is not None), None)
        day = self.board.day_at(first, p.start) if first is not None else None
        problem = self.board.problem
        same = p.end - p.start == problem.grid.slots_for(was.hours or 0.0)
        hours = was.hours if same else (p.end - p.start) * problem.slot_minutes / 60
        return replace(was, day=day or was.day, people=people, hours=hours)


def _less_one(people: tuple[Seat, ...]) -> Iterator[tuple[Seat, ...]]:
    """The same people but for one of them, whose seat is open."""
    for n, seat in enumerate(people):
        if seat.id is not None and len(people) > 1:
            yield (*people[:n], replace(seat, id=None), *people[n + 1 :])
