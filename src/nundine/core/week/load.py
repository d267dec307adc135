"""Availability and load by row and day: what the tanks show. A row is a craft, a crew or a person. All
figures in hours."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Set
from dataclasses import dataclass, field, replace
from datetime import date

from nundine.core.timeline import Interval
from nundine.core.week.problem import Person, Placement, Seat, Task, WeekProblem

Tanks = dict[tuple[str, date], "Tank"]
NOBODY = ""
"""The row of who is in no crew, and of open seats beside crews."""
OPEN = "open seats of "
"""Before a craft: the row of its open seats beside people."""


@dataclass
class Tank:
    """One row on one day. `jobs` holds the hours that each job loads; `people` those who are there."""

    row: str
    day: date
    regular: float = 0.0
    overtime: float = 0.0
    held_back: float = 0.0
    people: int = 0
    jobs: dict[str, float] = field(default_factory=dict)

    @property
    def available(self) -> float:
        return self.regular + self.overtime

    @property
    def load(self) -> float:
        return sum(self.jobs.values())

    @property
    def free(self) -> float:
        """Hours left before the tank is over; negative when it is."""
        return self.available - self.load


def main_craft(person: Person) -> str:
    return person.main_craft


def crew(person: Person) -> str:
    return person.crew or NOBODY


def oneself(person: Person) -> str:
    return person.id


def needed_craft(seat: Seat) -> str:
    return seat.craft


def open_seats(seat: Seat) -> str:
    return OPEN + seat.craft


def nobody(_: Seat) -> str:
    return NOBODY


@dataclass(frozen=True)
class Board:
    """What the rows of a board are: in which one a person's hours and seats count, and in which an open
    seat."""

    of_person: Callable[[Person], str]
    of_open_seat: Callable[[Seat], str]

    def rows(self, problem: WeekProblem) -> list[str]:
        """All rows, in the order of crafts or of names; what nobody has comes last."""
        if self is BY_CRAFT:
            return [c.id for c in problem.crafts]
        found = sorted({self.of_person(p) for p in problem.people} - {NOBODY})
        return [*found, *(OPEN + c.id for c in problem.crafts)] if self is BY_PERSON else [*found, NOBODY]


BY_CRAFT = Board(main_craft, needed_craft)
BY_CREW = Board(crew, nobody)
BY_PERSON = Board(oneself, open_seats)


def tanks_of_areas(
    problem: WeekProblem, placements: tuple[Placement, ...], areas: Set[str], board: Board = BY_CRAFT
) -> Tanks:
    """Tanks of the people of some areas: their hours and seats, and the open seats of jobs in these areas."""
    people = problem.person_by_id

    def counts(one: Placement, seat: Seat) -> bool:
        return (people[seat.id].area if seat.id is not None else problem.job_by_id[one.job].area) in areas

    own = [(p, tuple(s for s in p.people if counts(p, s))) for p in placements]
    there = replace(problem, people=tuple(p for p in problem.people if p.area in areas))
    seats = tuple(replace(p, people=seats) for p, seats in own if seats)
    return loaded(empty_tanks(there, board), problem, seats, board)


def portion_hours(placement: Placement, task: Task) -> float:
    """Elapsed hours of a placement, with times or without."""
    if placement.start is not None and placement.end is not None:
        return min(Interval(placement.start, placement.end).hours, task.hours)
    return placement.hours if placement.hours is not None else task.hours


def tanks(problem: WeekProblem, placements: tuple[Placement, ...], board: Board = BY_CRAFT) -> Tanks:
    """A tank for each row and day of the week, with what is there and what `placements` load."""
    return loaded(empty_tanks(problem, board), problem, placements, board)


def empty_tanks(problem: WeekProblem, board: Board = BY_CRAFT) -> Tanks:
    """What is there in each row on each day: a person's hours count once, on the shift's day, and what is
    held back of them by the main craft."""
    held = {c.id: c.held_back for c in problem.crafts}
    found = {(row, d): Tank(row, d) for row in board.rows(problem) for d in problem.days}
    there: dict[tuple[str, date], set[str]] = defaultdict(set)
    for person in problem.people:
        for h in person.hours:
            tank = found.get((board.of_person(person), h.day))
            if tank is None:
                continue
            hours = Interval(h.start, h.end).hours
            if h.overtime:
                tank.overtime += hours
            else:
                tank.regular += hours
                tank.held_back += hours * held[person.main_craft]
            there[(tank.row, tank.day)].add(person.id)
    for key, people in there.items():
        found[key].people = len(people)
    return found


def loaded(
    empty: Tanks, problem: WeekProblem, placements: tuple[Placement, ...], board: Board = BY_CRAFT
) -> Tanks:
    """The tanks with what placements load: a filled seat the row of its person, an open one the row of open
    seats."""
    found = {key: replace(tank, jobs={}) for key, tank in empty.items()}
    tasks = problem.task_by_id
    for one in placements:
        hours = portion_hours(one, tasks[(one.job, one.task)])
        for seat in one.people:
            row = (
                board.of_person(problem.person_by_id[seat.id])
                if seat.id is not None
                else board.of_open_seat(seat)
            )
            tank = found.get((row, one.day))
            if tank is not None:
                tank.jobs[one.job] = tank.jobs.get(one.job, 0.0) + hours
    return found
