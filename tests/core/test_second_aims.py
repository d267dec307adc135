"""The second aims: nothing of the value is lost for them."""

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.problem import Craft, CraftLevel, Job, Need, Person, PersonHours, Task, WeekProblem
from nundine.core.week.search.plain import Search
from nundine.core.week.search.second_aims import Settling
from tests.core.test_check import MONDAY, WEEK, at, person
from tests.core.test_check import problem as check_problem
from tests.examples import examples
from tests.weeks import random_week

slowly = examples(30)


def settled(
    problem, portions: dict[str, list[Portion]], previous: dict[str, list[Portion]] | None = None
) -> Board:
    board = Board(problem)
    search = Search(board, list(problem.jobs), {}, 1)
    for name, its in portions.items():
        search._put(problem.job_by_id[name], its)
    before = search.value
    Settling(search, previous or {}).run()
    assert search.value == pytest.approx(before)
    return board


def two_crafts():
    tasks = (Task("10", 2.0, needs=(Need("mech"),)), Task("20", 2.0, needs=(Need("mech"),)))
    both = replace(person("ben", craft="elec"), crafts=(CraftLevel("elec", 2), CraftLevel("mech", 2)))
    people = (person("anna"), both, person("cleo"))
    job = Job("WO-1", None, 50.0, tasks)
    return replace(
        check_problem(),
        crafts=(Craft("mech"), Craft("elec")),
        people=people,
        assets=(),
        tools=(),
        jobs=(job,),
    ), tasks


def test_somebody_of_the_main_craft_takes_the_seat_of_one_of_a_second_craft() -> None:
    problem, tasks = two_crafts()
    board = settled(
        problem, {"WO-1": [Portion(tasks[0], 1, 24, 32, (1,)), Portion(tasks[1], 1, 32, 40, (0,))]}
    )
    assert all(board.main[n] == "mech" for p in board.placed["WO-1"] for n in p.people)


def test_a_job_goes_back_to_where_the_draft_before_had_it() -> None:
    problem, tasks = two_crafts()
    before = [Portion(tasks[0], 1, 124, 132, (2,)), Portion(tasks[1], 1, 132, 140, (2,))]
    board = settled(
        problem,
        {"WO-1": [Portion(tasks[0], 1, 24, 32, (0,)), Portion(tasks[1], 1, 32, 40, (0,))]},
        {"WO-1": before},
    )
    assert board.placed["WO-1"] == before


@slowly
@given(st.integers(0, 10**6))
def test_a_rebuild_from_its_draft_is_worth_no_less_and_breaks_no_rule(seed: int) -> None:
    problem = random_week(seed, 8, 25)
    first = build(problem, limits=Limits(iterations=80), helps=False, known_bound=float("inf"))
    again = build(
        replace(problem, previous=first.placements),
        limits=Limits(iterations=80),
        seed=9,
        helps=False,
        known_bound=float("inf"),
    )
    assert not check(problem, again.placements).errors
    assert again.value >= first.value - 1e-6


def test_a_team_is_of_one_crew_where_that_costs_nothing() -> None:
    hours = tuple(PersonHours(at(d, 6), at(d, 14), False, MONDAY + timedelta(days=d)) for d in range(5))
    names = (("a", "blue"), ("b", "red"), ("c", "blue"))
    people = tuple(Person(n, (CraftLevel("mech", 2),), (), "north", crew, hours) for n, crew in names)
    job = Job("WO-1", None, 50.0, (Task("10", 4.0, needs=(Need("mech", people=2),)),), "north")
    problem = WeekProblem(
        "2026-W49", "Europe/Zurich", WEEK.start, WEEK.end, crafts=(Craft("mech"),), people=people, jobs=(job,)
    )
    plan = build(problem, limits=Limits(iterations=0), helps=False)
    assert sorted(s.id or "" for s in plan.placements[0].people) == ["a", "c"]
