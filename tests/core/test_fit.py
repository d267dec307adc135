"""Where a job finds its place: the earliest by itself, by chance where little is left free around it."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.dice import Dice
from nundine.core.week.board.draft import Draft
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.building.build import plan_placements
from nundine.core.week.check import check
from nundine.core.week.problem import Craft, CraftLevel, Job, Need, Person, PersonHours, Task, WeekProblem
from nundine.core.week.search import compiled
from nundine.core.week.search.compiled import Compiled
from nundine.core.week.search.plain import Search
from tests.examples import examples
from tests.weeks import random_week

MONDAY = datetime(2026, 11, 30, tzinfo=UTC)


class Fixed(Dice):
    """Dice that always give the same."""

    def __init__(self, unit: float) -> None:
        super().__init__(1)
        self.given = unit

    def unit(self) -> float:
        return self.given


FLUSH, SNUG, PLAIN = Fixed(0.0), Fixed(0.5), Fixed(0.99)


def at(hour: float) -> datetime:
    return MONDAY + timedelta(hours=hour)


def person(
    name: str,
    *hours: tuple[float, float],
    overtime: tuple[float, float] | None = None,
    also: str | None = None,
) -> Person:
    own = [PersonHours(at(a), at(b), False, at(a).date()) for a, b in hours]
    if overtime:
        own.append(PersonHours(at(overtime[0]), at(overtime[1]), True, at(overtime[0]).date()))
    return Person(name, (CraftLevel("mech", 1), *([CraftLevel(also, 1)] if also else [])), hours=tuple(own))


def job(name: str, hours: float, people: int = 1) -> Job:
    return Job(name, None, 50.0, (Task("10", hours, needs=(Need("mech", 1, people),)),))


def week(people: list[Person], *jobs: Job) -> WeekProblem:
    return WeekProblem(
        "2026-W49",
        "UTC",
        MONDAY,
        at(168),
        crafts=(Craft("mech", 0.0), Craft("elec", 0.0)),
        people=tuple(people),
        jobs=jobs,
    )


def place(problem: WeekProblem, dice: Dice | None, overtime: bool = True) -> tuple[float, list[str]]:
    """Where the first job goes: the hour of its start and its people."""
    board = Board(problem)
    found = Fitter(board).fit(problem.jobs[0], Freedom(overtime=overtime, dice=dice))
    assert found is not None
    return found[0].start / 4, [board.people[n].id for n in found[0].people if n is not None]


def test_without_chance_a_job_starts_as_early_as_it_can() -> None:
    problem = week([person("long", (8, 16)), person("short", (10, 12))], job("a", 2))
    assert place(problem, None) == (8, ["long"])
    assert place(problem, PLAIN) == (8, ["long"])


def test_by_chance_a_job_goes_where_it_fills_a_free_stretch() -> None:
    problem = week([person("long", (8, 16)), person("short", (10, 12))], job("a", 2))
    assert place(problem, FLUSH) == (10, ["short"])


def test_a_stretch_that_is_left_between_two_jobs_is_filled_too() -> None:
    problem = week([person("p", (8, 16))], job("a", 2))
    board = Board(problem)
    other = Task("x", 2, needs=(Need("mech", 1, 1),))
    board.add(
        Job("b", None, 10.0, (other,)),
        [Portion(other, 1, 4 * 9, 4 * 12, (0,)), Portion(other, 2, 4 * 14, 4 * 15, (0,))],
    )
    found = Fitter(board).fit(problem.jobs[0], Freedom(dice=FLUSH))
    assert found is not None
    assert (found[0].start, found[0].end) == (4 * 12, 4 * 14)


def test_where_no_stretch_can_be_filled_the_job_starts_as_early_as_it_can() -> None:
    assert place(week([person("long", (8, 16)), person("short", (10, 13))], job("a", 2)), FLUSH) == (
        8,
        ["long"],
    )


def test_by_chance_the_person_is_taken_of_whose_free_stretch_least_is_left() -> None:
    people = [person("a", (8, 16)), person("b", (8, 11)), person("c", (8, 12))]
    problem = week(people, job("j", 2))
    assert place(problem, None) == (8, ["a"])
    assert place(problem, SNUG) == (8, ["b"])


def test_a_team_is_taken_of_those_of_whose_free_stretches_least_is_left() -> None:
    people = [person("a", (8, 16)), person("b", (8, 11)), person("c", (8, 12))]
    start, team = place(week(people, job("j", 2, people=2)), SNUG)
    assert (start, sorted(team)) == (8, ["b", "c"])


def test_regular_hours_come_before_overtime_whatever_is_left_free() -> None:
    people = [person("over", overtime=(8, 10)), person("own", (8, 16))]
    assert place(week(people, job("j", 2)), SNUG) == (8, ["own"])


def test_of_people_with_as_much_left_the_least_able_is_taken() -> None:
    people = [person("both", (8, 11), also="elec"), person("one", (8, 11))]
    assert place(week(people, job("j", 2)), SNUG) == (8, ["one"])


def test_a_task_of_seventeen_hours_goes_into_a_shift_of_twenty_four_compiled_too() -> None:
    assert compiled.load()
    problem = week([person("a", (0, 24))], job("long", 17))
    search = Search(Board(problem), list(problem.jobs), {}, 1)
    fast = Compiled(search)
    search.dispatch()
    fast.dispatch()
    assert search.placed == fast.placed == 1
    assert fast.best() == search.best()


@examples(40)
@given(st.integers(0, 10**6), st.sampled_from((FLUSH, SNUG, PLAIN, Dice(5))))
def test_no_place_that_is_found_by_chance_breaks_a_rule(seed: int, dice: Dice) -> None:
    problem = random_week(seed, 6, 25)
    board = Board(problem)
    for one in problem.jobs:
        found = Fitter(board).fit(one, Freedom(dice=dice), None, one.divisible)
        if found:
            board.add(one, found)
    assert not check(problem, plan_placements(problem, board, Draft(Board(problem)))).errors


@examples(40)
@given(st.integers(0, 10**6))
def test_a_job_finds_a_place_by_chance_whenever_it_finds_one_without(seed: int) -> None:
    problem = random_week(seed, 5, 15)
    for one in problem.jobs:
        single = len(one.tasks) == 1 and not one.tasks[0].splittable
        if single:
            plain, snug = (Fitter(Board(problem)).fit(one, Freedom(dice=d)) for d in (None, SNUG))
            assert (plain is None) == (snug is None)


@pytest.mark.parametrize("seed", range(6))
def test_a_ruin_of_people_takes_the_leading_job_and_the_work_of_three_people_at_most(seed: int) -> None:
    problem = random_week(seed, 12, 60)
    search = Search(Board(problem), list(problem.jobs), {}, seed)
    search.dispatch()
    pool = [j for j in search.rank if search.movable(j.id)]
    for _ in range(10):
        lead = pool[search.dice.below(len(pool))]
        taken = search._of_people(pool, lead)
        assert lead in taken
        teams = [{n for p in search.best()[j.id] for n in p.people} for j in taken if j is not lead]
        everybody = sorted({n for team in teams for n in team if n is not None})
        covers = [
            (a, b, c)
            for a in everybody
            for b in everybody
            for c in everybody
            if all(team & {a, b, c} for team in teams)
        ]
        assert covers or not teams
