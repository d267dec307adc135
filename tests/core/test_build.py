"""Building a week: no plan breaks a rule, no value passes the bound, whatever the week."""

from dataclasses import replace
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, Scope, build
from nundine.core.week.check import check
from nundine.core.week.problem import Craft, Job, Need, Placement, Seat, Task, WeekProblem
from tests.core.test_check import person
from tests.core.test_check import problem as check_problem
from tests.examples import examples
from tests.weeks import random_week
from tests.words import reasons_of

QUICK = Limits(iterations=25)
WEEKS = st.builds(
    random_week, st.integers(0, 10**6), st.sampled_from((0, 1, 4, 8, 12)), st.sampled_from((0, 2, 10, 25))
)
slowly = examples(40)


def unfinished(placements: tuple[Placement, ...], seed: int) -> tuple[Placement, ...]:
    """Some of the placements, some with open seats, some with the day alone."""
    r = Random(seed)
    out = []
    for one in placements:
        kind = r.random()
        if kind < 0.15:
            out.append(one)
        elif kind < 0.3:
            out.append(
                replace(
                    one, people=tuple(Seat(None if r.random() < 0.6 else s.id, s.craft) for s in one.people)
                )
            )
        elif kind < 0.4:
            hours = (one.end - one.start).total_seconds() / 3600
            out.append(
                replace(
                    one,
                    start=None,
                    end=None,
                    hours=hours,
                    people=tuple(Seat(None, s.craft) for s in one.people),
                )
            )
    return tuple(out)


@slowly
@given(WEEKS)
def test_no_built_plan_breaks_a_rule_and_none_is_worth_more_than_the_bound(problem: WeekProblem) -> None:
    plan = build(problem, limits=QUICK, helps=False)
    checked = check(problem, plan.placements)
    assert not checked.errors
    assert not checked.conflicts
    assert checked.value == pytest.approx(plan.value)
    assert plan.value <= plan.bound + 1e-6


@slowly
@given(WEEKS, st.integers(0, 99))
def test_any_unfinished_draft_is_finished_without_a_broken_rule(problem: WeekProblem, seed: int) -> None:
    first = build(problem, limits=Limits(iterations=5), helps=False)
    draft = replace(problem, fixed=unfinished(first.placements, seed), previous=first.placements)
    plan = build(draft, limits=Limits(iterations=10), helps=False)
    assert not check(draft, plan.placements).errors
    assert {f.key for f in draft.fixed} <= {p.key for p in plan.placements}


@slowly
@given(WEEKS)
def test_nobody_is_ever_on_two_things_at_once(problem: WeekProblem) -> None:
    plan = build(problem, limits=Limits(iterations=5), helps=False)
    by_person: dict[str, list[tuple]] = {}
    for p in plan.placements:
        for s in p.people:
            by_person.setdefault(s.id, []).append((p.start, p.end))
    for times in by_person.values():
        times.sort()
        assert all(a[1] <= b[0] for a, b in zip(times, times[1:], strict=False))


def test_two_tasks_of_one_job_never_use_the_only_crane_at_once() -> None:
    task = Task("10", 3.0, needs=(Need("mech"),), tools=("crane",))
    job = Job("WO-1", None, 50.0, (task, replace(task, id="20")))
    problem = replace(
        check_problem(),
        crafts=(Craft("mech"),),
        people=(person("anna"), person("ben")),
        assets=(),
        jobs=(job,),
    )
    plan = build(problem, limits=Limits(iterations=0), helps=False)
    assert len(plan.placements) == 2
    assert not check(problem, plan.placements).errors


def test_the_same_seed_and_steps_give_the_same_plan() -> None:
    problem = random_week(7, 8, 30)
    a, b = (build(problem, limits=QUICK, seed=3).placements for _ in range(2))
    assert a == b


def test_every_job_left_out_has_a_reason() -> None:
    problem = random_week(11, 8, 40)
    plan = build(problem, limits=QUICK)
    placed = {p.job for p in plan.placements}
    assert {n.job for n in plan.not_placed} == {j.id for j in problem.jobs} - placed
    assert all(reasons_of(n) for n in plan.not_placed)


def test_a_build_of_some_days_places_nothing_on_the_others() -> None:
    problem = random_week(5, 8, 30)
    days = frozenset(problem.days[1:3])
    plan = build(problem, limits=QUICK, scope=Scope(days=days), helps=False)
    assert plan.placements
    assert {p.day for p in plan.placements} <= days


def test_a_build_of_one_area_leaves_the_jobs_of_the_others_alone() -> None:
    problem = random_week(5, 8, 30)
    plan = build(problem, limits=QUICK, scope=Scope(areas=frozenset({"north"})), helps=False)
    assert {problem.job_by_id[p.job].area for p in plan.placements} == {"north"}


def test_a_stopped_build_keeps_the_best_plan_so_far() -> None:
    problem = random_week(3, 12, 60)
    plan = build(problem, limits=Limits(seconds=30, every=0.0), stop=lambda: True, helps=False)
    assert plan.status == "stopped"
    assert plan.placements


def test_a_rebuild_without_changes_starts_from_the_draft_before() -> None:
    problem = random_week(9, 8, 30)
    first = build(problem, limits=Limits(iterations=40), helps=False)
    again = build(replace(problem, previous=first.placements), limits=Limits(iterations=0), helps=False)
    assert again.value >= first.value - 1e-6
    assert set(first.placements) <= set(again.placements)


def test_days_alone_can_be_built_first_and_crewed_later_on_the_same_days() -> None:
    problem = random_week(6, 10, 25)
    days = build(problem, limits=QUICK, scope=Scope(days_only=True), helps=False)
    assert days.placements
    assert all(p.start is None and p.hours and all(s.id is None for s in p.people) for p in days.placements)
    assert not check(problem, days.placements).errors
    crewed = build(
        problem.with_placements(days.placements), limits=QUICK, scope=Scope(new_jobs=False), helps=False
    )
    assert not check(problem.with_placements(days.placements), crewed.placements).errors
    assert {p.key: p.day for p in crewed.placements} == {p.key: p.day for p in days.placements}
    assert sum(p.start is not None for p in crewed.placements) >= 0.8 * len(crewed.placements)


def test_filling_open_seats_places_no_other_job_and_moves_nothing() -> None:
    problem = random_week(6, 10, 25)
    first = build(problem, limits=QUICK, helps=False).placements
    opened = tuple(replace(p, people=tuple(Seat(None, s.craft) for s in p.people)) for p in first[:8])
    filled = build(problem.with_placements(opened), limits=QUICK, scope=Scope(new_jobs=False), helps=False)
    assert [(p.key, p.start, p.end) for p in filled.placements] == [(p.key, p.start, p.end) for p in opened]
    assert all(s.id for p in filled.placements for s in p.people)
