"""Availability and load by craft and day: what the tanks show. All figures in hours."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Set
from dataclasses import dataclass, field, replace
from datetime import date

from nundine.core.timeline import Interval
from nundine.core.week.problem import Placement, Seat, Task, WeekProblem


@dataclass
class Tank:
    """One craft on one day. `jobs` holds the hours that each job loads; `people` those who are there."""

    craft: str
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


def tanks_of_areas(
    problem: WeekProblem, placements: tuple[Placement, ...], areas: Set[str]
) -> dict[tuple[str, date], Tank]:
    """Tanks of the people of some areas: their hours and seats, and the open seats of jobs in these areas."""
    people = problem.person_by_id

    def counts(one: Placement, seat: Seat) -> bool:
        return (people[seat.id].area if seat.id is not None else problem.job_by_id[one.job].area) in areas

    own = [(p, tuple(s for s in p.people if counts(p, s))) for p in placements]
    there = replace(problem, people=tuple(p for p in problem.people if p.area in areas))
    return loaded(empty_tanks(there), problem, tuple(replace(p, people=seats) for p, seats in own if seats))


def portion_hours(placement: Placement, task: Task) -> float:
    """Elapsed hours of a placement, with times or without."""
    if placement.start is not None and placement.end is not None:
        return min(Interval(placement.start, placement.end).hours, task.hours)
    return placement.hours if placement.hours is not None else task.hours


def tanks(problem: WeekProblem, placements: tuple[Placement, ...]) -> dict[tuple[str, date], Tank]:
    """A tank for each craft and day of the week, with what is there and what `placements` load."""
    return loaded(empty_tanks(problem), problem, placements)


def empty_tanks(problem: WeekProblem) -> dict[tuple[str, date], Tank]:
    """What is there of each craft on each day: a person's hours count once, in the main craft, on the shift's
    day."""
    held = {c.id: c.held_back for c in problem.crafts}
    found = {(c.id, d): Tank(c.id, d) for c in problem.crafts for d in problem.days}
    there: dict[tuple[str, date], set[str]] = defaultdict(set)
    for person in problem.people:
        for h in person.hours:
            tank = found.get((person.main_craft, h.day))
            if tank is None:
                continue
            hours = Interval(h.start, h.end).hours
            if h.overtime:
                tank.overtime += hours
            else:
                tank.regular += hours
                tank.held_back += hours * held[person.main_craft]
            there[(tank.craft, tank.day)].add(person.id)
    for key, people in there.items():
        found[key].people = len(people)
    return found


def loaded(
    empty: dict[tuple[str, date], Tank], problem: WeekProblem, placements: tuple[Placement, ...]
) -> dict[tuple[str, date], Tank]:
    """The tanks with what placements load: a filled seat the main craft of its person, an open one the craft
    that it needs."""
    found = {key: replace(tank, jobs={}) for key, tank in empty.items()}
    tasks = problem.task_by_id
    for one in placements:
        hours = portion_hours(one, tasks[(one.job, one.task)])
        for seat in one.people:
            craft = problem.person_by_id[seat.id].main_craft if seat.id is not None else seat.craft
            tank = found.get((craft, one.day))
            if tank is not None:
                tank.jobs[one.job] = tank.jobs.get(one.job, 0.0) + hours
    return found
