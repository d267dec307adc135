"""Building a part of the week: these crafts, areas or days, open seats alone, days alone; the rest stays as
it is."""

from dataclasses import replace
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, Scope, build
from nundine.core.week.check import check
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import Seat, WeekProblem
from tests.examples import examples
from tests.weeks import random_week

slowly = examples(20)
WEEKS = st.builds(random_week, st.integers(0, 10**6), st.sampled_from((6, 9)), st.sampled_from((15, 30)))


def built(problem: WeekProblem, scope: Scope) -> WeekPlan:
    plan = build(problem, limits=Limits(iterations=40), scope=scope, helps=False)
    assert not check(problem, plan.placements).errors
    return plan


def half_fixed(problem: WeekProblem, seed: int) -> WeekProblem:
    """Half of the jobs of a plan stand already."""
    plan = built(problem, Scope()).placements
    stand = set(Random(seed).sample(sorted({p.job for p in plan}), k=len({p.job for p in plan}) // 2))
    return replace(problem, fixed=tuple(p for p in plan if p.job in stand))


@slowly
@given(WEEKS, st.integers(0, 99))
def test_a_build_of_one_craft_adds_only_jobs_that_need_it_and_keeps_what_stands(
    problem: WeekProblem, seed: int
) -> None:
    week = half_fixed(problem, seed)
    plan = built(week, Scope(crafts=frozenset({"elec"})))
    stand = {p.key for p in week.fixed}
    assert stand <= {p.key for p in plan.placements}
    for p in plan.placements:
        if p.key not in stand:
            assert any(n.craft == "elec" for t in problem.job_by_id[p.job].tasks for n in t.needs)


@slowly
@given(WEEKS, st.integers(0, 99))
def test_what_is_fixed_keeps_its_day_time_and_people_whatever_is_built(
    problem: WeekProblem, seed: int
) -> None:
    week = half_fixed(problem, seed)
    for scope in (Scope(), Scope(areas=frozenset({"north"})), Scope(new_jobs=False)):
        after = {p.key: p for p in built(week, scope).placements}
        for p in week.fixed:
            now = after[p.key]
            assert (now.day, now.start, now.end, [s.id for s in now.people]) == (
                p.day,
                p.start,
                p.end,
                [s.id for s in p.people],
            )


@slowly
@given(WEEKS, st.integers(0, 99))
def test_a_build_of_some_days_and_an_area_adds_nothing_outside_of_either(
    problem: WeekProblem, seed: int
) -> None:
    week = half_fixed(problem, seed)
    days = frozenset(sorted(problem.days)[1:4])
    stand = {p.key for p in week.fixed}
    for p in built(week, Scope(days=days, areas=frozenset({"south"}))).placements:
        if p.key not in stand:
            assert p.day in days
            assert problem.job_by_id[p.job].area == "south"


@slowly
@given(WEEKS)
def test_open_seats_are_filled_by_people_who_may_take_them_and_no_job_comes_in(problem: WeekProblem) -> None:
    plan = built(problem, Scope()).placements
    opened = tuple(replace(p, people=tuple(Seat(None, s.craft) for s in p.people)) for p in plan)
    week = replace(problem, fixed=opened)
    after = built(week, Scope(new_jobs=False)).placements
    assert {p.key for p in after} == {p.key for p in opened}
    assert [(p.day, p.start, p.end) for p in after] == [
        (p.day, p.start, p.end) for p in sorted(opened, key=lambda p: p.key)
    ]


@pytest.mark.parametrize("seed", range(4))
def test_a_build_of_nothing_adds_nothing_and_says_why_of_every_job(seed: int) -> None:
    problem = random_week(seed, 6, 20)
    for scope in (Scope(crafts=frozenset()), Scope(areas=frozenset()), Scope(new_jobs=False)):
        plan = built(problem, scope)
        assert plan.placements == ()
        assert {n.job for n in plan.not_placed} == {j.id for j in problem.jobs if j.tasks}
        assert all(n.reasons for n in plan.not_placed)


@pytest.mark.parametrize("seed", range(4))
def test_days_alone_name_neither_times_nor_people_but_hours(seed: int) -> None:
    plan = built(random_week(seed, 8, 20), Scope(days_only=True))
    assert plan.placements
    assert all(
        p.start is None and p.end is None and all(s.id is None for s in p.people) for p in plan.placements
    )
    assert all(p.hours and p.hours > 0 and p.day is not None for p in plan.placements)
