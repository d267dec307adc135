"""The packing bound as tests ask for it, and small weeks for it."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from nundine.core.timeline import Interval
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.bound.single_jobs import Alone
from nundine.core.week.problem import After, Asset, Craft, Job, Need, PersonHours, Task, WeekProblem
from tests.core.test_check import MONDAY, at, person
from tests.core.test_check import problem as check_problem


def packed(problem: WeekProblem, steps: int = 400) -> float:
    """The packing bound after so many steps, each job capped by what it is worth alone."""
    relaxation = Relaxation(problem)
    Alone(relaxation).some(len(relaxation.whole_jobs))
    return relaxation.lower(steps, 0.0) if len(relaxation.k.jobs) else relaxation.constant


def in_windows(jobs: tuple[Job, ...], *windows: tuple[int, float, float], people: int = 1) -> WeekProblem:
    """Jobs on assets that may be stopped in these windows (day, from, to) only; people on five early shifts
    of 8 h."""
    held = tuple(Interval(at(d, a), at(d, b)) for d, a, b in windows)
    day = tuple(PersonHours(at(d, 6), at(d, 14), False, MONDAY + timedelta(days=d)) for d in range(5))
    assets = tuple(Asset(a, None, held) for a in sorted({j.asset or "" for j in jobs}))
    staff = tuple(replace(person(f"p{n}"), hours=day) for n in range(people))
    return replace(check_problem(), crafts=(Craft("mech"),), people=staff, assets=assets, tools=(), jobs=jobs)


def stopped(name: str, hours: float, *after: str) -> Task:
    return Task(name, hours, "stopped", tuple(After(a) for a in after), needs=(Need("mech"),))
