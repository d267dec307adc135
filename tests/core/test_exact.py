"""The exact model: it begins with the plan it is given, is never stricter than the rules, and what it proves
bounds every plan."""

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.timeline import Interval
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.bound.single_jobs import Alone
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.problem import (
    Asset,
    Craft,
    Job,
    Need,
    Person,
    PersonHours,
    Placement,
    Seat,
    Task,
    WeekProblem,
)
from nundine.core.week.search import compiled, exact
from tests.core.packed import in_windows, packed, stopped
from tests.core.test_check import MONDAY, at, person
from tests.core.test_check import problem as check_problem
from tests.examples import examples
from tests.weeks import random_week

slowly = examples(12)


@pytest.fixture(scope="module", autouse=True)
def loaded() -> None:
    assert compiled.load()


def searched(problem: WeekProblem, iterations: int = 300):
    return build(problem, limits=Limits(iterations=iterations), helps=False, known_bound=float("inf"))


def portions(board: Board, placements: tuple[Placement, ...]) -> dict[str, list[Portion]]:
    """Placements as the builder holds them."""
    grid, out = board.problem.grid, {}
    for one in placements:
        task, people = (
            board.problem.task_by_id[(one.job, one.task)],
            tuple(board.position[s.id] for s in one.people),
        )
        out.setdefault(one.job, []).append(
            Portion(task, one.portion, grid.floor(one.start), grid.ceil(one.end), people)
        )
    return out


def staff(*hours: tuple[float, float], overtime: tuple[float, float] | None = None) -> tuple[Person, ...]:
    """People who are there on Monday from one hour to another."""
    more = (PersonHours(at(0, overtime[0]), at(0, overtime[1]), True, MONDAY),) if overtime else ()
    return tuple(
        replace(person(f"p{n}"), hours=(PersonHours(at(0, a), at(0, b), False, MONDAY), *more))
        for n, (a, b) in enumerate(hours)
    )


def week(people: tuple[Person, ...], *jobs: Job, assets: tuple[Asset, ...] = ()) -> WeekProblem:
    return replace(
        check_problem(), crafts=(Craft("mech"),), people=people, assets=assets, tools=(), jobs=jobs
    )


@pytest.mark.long
@slowly
@given(st.integers(0, 10**6))
def test_no_plan_is_left_worse_than_it_was_given_and_no_rule_is_broken(seed: int) -> None:
    problem = random_week(seed, 4, 10)
    plan = searched(problem)
    board = Board(problem)
    found = exact.solve(
        board, list(problem.jobs), portions(board, plan.placements), seconds=3, workers=2, prove=True
    )
    assert found.value >= plan.value - 0.01 * max(1, len(plan.placements))
    assert not found.whole or plan.value <= found.bound + 1e-6
    seen = build(problem.with_placements((), plan.placements), limits=Limits(seconds=2), helps=False)
    assert not check(problem, seen.placements).errors
    assert plan.value - 1e-6 <= seen.value <= seen.bound + 1e-6


def test_a_team_that_is_never_together_for_the_whole_task_adds_nothing_to_any_bound() -> None:
    window = (Interval(at(0, 12), at(0, 16)),)
    task = Task("10", 4.0, "stopped", needs=(Need("mech", people=3),))
    problem = week(
        staff((6, 14), (6, 14), (8, 16), (14, 22), (14, 22)),
        Job("WO-1", "lift", 10.0, (task,)),
        assets=(Asset("lift", None, window),),
    )
    assert by_hours(problem) == packed(problem) == 0.0
    assert exact.solve(Board(problem), list(problem.jobs), {}, seconds=5).bound < 1.0
    longer = replace(
        problem, people=problem.people + tuple(replace(p, id=f"q{p.id}") for p in staff((8, 16), (8, 16)))
    )
    assert by_hours(longer) >= 120.0


def test_hours_that_are_partly_overtime_never_make_the_exact_bound_too_low() -> None:
    task = Task("10", 10.0, splittable=True, min_portion=2.0, needs=(Need("mech"),))
    problem = week(staff((6, 14), overtime=(14, 18)), Job("WO-1", None, 50.0, (task,)))
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=5, prove=True)
    plan = searched(problem)
    assert plan.value == pytest.approx(50.0 * 10 - 20.0 * 2)
    assert found.whole
    assert found.bound >= plan.value - 1e-6


def test_held_back_hours_are_kept_where_a_split_task_runs_on_into_overtime() -> None:
    task = Task("10", 10.0, splittable=True, min_portion=2.0, needs=(Need("mech"),))
    problem = replace(
        week(staff((6, 14), overtime=(14, 18)), Job("WO-1", None, 50.0, (task,))),
        crafts=(Craft("mech", 0.3),),
    )
    plan = build(problem, limits=Limits(seconds=2), helps=False)
    assert not check(problem, plan.placements).errors
    assert plan.value <= plan.bound + 1e-6


def test_a_job_that_can_only_end_late_is_capped_by_what_it_is_worth_alone() -> None:
    task = Task("10", 20.0, "any", splittable=True, min_portion=2.0, needs=(Need("mech"),))
    problem = week(in_windows((), people=1).people, Job("WO-1", None, 10.0, (task,), due=at(0, 0)))
    relaxation = Relaxation(problem)
    assert relaxation.given(problem.jobs[0]) == pytest.approx(200.0)
    Alone(relaxation).some(1)
    assert relaxation.given(problem.jobs[0]) == pytest.approx(200.0 * (1 - 3 * 0.08), rel=1e-3)
    assert packed(problem) == pytest.approx(searched(problem).value, rel=1e-2)


def test_a_cap_never_raises_a_bound_and_one_above_the_points_changes_nothing() -> None:
    for seed in range(6):
        problem = random_week(seed, 4, 10)
        plain, capped = Relaxation(problem), Relaxation(problem)
        for job in (j for j in problem.jobs if j.id in capped.whole_jobs):
            capped.cap(job, plain.given(job) + 1.0)
        assert capped.lower(50, 0.0) == pytest.approx(plain.lower(50, 0.0))
        tight = Relaxation(problem)
        Alone(tight).some(99)
        assert all(tight.given(j) <= plain.given(j) + 1e-6 for j in problem.jobs if j.id in tight.whole_jobs)


def test_overtime_that_alone_lets_a_job_in_is_not_paid_for_twice() -> None:
    problem = week(
        staff((6, 8), overtime=(8, 16)), Job("WO-1", None, 50.0, (Task("10", 8.0, needs=(Need("mech"),)),))
    )
    value = exact.solve(Board(problem), list(problem.jobs), {}, seconds=5).value
    assert value == pytest.approx(50.0 * 8 - 20.0 * 6)
    assert packed(problem) >= value - 1e-6


def test_of_two_jobs_that_want_the_only_hours_the_dearer_is_proven_to_be_the_best() -> None:
    jobs = (
        Job("WO-1", "lift", 10.0, (stopped("10", 4.0),)),
        Job("WO-2", "lift", 30.0, (stopped("10", 4.0),)),
    )
    plan = build(in_windows(jobs, (0, 7, 12)), limits=Limits(seconds=120), helps=False)
    assert (plan.status, plan.value) == ("optimal", pytest.approx(120.0))
    assert {p.job for p in plan.placements} == {"WO-2"}


def test_a_day_that_is_fixed_without_a_time_leaves_the_bound_open_for_every_time() -> None:
    loose, bound = (
        Job("WO-1", None, 10.0, (Task("10", 2.0, needs=(Need("mech"),)),)),
        Job("WO-2", "lift", 30.0, (stopped("10", 2.0),)),
    )
    problem = replace(in_windows((bound,), (0, 6, 8)), jobs=(loose, bound))
    day_alone = Placement("WO-1", "10", 1, MONDAY, None, None, (Seat(None, "mech"),), 2.0)
    plan = build(problem.with_placements((day_alone,)), limits=Limits(seconds=2), helps=False)
    assert plan.bound >= 10.0 * 2 + 30.0 * 2 - 1e-6
    timed = replace(day_alone, start=at(0, 8), end=at(0, 10), people=(Seat("p0", "mech"),), hours=None)
    timed_week = problem.with_placements((timed,))
    assert build(timed_week, limits=Limits(seconds=120), helps=False).status == "optimal"


@pytest.mark.parametrize(("least", "whole"), [(2.0, True), (0.75, True), (0.5, False)])
def test_a_bound_is_told_only_where_the_model_is_never_stricter_than_the_rules(
    least: float, whole: bool
) -> None:
    task = Task("10", 14.0, splittable=True, min_portion=least, needs=(Need("mech"),))
    problem = week(in_windows((), people=1).people, Job("WO-1", None, 10.0, (task,)))
    told: list[float] = []
    found = exact.solve(
        Board(problem),
        list(problem.jobs),
        {},
        seconds=1,
        prove=True,
        stop=lambda value, bound: bool(told.append(bound)),
    )
    assert found.whole == whole
    assert whole or set(told) <= {float("inf")}


@pytest.mark.long
def test_what_is_fixed_whole_counts_with_what_is_proven_of_the_rest() -> None:
    for seed in range(4):
        problem = random_week(seed, 4, 8)
        placements = searched(problem).placements
        keep = {p.job for p in placements if p.start is not None and int(p.job[-1]) % 2}
        whole = {j.id for j in problem.jobs if not j.divisible}
        draft = problem.with_placements(tuple(p for p in placements if p.job in keep & whole))
        plan = build(draft, limits=Limits(seconds=2), helps=False)
        assert searched(draft, 1500).value <= plan.bound + 1e-6
        assert not check(draft, plan.placements).errors


def test_a_dear_hour_of_overtime_is_left_alone_by_the_exact_model() -> None:
    task = Task("10", 4.0, needs=(Need("mech"),))
    problem = week(staff((6, 8), overtime=(12, 16)), Job("WO-1", None, 5.0, (task,)))
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=5)
    assert not found.placed
    cheap = replace(problem, weights=replace(problem.weights, overtime_per_hour=1.0))
    assert exact.solve(Board(cheap), list(cheap.jobs), {}, seconds=5).value == pytest.approx(5.0 * 4 - 4.0)


def test_each_portion_of_a_long_task_lies_in_one_stretch_of_hours() -> None:
    days = tuple(PersonHours(at(d, 6), at(d, 9), False, MONDAY + timedelta(days=d)) for d in range(5))
    task = Task("10", 14.0, splittable=True, min_portion=1.0, needs=(Need("mech"),))
    problem = week((replace(person("anna"), hours=days),), Job("WO-1", None, 10.0, (task,)))
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=10, prove=True)
    cut = found.placed["WO-1"]
    assert sum(p.end - p.start for p in cut) == 14 * 4
    assert all(p.start // 96 == (p.end - 1) // 96 for p in cut)
