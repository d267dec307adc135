"""The proven bound: never below a plan, never raised by more jobs being fixed, never lowered by more people
or hours."""

from dataclasses import replace
from datetime import timedelta
from itertools import permutations, product
from random import Random
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from nundine.core.week.board.board import Board
from nundine.core.week.bound import price_tables, prove
from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.bound.price_tables import Priced
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.problem import Craft, Job, Need, PersonHours, Task, WeekProblem
from nundine.core.week.search import compiled, exact
from tests.core.packed import packed
from tests.core.test_build import unfinished
from tests.core.test_check import MONDAY, at, person
from tests.core.test_check import problem as check_problem
from tests.examples import examples
from tests.weeks import random_week

slowly = examples(60)
few = examples(25)
WEEKS = st.builds(
    random_week, st.integers(0, 10**6), st.sampled_from((1, 3, 6, 10)), st.sampled_from((1, 5, 15, 30))
)


@pytest.fixture(scope="module", autouse=True)
def loaded() -> None:
    assert compiled.load()


@slowly
@given(WEEKS)
def test_no_plan_is_worth_more_than_either_bound(problem: WeekProblem) -> None:
    value = build(problem, limits=Limits(iterations=400), helps=False, known_bound=float("inf")).value
    assert value <= packed(problem) + 1e-6
    assert value <= by_hours(problem) + 1e-6


@few
@given(WEEKS)
def test_a_bound_for_who_waits_is_what_all_work_is_worth_in_a_large_week_and_lies_above_any_plan(
    problem: WeekProblem,
) -> None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(prove, "MOST_JOBS_BY_HOURS", 0)
        patch.setattr(prove, "proven_within", lambda *_: pytest.fail("it waits for a proof"))
        at_once = prove.soon(problem, 5.0)
    assert at_once >= by_hours(problem) * (1 - 1e-6)
    value = build(problem, limits=Limits(iterations=100), helps=False, known_bound=float("inf")).value
    assert value <= at_once + 1e-6


@slowly
@given(WEEKS, st.integers(0, 99))
def test_no_finished_draft_is_worth_more_than_either_bound_of_the_draft(
    problem: WeekProblem, seed: int
) -> None:
    first = build(problem, limits=Limits(iterations=30), helps=False, known_bound=float("inf"))
    draft = problem.with_placements(unfinished(first.placements, seed))
    value = build(draft, limits=Limits(iterations=100), helps=False, known_bound=float("inf")).value
    assert value <= packed(draft) + 1e-6
    assert value <= by_hours(draft) + 1e-6


@slowly
@given(WEEKS)
def test_any_prices_give_a_bound_and_more_steps_only_lower_it(problem: WeekProblem) -> None:
    relaxation = Relaxation(problem)
    if not len(relaxation.k.jobs):
        return
    found = [relaxation.lower(n, 0.0) for n in (1, 1, 5, 20, 100)]
    assert found == sorted(found, reverse=True)
    value = build(problem, limits=Limits(iterations=50), helps=False, known_bound=float("inf")).value
    assert value <= found[-1] + 1e-6


@examples(15)
@given(st.integers(0, 10**6), st.sampled_from((2, 4)), st.sampled_from((3, 6)))
def test_what_is_proven_exactly_is_above_no_plan_and_below_the_bounds(
    seed: int, people: int, jobs: int
) -> None:
    problem = random_week(seed, people, jobs)
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=4)
    if found.whole and found.optimal:
        assert found.value == pytest.approx(found.bound, abs=1.0)
        assert found.value <= packed(problem) + 1e-6
        assert found.value <= by_hours(problem) + 1e-6
        searched = build(problem, limits=Limits(iterations=1500), helps=False, known_bound=float("inf")).value
        assert searched <= found.bound + 1e-6


def test_the_search_reaches_nearly_all_of_what_is_proven_in_small_weeks() -> None:
    reached = proven = 0.0
    for seed in (7, 360, 427, 1000, 2000, 3000, 4000, 5000):
        problem = random_week(seed, 2 + 2 * (seed % 2), 3)
        found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=4)
        if found.whole and found.optimal:
            proven += found.value
            reached += build(
                problem, limits=Limits(iterations=1500), helps=False, known_bound=float("inf")
            ).value
    assert reached >= 0.9 * proven > 0


def test_two_needs_of_one_craft_find_the_hours_in_which_two_people_are_there() -> None:
    problem = random_week(360, 2, 3)
    plan = build(problem, limits=Limits(iterations=1), helps=False, known_bound=float("inf"))
    assert {p.job for p in plan.placements} == {"WO-0000"}


def test_lateness_of_a_divisible_job_counts_in_the_exact_model_as_in_the_value() -> None:
    for seed in range(40):
        problem = random_week(seed, 2, 3)
        late = [replace(j, divisible=True, due=problem.start + timedelta(days=1)) for j in problem.jobs]
        problem = replace(problem, jobs=tuple(late))
        found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=4)
        if found.whole and found.optimal:
            assert found.value == pytest.approx(found.bound, abs=1.0)
            assert (
                build(problem, limits=Limits(iterations=300), helps=False, known_bound=float("inf")).value
                <= found.bound + 1e-6
            )


@pytest.mark.long
def test_a_small_week_is_built_to_its_proven_optimum() -> None:
    """It ends as soon as one of the weeks is proven, however long that takes here."""
    for seed in range(8):
        plan = build(random_week(seed, 4, 8), limits=Limits(seconds=60), helps=False)
        assert plan.value <= plan.bound + 1e-6
        if plan.status == "optimal":
            return
    raise AssertionError("none of eight small weeks was proven")


def tiny(seed: int) -> WeekProblem:
    """Two people with a day of four hours each, four jobs of whole hours: few enough to try everything."""
    r = Random(seed)
    day = (PersonHours(at(0, 6), at(0, 10), False, MONDAY),)
    people = tuple(replace(person(n, r.choice((1, 2, 3))), hours=day) for n in ("anna", "ben"))
    jobs = []
    for n in range(4):
        task = Task(
            "10",
            float(r.choice((1, 2, 3))),
            "any",
            needs=(Need("mech", r.choice((1, 1, 2, 3)), r.choice((1, 1, 2))),),
        )
        earliest = at(0, r.choice((6, 7, 8))) if r.random() < 0.4 else None
        latest = at(0, r.choice((8, 9, 10))) if r.random() < 0.4 else None
        jobs.append(
            Job(
                f"WO-{n}",
                None,
                float(r.randrange(1, 99)),
                (task,),
                None,
                r.random() < 0.2,
                False,
                earliest,
                at(-1, 0),
                latest,
            )
        )
    return replace(
        check_problem(),
        slot_minutes=60,
        crafts=(Craft("mech"),),
        people=people,
        assets=(),
        tools=(),
        jobs=tuple(jobs),
    )


def best_of_all(problem: WeekProblem) -> float:
    """The value of the best plan, by trying every start and every crew of every job."""
    from nundine.core.week.problem import Placement, Seat

    choices = []
    for job in problem.jobs:
        task, ways = job.tasks[0], [None]
        for hour in range(6, 10):
            for crew in permutations(problem.people, task.people):
                end = at(0, hour) + timedelta(hours=task.hours)
                seats = tuple(Seat(x.id, "mech") for x in crew)
                ways.append(Placement(job.id, "10", 1, MONDAY, at(0, hour), end, seats))
        alone = [
            w for w in ways if w is None or not [b for b in check(problem, (w,)).errors if b.code != "whole"]
        ]
        choices.append(alone)
    best = 0.0
    for chosen in product(*choices):
        plan = tuple(c for c in chosen if c is not None)
        checked = check(problem, plan)
        if not checked.errors:
            best = max(best, checked.value)
    return best


@pytest.mark.parametrize("seed", range(120))
def test_the_exact_model_finds_what_trying_everything_finds(seed: int) -> None:
    problem = tiny(seed)
    best = best_of_all(problem)
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=10)
    assert found.optimal
    assert found.whole
    assert found.value == pytest.approx(best)
    assert packed(problem) >= best - 1e-6
    assert by_hours(problem) >= best - 1e-6


def shuffled(problem: WeekProblem, r: Random) -> WeekProblem:
    """The same week with people and jobs in another order and under other names."""
    people, jobs = list(problem.people), list(problem.jobs)
    r.shuffle(people)
    r.shuffle(jobs)
    renamed = tuple(replace(x, id=f"q{n}") for n, x in enumerate(people))
    return replace(problem, people=renamed, jobs=tuple(replace(j, id=f"J{n}") for n, j in enumerate(jobs)))


def with_a_person_more(problem: WeekProblem) -> WeekProblem:
    return replace(problem, people=(*problem.people, replace(problem.people[0], id="new")))


def with_an_hour_more(problem: WeekProblem, r: Random) -> WeekProblem:
    """Somebody stays an hour longer on one day, as far as their next shift does not begin before."""
    who = r.choice([x for x in problem.people if x.hours])
    longest = r.choice(who.hours)
    end = min([longest.end + timedelta(hours=1)] + [h.start for h in who.hours if h.start >= longest.end])
    hours = tuple(replace(h, end=end) if h is longest else h for h in who.hours)
    return replace(problem, people=tuple(replace(x, hours=hours) if x is who else x for x in problem.people))


def proven_best(problem: WeekProblem) -> float:
    """The proven optimum of a small week; weeks that take long are passed over."""
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=5, prove=True)
    assume(found.optimal and found.whole)
    return found.value


def at_one_price(problem: WeekProblem, points: float) -> float:
    """The packing bound where a slot of every seat costs the same."""
    relaxation = Relaxation(problem)
    relaxation.prices[:] = points * relaxation.k.unit
    relaxation.prices[len(relaxation.k.unit) - len(relaxation.k.budget) - len(relaxation.k.limit) :] = 0.0
    return relaxation.lower(1, 0.0) if len(relaxation.k.jobs) else relaxation.constant


@slowly
@given(st.integers(0, 10**6), st.randoms(use_true_random=False), st.sampled_from((2.0, 10.0, 30.0)))
def test_the_order_and_names_of_people_and_jobs_do_not_change_a_bound(
    seed: int, r: Random, points: float
) -> None:
    problem = random_week(seed, 5, 10)
    again = shuffled(problem, r)
    assert by_hours(again) == pytest.approx(by_hours(problem), rel=1e-5, abs=1e-3)
    assert at_one_price(again, points) == pytest.approx(at_one_price(problem, points))


@pytest.mark.long
@few
@given(st.integers(0, 10**6), st.randoms(use_true_random=False))
def test_the_order_and_names_of_people_and_jobs_do_not_change_a_proven_optimum(seed: int, r: Random) -> None:
    problem = random_week(seed, 3, 6)
    assert proven_best(shuffled(problem, r)) == pytest.approx(proven_best(problem), rel=1e-5, abs=0.05)


@slowly
@given(st.integers(0, 10**6), st.randoms(use_true_random=False))
def test_a_person_or_an_hour_more_never_lowers_the_bound_by_hours(seed: int, r: Random) -> None:
    problem = random_week(seed, 5, 12)
    for more in (with_a_person_more(problem), with_an_hour_more(problem, r)):
        assert by_hours(more) >= by_hours(problem) - 1e-3


@pytest.mark.long
@few
@given(st.integers(0, 10**6), st.randoms(use_true_random=False))
def test_a_person_or_an_hour_more_never_lowers_a_proven_optimum_nor_the_packing_bound_below_it(
    seed: int, r: Random
) -> None:
    problem = random_week(seed, 3, 6)
    best = proven_best(problem)
    for more in (with_a_person_more(problem), with_an_hour_more(problem, r)):
        assert proven_best(more) >= best - 0.05
        assert packed(more, 200) >= best - 0.05


@pytest.mark.long
@slowly
@given(WEEKS)
def test_the_bounds_of_two_halves_of_the_jobs_add_up_to_no_less_than_any_plan(problem: WeekProblem) -> None:
    half = len(problem.jobs) // 2
    one, other = replace(problem, jobs=problem.jobs[:half]), replace(problem, jobs=problem.jobs[half:])
    value = build(problem, limits=Limits(iterations=50), helps=False, known_bound=float("inf")).value
    assert value <= packed(one) + packed(other) + 1e-6


def dearest(k: Priced, r: int, prices: Any) -> float:
    """The dearest set of seats of a stretch, every item tried at every number of slots."""
    first, count = int(k.runs[r, price_tables.R_FIRST]), int(k.runs[r, price_tables.R_COUNT])
    per_slot = float(k.price_over[0]) if k.runs[r, price_tables.R_OVERTIME] == 1 else 0.0

    def table(n: int) -> list[float]:
        own = k.nodes[n]
        best = [0.0] * (int(own[price_tables.N_SIZE]) + 1)

        def choose(worth: list[float]) -> None:
            best[:] = [
                max(best[c - d] + worth[d] for d in range(min(c, len(worth) - 1) + 1))
                for c in range(len(best))
            ]

        for i in range(
            own[price_tables.N_FIRST],
            own[price_tables.N_FIRST] + own[price_tables.N_COUNT] + own[price_tables.N_SPLIT],
        ):
            price, slots, least = prices[k.items[i, 0]], int(k.items[i, 1]), int(k.items[i, 2])
            if i < own[price_tables.N_FIRST] + own[price_tables.N_COUNT]:
                choose([0.0] * slots + [max(0.0, price - per_slot * slots)])
            else:
                choose([max(0.0, price - per_slot) * d if d >= least else 0.0 for d in range(slots + 1)])
        for m in range(first, first + count):
            if k.nodes[m, price_tables.N_PARENT] == n:
                choose(table(m))
        return best

    return table(first + count - 1)[-1] * int(k.runs[r, price_tables.R_TIMES])


@pytest.mark.parametrize("seed", range(25))
def test_what_hours_could_earn_is_the_dearest_of_all_sets_of_seats(seed: int) -> None:
    compiled.load()
    relaxation = Relaxation(random_week(seed, 6, 25))
    k, dice = relaxation.k, Random(seed)
    beyond = 2 * float(
        k.value.sum()
    )  # so dear that no job buys a seat: what is left of the bound is what hours could earn
    relaxation.prices[:] = 0.0
    of_seats = len(relaxation.prices) - len(k.budget) - len(k.limit)
    relaxation.prices[:of_seats] = [beyond * (1 + dice.random()) for _ in range(of_seats)]
    prices = relaxation.prices.copy()
    assert relaxation.lower(1, 0.0) == pytest.approx(
        relaxation.constant + sum(dearest(k, r, prices) for r in range(len(k.runs)))
    )
