"""Work in a night in which the clock is set back or on counts by the hours that pass, not by those on it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from random import Random
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.timeline import week_interval
from nundine.core.week.board.board import Board
from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.mending.mend import mend
from nundine.core.week.problem import (
    Craft,
    CraftLevel,
    Job,
    Need,
    Person,
    PersonHours,
    Placement,
    Seat,
    Task,
    WeekProblem,
)
from nundine.core.week.search import exact
from tests.examples import examples
from tests.weeks import random_week

ZONE = ZoneInfo("Europe/Zurich")
BACK, ON = ("2026-W43", date(2026, 10, 24)), ("2026-W13", date(2026, 3, 28))
"""Weeks whose last night is an hour longer, and one shorter, with its day. Directive 2000/84/EC: the last
Sundays of March and October, at 1:00 UTC."""


def clock(day: date, hour: int, minute: int = 0, fold: int = 0) -> datetime:
    return datetime(day.year, day.month, day.day, hour, minute, tzinfo=ZONE, fold=fold)


def night(week: str, day: date, hours: float) -> WeekProblem:
    """One mechanic on the night from 22:00 to 6:00, and a job that takes so many hours."""
    sunday = date(day.year, day.month, day.day + 1)
    span = week_interval(week, ZONE)
    shift = PersonHours(clock(day, 22), clock(sunday, 6), False, day)
    anna = Person("anna", (CraftLevel("mech", 2),), (), "north", None, (shift,))
    task = Task("10", hours, "any", needs=(Need("mech"),))
    job = Job("WO-1", None, 50.0, (task,), "north")
    return WeekProblem(
        week, "Europe/Zurich", span.start, span.end, crafts=(Craft("mech", 0.0),), people=(anna,), jobs=(job,)
    )  # fmt: skip


def fixed_over(problem: WeekProblem, start: datetime, end: datetime) -> WeekProblem:
    day = problem.people[0].hours[0].day
    one = Placement("WO-1", "10", 1, day, start, end, (Seat("anna", "mech"),))
    return problem.with_placements((one,))


def bounds_of(problem: WeekProblem) -> tuple[float, float]:
    relaxation = Relaxation(problem)
    packed = relaxation.lower(100, 0.0) if len(relaxation.k.jobs) else relaxation.constant
    return by_hours(problem), packed


@pytest.mark.parametrize(("week", "hours"), [(BACK, 9.0), (ON, 7.0)])
def test_no_bound_is_below_a_job_that_is_fixed_over_the_whole_night(week: tuple, hours: float) -> None:
    problem = night(*week, hours)
    shift = problem.people[0].hours[0]
    fixed = fixed_over(problem, shift.start, shift.end)
    found = check(fixed, fixed.fixed)
    assert not found.errors and not found.conflicts
    assert found.value > 0
    assert min(bounds_of(fixed)) >= found.value - 1e-6
    assert exact.solve(Board(fixed), list(fixed.jobs), {}, seconds=2).bound >= found.value - 1e-6


def test_a_portion_may_end_at_an_earlier_hour_of_the_clock_than_it_began_when_that_is_set_back() -> None:
    problem, sunday = night(*BACK, 0.5), date(2026, 10, 25)
    fixed = fixed_over(problem, clock(sunday, 2, 45), clock(sunday, 2, 15, fold=1))
    assert not check(fixed, fixed.fixed).conflicts
    backwards = Placement(
        "WO-1", "10", 1, BACK[1], clock(sunday, 2, 15, fold=1), clock(sunday, 2, 45), (Seat("anna", "mech"),)
    )  # fmt: skip
    with pytest.raises(ValueError, match=r"fixed\[0\]\.end: must lie after start"):
        problem.with_placements((backwards,))


def test_hours_of_a_shift_may_begin_and_end_in_the_hour_that_comes_twice() -> None:
    problem, sunday = night(*BACK, 0.5), date(2026, 10, 25)
    short = PersonHours(clock(sunday, 2, 30), clock(sunday, 2, 15, fold=1), False, BACK[1])
    anna = replace(problem.people[0], hours=(short,))
    assert replace(problem, people=(anna,)).people[0].hours == (short,)


def week_of_nights(seed: int, week: str, saturday: date) -> WeekProblem:
    """A random week in which half of all people also work the night of the change, and most of the work is
    wanted then."""
    r = Random(seed)
    problem = random_week(seed, r.choice((3, 6)), r.choice((5, 12)), week)
    start, end = clock(saturday, 21, 30), clock(date(saturday.year, saturday.month, saturday.day + 1), 6)
    shift = PersonHours(start, end, False, saturday)
    people = tuple(
        replace(p, hours=(*(h for h in p.hours if h.day < saturday), shift)) if r.random() < 0.5 else p
        for p in problem.people
    )
    jobs = tuple(replace(j, earliest=start) if r.random() < 0.5 else j for j in problem.jobs)
    return replace(problem, people=people, jobs=jobs)


WEEKS = st.builds(
    lambda seed, change: week_of_nights(seed, *change), st.integers(0, 10**6), st.sampled_from((BACK, ON))
)


@examples(40)
@given(WEEKS)
def test_a_plan_over_the_night_breaks_no_rule_and_is_worth_no_more_than_any_bound(
    problem: WeekProblem,
) -> None:
    plan = build(problem, limits=Limits(iterations=150), helps=False)
    found = check(problem, plan.placements)
    assert not found.errors
    assert found.value == pytest.approx(plan.value)
    assert min(bounds_of(problem)) >= plan.value - 1e-6
    fixed = problem.with_placements(plan.placements)
    assert not check(fixed, plan.placements).conflicts
    assert min(bounds_of(fixed)) >= plan.value - 1e-6


@examples(25)
@given(WEEKS, st.integers(0, 10**6))
def test_a_week_mended_after_somebody_fell_sick_in_the_night_breaks_no_rule(
    problem: WeekProblem, seed: int
) -> None:
    plan = build(problem, limits=Limits(iterations=100), helps=False)
    sick = Random(seed).choice(problem.people)
    night = max(h.day for p in problem.people for h in p.hours)
    without = replace(sick, hours=tuple(h for h in sick.hours if h.day < night - timedelta(days=1)))
    now = replace(problem, people=tuple(without if p is sick else p for p in problem.people))
    mended = mend(now, plan.placements)
    assert not check(now, mended.placements).errors
