"""The packing bound: shifts, windows, chains, portions and cut tasks as no plan can do better."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from nundine.core.timeline import Interval
from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.bound.prove import proven
from nundine.core.week.building.build import Limits, build
from nundine.core.week.problem import After, Asset, Craft, Job, Need, PersonHours, Task, WeekProblem
from nundine.core.week.search import compiled
from tests.core.packed import in_windows, packed, stopped
from tests.core.test_check import MONDAY, at, person
from tests.core.test_check import problem as check_problem


@pytest.fixture(scope="module", autouse=True)
def loaded() -> None:
    assert compiled.load()


def test_three_long_tasks_do_not_fit_into_two_shifts_and_the_packing_bound_knows() -> None:
    week = check_problem()
    day = tuple(PersonHours(at(d, 6), at(d, 14), False, MONDAY + timedelta(days=d)) for d in range(2))
    jobs = tuple(
        Job(f"WO-{n}", None, 10.0, (Task("10", 5.0, "any", needs=(Need("mech"),)),)) for n in range(3)
    )
    problem = replace(
        week,
        crafts=(Craft("mech"),),
        people=(replace(person("anna"), hours=day),),
        assets=(),
        tools=(),
        jobs=jobs,
    )
    assert by_hours(problem) == pytest.approx(150.0, rel=1e-3)
    assert packed(problem, 2000) == pytest.approx(100.0, rel=1e-2)
    assert proven(problem) == pytest.approx(100.0, rel=1e-2)


def test_what_must_lie_in_a_window_is_packed_into_the_window_and_not_into_the_shift() -> None:
    jobs = tuple(Job(f"WO-{n}", f"lift-{n}", 10.0, (stopped("10", 2.0),)) for n in range(3))
    problem = in_windows(jobs, (0, 7, 10))
    assert by_hours(problem) == pytest.approx(60.0, rel=1e-3)
    assert packed(problem, 2000) == pytest.approx(20.0, rel=1e-2)


def test_a_chain_that_does_not_fit_into_its_windows_adds_nothing_to_the_packing_bound() -> None:
    chain = (stopped("10", 4.0), stopped("20", 4.0, "10"))
    assert packed(in_windows((Job("WO-1", "lift", 10.0, chain),), (0, 6, 12), people=2)) == 0.0
    assert packed(in_windows((Job("WO-1", "lift", 10.0, chain),), (0, 6, 12), (1, 6, 12), people=2)) >= 80.0


def test_a_chain_that_waits_for_the_next_window_is_late_in_the_packing_bound_too() -> None:
    chain = (stopped("10", 4.0), stopped("20", 4.0, "10"))
    job = Job("WO-1", "lift", 10.0, chain, due=at(0, 0))
    problem = in_windows((job,), (0, 6, 12), (2, 6, 12), people=2)
    value = build(problem, limits=Limits(iterations=50), helps=False, known_bound=float("inf")).value
    assert value == pytest.approx(80.0 * (1 - 3 * 0.08))
    assert packed(problem, 2000) == pytest.approx(value, rel=1e-2)


def staffed(
    jobs: tuple[Job, ...], hours: list[list[tuple[int, float, float]]], *assets: Asset
) -> WeekProblem:
    """Jobs beside people with these hours each (day, from, to)."""
    staff = tuple(
        replace(
            person(f"p{n}"),
            hours=tuple(
                PersonHours(at(d, a), at(d, b), False, MONDAY + timedelta(days=d)) for d, a, b in own
            ),
        )
        for n, own in enumerate(hours)
    )
    return replace(check_problem(), crafts=(Craft("mech"),), people=staff, assets=assets, tools=(), jobs=jobs)


def worth_of_best(problem: WeekProblem) -> float:
    return build(problem, limits=Limits(iterations=300), helps=False, known_bound=float("inf")).value


def test_of_two_chains_on_one_day_only_as_many_are_in_time_as_have_somebody_for_their_first_tasks() -> None:
    chain = (
        Task("10", 3.0, "any", needs=(Need("mech"),)),
        Task("20", 3.0, "any", (After("10"),), needs=(Need("mech"),)),
    )
    jobs = tuple(Job(f"WO-{n}", None, 10.0, chain, due=at(1, 24)) for n in range(2))
    early_and_late = [[(1, 6, 9), (3, 6, 9)], *([(1, 9, 12), (3, 9, 12)] for _ in range(3))]
    problem = staffed(jobs, early_and_late)
    assert worth_of_best(problem) == pytest.approx(60 + 60 * (1 - 2 * 0.08))
    assert packed(problem, 2000) == pytest.approx(worth_of_best(problem), rel=1e-2)


def test_a_portion_shorter_than_the_least_fills_no_rest_of_a_shift() -> None:
    long = Job("WO-1", None, 50.0, (Task("10", 6.5, "any", needs=(Need("mech"),)),))
    cut = Job(
        "WO-2", None, 10.0, (Task("10", 6.0, "any", splittable=True, min_portion=3.0, needs=(Need("mech"),)),)
    )
    problem = staffed((long, replace(long, id="WO-3"), cut), [[(0, 6, 14)], [(1, 6, 14), (2, 6, 9)]])
    assert packed(problem, 2000) == pytest.approx(2 * 325.0, rel=1e-2)


def test_a_task_cut_over_two_days_is_late_by_the_second() -> None:
    job = Job(
        "WO-1",
        None,
        10.0,
        (Task("10", 16.0, "any", splittable=True, min_portion=2.0, needs=(Need("mech"),)),),
        due=at(0, 24),
    )
    problem = staffed((job,), [[(0, 6, 14), (1, 6, 14)]])
    assert packed(problem) == pytest.approx(160 * (1 - 0.08), rel=1e-3)


def test_what_waits_for_a_task_that_is_cut_starts_on_no_day_before_its_end() -> None:
    first = Task("10", 16.0, "any", splittable=True, min_portion=2.0, needs=(Need("mech"),))
    then = Task("20", 2.0, "any", (After("10"),), needs=(Need("mech"),))
    problem = staffed(
        (Job("WO-1", None, 10.0, (first, then), due=at(1, 24)),), [[(0, 6, 14), (1, 6, 14), (3, 6, 14)]]
    )
    assert packed(problem) == pytest.approx(180 * (1 - 2 * 0.08), rel=1e-3)


def test_an_asset_that_takes_one_job_at_a_time_packs_jobs_into_its_windows() -> None:
    asset = Asset(
        "lift", None, (Interval(at(0, 6), at(0, 12)), Interval(at(1, 6), at(1, 12))), one_job_at_a_time=True
    )
    jobs = tuple(Job(f"WO-{n}", "lift", 10.0, (stopped("10", 4.0),)) for n in range(3))
    problem = staffed(jobs, [[(0, 6, 14), (1, 6, 14)]] * 3, asset)
    assert worth_of_best(problem) == pytest.approx(80.0)
    assert packed(problem, 2000) == pytest.approx(80.0, rel=1e-2)
