"""Where people are on a board: what the way between areas takes of their free hours, and how often they
change area.

For each person and area one set of slots says where they are busy, one where seats begin. What is busy in
other areas, widened by the minutes of the way, is shut for work in an area. Ways are closed over shortest
paths, so it is enough to look at seats two by two.
"""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta

from nundine.core.week.board.bits import first_bit, span
from nundine.core.week.problem import Person, WeekProblem

Real = tuple[datetime, datetime] | None


def widened(mask: int, slots: int) -> int:
    """The slots of a set, and as many before and behind each."""
    have = 0
    while have < slots:
        step = min(have + 1, slots - have)
        mask |= mask << step | mask >> step
        have += step
    return mask


def home_slots(problem: WeekProblem, person: Person, there: int) -> dict[str | None, int]:
    """Slots of the person's shifts by the area in which they are worked; None: in no area, where nothing is
    away."""
    found: dict[str | None, int] = {}
    grid, taken = problem.grid, 0
    for h in sorted(person.hours, key=lambda h: h.start):
        part = span(grid.floor(h.start), grid.ceil(h.end)) & there & ~taken
        taken |= part
        area = h.area or person.area
        found[area] = found.get(area, 0) | part
    return found


class Areas:
    """Seats of a board's people by area."""

    def __init__(
        self, problem: WeekProblem, people: list[dict[str | None, int]], shifts: list[list[int]]
    ) -> None:
        """`people`: each one's slots by the area of the shift; `shifts`: the slots of each of their
        shifts."""
        self.problem, self.home, self.shifts = problem, people, shifts
        self.ways = problem.minutes_between
        self.priced = problem.weights.area_change > 0
        self.slots_of_way = {
            pair: math.ceil(minutes / problem.slot_minutes - 1e-9) for pair, minutes in self.ways.items()
        }
        count = len(people)
        self.busy: list[dict[str, int]] = [{} for _ in range(count)]
        self.starts: list[dict[str, int]] = [{} for _ in range(count)]
        self.exact: list[list[tuple[str, datetime, datetime]]] = [[] for _ in range(count)]
        """Seats off the grid, which only fixed work has: the way counts from their real times."""
        self._shut: list[dict[str, int]] = [{} for _ in range(count)]
        self.changes = 0
        """Two successive seats of a person in one shift that lie in different areas, over all; counted where
        that costs something."""

    def away(self, person: int, area: str | None, there: int) -> int:
        """Slots of the person's shifts that are worked in another area."""
        if area is None:
            return 0
        home = self.home[person]
        return there & ~(home.get(area, 0) | home.get(None, 0))

    def shut(self, person: int, area: str | None) -> int:
        """Slots at which the person may not work in an area, for the way from or to another one."""
        if area is None or not self.ways:
            return 0
        known = self._shut[person].get(area)
        if known is None:
            known = self.shut_exactly(person, area)
            for other, mask in self.busy[person].items():
                way = self.slots_of_way.get((other, area), 0)
                if mask and way:
                    known |= widened(mask, way)
            self._shut[person][area] = known
        return known

    def shut_exactly(self, person: int, area: str) -> int:
        """What seats off the grid shut, from their real times."""
        known, grid = 0, self.problem.grid
        for other, start, end in self.exact[person]:
            if minutes := self.ways.get((other, area)):
                known |= span(grid.floor(_moved(start, -minutes)), grid.ceil(_moved(end, minutes)))
        return known

    def begin(self, person: int, area: str | None, start: int, end: int, real: Real = None) -> None:
        """Somebody takes a seat from one slot to another; `real` are its times if they are off the grid."""
        if area is None:
            return
        if real is not None:
            self.exact[person].append((area, *real))
        else:
            self.busy[person][area] = self.busy[person].get(area, 0) | span(start, end)
        self._shut[person].clear()
        self.changes += self.change(person, area, start) if self.priced else 0
        self.starts[person][area] = self.starts[person].get(area, 0) | 1 << max(start, 0)

    def end(self, person: int, area: str | None, start: int, end: int, real: Real = None) -> None:
        """Somebody leaves a seat."""
        if area is None:
            return
        if real is not None:
            self.exact[person].remove((area, *real))
        else:
            self.busy[person][area] &= ~span(start, end)
        self._shut[person].clear()
        self.starts[person][area] &= ~(1 << max(start, 0))
        self.changes -= self.change(person, area, start) if self.priced else 0

    def change(self, person: int, area: str, start: int) -> int:
        """How many changes of area more a seat from a slot on would make, that is not there yet."""
        before, after = self._beside(person, area, start)
        more = (before is not None and before != area) + (after is not None and after != area)
        return more - (before is not None and after is not None and before != after)

    def changes_at(self, person: int, area: str | None, start: int) -> bool:
        """Whether the person comes to a seat, or goes on from it, from or to another area within the
        shift."""
        if area is None or not self.priced:
            return False
        return any(other is not None and other != area for other in self._beside(person, area, start))

    def _beside(self, person: int, area: str, start: int) -> tuple[str | None, str | None]:
        """The areas of the seats before and after a slot in its shift, None where there is none; both None
        where all are in the area."""
        starts = self.starts[person]
        if not any(mask for other, mask in starts.items() if other != area):
            return None, None
        start = max(start, 0)
        shift = next((m for m in self.shifts[person] if m >> start & 1), 0)
        before, after = None, None
        at_before, at_after = -1, -1
        for other in sorted(starts):
            its = starts[other] & shift
            earlier, later = (its & span(0, start)).bit_length() - 1, first_bit(its >> start + 1)
            if earlier > at_before:
                at_before, before = earlier, other
            if later >= 0 and (at_after < 0 or later < at_after):
                at_after, after = later, other
        return before, after


def _moved(moment: datetime, minutes: float) -> datetime:
    return moment.astimezone(UTC) + timedelta(minutes=minutes)
