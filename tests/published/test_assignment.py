"""Weeks of one-shift jobs are assignment problems (H. W. Kuhn 1955), which SciPy solves exactly: the bound
lies above, the plan close below."""

from __future__ import annotations

from datetime import timedelta
from random import Random

import numpy as np
import pytest
from scipy.optimize import linear_sum_assignment

from nundine.core.timeline import week_interval
from nundine.core.week.bound.hours import bound
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.building.build import Limits, build
from nundine.core.week.problem import Craft, CraftLevel, Job, Need, Person, PersonHours, Task, WeekProblem
from nundine.core.week.search import compiled
from tests.weeks import ZONE

WEEK = "2026-W49"
SPAN = week_interval(WEEK, ZONE)
PEOPLE, DAYS, JOBS, HOURS = 8, 5, 60, 7.0


def one_shift_week(seed: int) -> WeekProblem:
    """Jobs of seven hours for one person each, shifts of eight: one job fills a shift. Some are overdue, some
    due within the week."""
    r = Random(seed)

    def person(n: int) -> Person:
        hours = tuple(
            PersonHours(
                SPAN.start + timedelta(days=d, hours=6),
                SPAN.start + timedelta(days=d, hours=14),
                False,
                (SPAN.start + timedelta(days=d)).date(),
            )
            for d in range(DAYS)
        )
        own = (
            (CraftLevel("mech", r.choice((1, 2, 3))),)
            if n % 2
            else (CraftLevel("elec", 2), CraftLevel("mech", 1))
        )
        return Person(f"p{n}", own, (), None, None, hours)

    def job(n: int) -> Job:
        need = Need(r.choice(("mech", "mech", "elec")), r.choice((1, 1, 2)))
        due = SPAN.start + timedelta(days=r.randrange(-3, 8)) if r.random() < 0.7 else None
        return Job(
            f"WO-{n}", None, float(r.randrange(10, 95)), (Task("10", HOURS, "any", needs=(need,)),), due=due
        )

    return WeekProblem(
        WEEK,
        ZONE.key,
        SPAN.start,
        SPAN.end,
        crafts=(Craft("mech"), Craft("elec")),
        people=tuple(person(n) for n in range(PEOPLE)),
        jobs=tuple(job(n) for n in range(JOBS)),
    )


def optimum(problem: WeekProblem) -> float:
    """Of all ways to give shifts a job each; a job loses 8 % of its points for each day, or part, after it is
    due."""
    points = np.zeros((JOBS, PEOPLE * DAYS))
    for j, job in enumerate(problem.jobs):
        need = job.tasks[0].needs[0]
        for n, who in enumerate(problem.people):
            for d in range(DAYS) if who.level_in(need.craft) >= need.level else ():
                end = SPAN.start + timedelta(days=d, hours=6 + HOURS)
                late = (
                    max(0.0, -(-(end - max(job.due, SPAN.start)).total_seconds() // 86400))
                    if job.due
                    else 0.0
                )
                points[j, n * DAYS + d] = (
                    job.priority * HOURS * max(0.0, 1 - problem.weights.late_share_per_day * late)
                )
    rows, columns = linear_sum_assignment(points, maximize=True)
    return float(points[rows, columns].sum())


@pytest.mark.parametrize("seed", range(4))
def test_the_plan_of_one_shift_jobs_comes_close_to_the_best_assignment_and_the_bounds_lie_above_it(
    seed: int,
) -> None:
    assert compiled.load()
    problem = one_shift_week(seed)
    best = optimum(problem)
    plan = build(problem, limits=Limits(iterations=4000), helps=False, known_bound=float("inf"))
    assert 0.985 * best <= plan.value <= best + 1e-6
    assert bound(problem) >= best - 1e-3
    assert best - 1e-6 <= Relaxation(problem).lower(1500, plan.value) <= 1.02 * best
