"""A week that crews can work: one stretch out of service for each asset, time for the way, and what loose
ends cost."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from itertools import product

import networkx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.timeline import Interval
from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.building.build import Limits, build, plan_placements
from nundine.core.week.check import check
from nundine.core.week.problem import (
    BY_TASK,
    PRICED,
    WHOLE,
    After,
    Asset,
    Craft,
    CraftLevel,
    Job,
    Need,
    Person,
    PersonHours,
    Placement,
    Seat,
    Task,
    Travel,
    WeekProblem,
    Weights,
    shortest_ways,
)
from nundine.core.week.search import compiled
from nundine.core.week.search.compiled import Compiled
from tests.core.test_build import unfinished
from tests.core.test_check import MONDAY, WEEK, at
from tests.core.test_search import plain as search
from tests.examples import examples
from tests.weeks import random_week, workable_week
from tests.words import said

WEEKS = st.builds(
    workable_week, st.integers(0, 10**6), st.sampled_from((2, 5, 9)), st.sampled_from((3, 12, 30))
)
slowly = examples(30)


@pytest.fixture(scope="module", autouse=True)
def loaded() -> None:
    assert compiled.load()


def worker(name: str, area: str = "north", start: float = 6.0, end: float = 14.0) -> Person:
    hours = tuple(PersonHours(at(d, start), at(d, end), False, MONDAY + timedelta(days=d)) for d in range(5))
    return Person(name, (CraftLevel("mech", 2),), (), area, None, hours)


def steps(*hours: float, state: str = "stopped") -> tuple[Task, ...]:
    """Tasks one after another, for one mechanic each."""
    return tuple(
        Task(str(n), h, state, (After(str(n - 1)),) if n else (), needs=(Need("mech"),))
        for n, h in enumerate(hours)
    )


def week(
    *jobs: Job,
    work: tuple[Interval, ...] | None = None,
    weights: Weights = PRICED,
    places: tuple[Asset, ...] = (),
    **more,
) -> WeekProblem:
    """Lift in the north, pump at the lake, half an hour apart, unless other places are given."""
    given = {
        "people": (worker("anna"), worker("ben"), worker("lea", "lake")),
        "travel": (Travel("north", "lake", 30),),
        **more,
    }
    return WeekProblem(
        "2026-W49",
        "Europe/Zurich",
        WEEK.start,
        WEEK.end,
        weights=weights,
        crafts=(Craft("mech"),),
        jobs=jobs,
        assets=places or (Asset("lift", "north", work), Asset("pump", "lake")),
        **given,
    )


def placed(job: str, task: str, day: int, start: float, hours: float, *people: str | None) -> Placement:
    begun = at(day, start)
    seats = tuple(Seat(p, "mech") for p in people)
    return Placement(job, task, 1, MONDAY + timedelta(days=day), begun, begun + timedelta(hours=hours), seats)


def codes(problem: WeekProblem, *placements: Placement) -> list[str]:
    found = check(problem, placements).errors
    assert len(said(found)) == len(found)
    return [b.code for b in found]


TWO = Job("WO-1", "lift", 50.0, steps(2.0, 2.0), out_of_service=WHOLE)
NIGHTS = (Interval(at(0, 6), at(0, 14)), Interval(at(1, 6), at(1, 14)))
ON_TWO_DAYS = (placed("WO-1", "0", 0, 8, 2, "anna"), placed("WO-1", "1", 1, 8, 2, "anna"))


# ---------------------------------------------------------------- out of service


def test_a_job_that_keeps_its_asset_out_lies_in_one_stretch_of_its_work_windows() -> None:
    assert codes(week(TWO, work=NIGHTS), *ON_TWO_DAYS) == ["out of service"]
    assert codes(week(replace(TWO, out_of_service=BY_TASK), work=NIGHTS), *ON_TWO_DAYS) == []
    assert codes(week(TWO), *ON_TWO_DAYS) == []


def test_a_run_window_between_two_tasks_tears_a_stretch() -> None:
    one_day = (placed("WO-1", "0", 0, 6, 2, "anna"), placed("WO-1", "1", 0, 12, 2, "anna"))
    lift = Asset("lift", "north", None, (Interval(at(0, 9), at(0, 11)),))
    assert codes(replace(week(TWO), assets=(lift, Asset("pump", "lake"))), *one_day) == ["out of service"]


def test_an_asset_that_is_out_since_last_week_is_out_from_the_first_slot_on() -> None:
    since = replace(TWO, out_since=WEEK.start - timedelta(days=2))
    today = (placed("WO-1", "0", 1, 6, 2, "anna"), placed("WO-1", "1", 1, 8, 2, "anna"))
    assert codes(week(TWO, work=NIGHTS), *today) == []
    assert codes(week(since, work=NIGHTS), *today) == ["out of service"]


def test_nobody_runs_an_asset_that_another_job_keeps_out() -> None:
    trial = Job("WO-2", "lift", 10.0, steps(1.0, state="running"), out_of_service=WHOLE)
    between = placed("WO-2", "0", 0, 12, 1, "ben")
    assert codes(week(TWO, trial), *ON_TWO_DAYS, between) == ["out of service"]
    assert codes(week(replace(TWO, out_of_service=BY_TASK), trial), *ON_TWO_DAYS, between) == []


def test_a_job_whose_order_asks_for_a_trial_run_between_goes_back_in_between() -> None:
    tasks = (
        *steps(1.0),
        *(replace(t, id=f"1{t.id}", after=(After("0"),)) for t in steps(1.0, state="running")),
    )
    tasks = (*tasks, Task("20", 1.0, "stopped", (After("10"),), needs=(Need("mech"),)))
    assert not Job("WO-1", "lift", 1.0, tasks, out_of_service=WHOLE).stays_out
    assert Job("WO-1", "lift", 1.0, tasks[:2], out_of_service=WHOLE).stays_out


def test_fixed_work_that_tears_a_stretch_is_a_conflict_and_the_rest_goes_where_it_can() -> None:
    three = replace(TWO, tasks=steps(2.0, 2.0, 2.0))
    torn = week(three, work=NIGHTS).with_placements(ON_TWO_DAYS)
    found = check(torn, (*ON_TWO_DAYS, placed("WO-1", "2", 1, 10, 2, "anna")))
    assert [b.code for b in found.conflicts] == ["out of service"] and not found.errors
    assert {p.task for p in build(torn, limits=Limits(iterations=50), helps=False).placements} == {
        "0",
        "1",
        "2",
    }


def test_what_is_left_of_a_job_stays_in_the_stretch_of_its_fixed_part() -> None:
    first = placed("WO-1", "0", 0, 8, 2, "anna")
    plan = build(week(TWO, work=NIGHTS).with_placements((first,)), limits=Limits(iterations=50), helps=False)
    second = next(p for p in plan.placements if p.task == "1")
    assert second.start == at(0, 10) and second.people[0].id == "anna"


# ---------------------------------------------------------------- the way


LIFT, PUMP = Job("WO-1", "lift", 50.0, steps(2.0)), Job("WO-2", "pump", 50.0, steps(2.0))


def test_between_two_seats_in_different_areas_lies_the_way() -> None:
    first = placed("WO-1", "0", 0, 6, 2, "anna")
    assert codes(week(LIFT, PUMP), first, placed("WO-2", "0", 0, 8.25, 2, "anna")) == ["travel"]
    assert codes(week(LIFT, PUMP), first, placed("WO-2", "0", 0, 8.5, 2, "anna")) == []
    assert codes(week(LIFT, PUMP), first, placed("WO-2", "0", 0, 8.25, 2, "ben")) == []


def test_the_way_counts_from_one_shift_into_the_next_one_too() -> None:
    late = Person(
        "anna",
        (CraftLevel("mech", 2),),
        (),
        "north",
        None,
        (
            PersonHours(at(0, 14), at(0, 22), False, MONDAY),
            PersonHours(at(0, 22), at(1, 6), False, MONDAY + timedelta(days=1)),
        ),
    )
    both = (
        placed("WO-1", "0", 0, 20, 2, "anna"),
        replace(placed("WO-2", "0", 0, 22, 2, "anna"), day=MONDAY + timedelta(days=1)),
    )
    assert codes(week(LIFT, PUMP, people=(late,)), *both) == ["travel"]


def test_work_that_has_no_area_is_passed_over() -> None:
    paper = replace(PUMP, asset=None, area=None, tasks=steps(0.25, state="any"))
    problem = week(LIFT, paper, Job("WO-3", "pump", 1.0, steps(1.0)))
    line = (placed("WO-1", "0", 0, 6, 2, "anna"), placed("WO-2", "0", 0, 8, 0.25, "anna"))
    assert codes(problem, *line, placed("WO-3", "0", 0, 8.25, 1, "anna")) == ["travel"]
    assert codes(problem, *line, placed("WO-3", "0", 0, 8.5, 1, "anna")) == []


def test_a_fixed_seat_off_the_grid_shuts_the_way_from_its_real_end() -> None:
    off = replace(
        placed("WO-1", "0", 0, 6, 2, "anna"),
        start=at(0, 6) + timedelta(minutes=5),
        end=at(0, 8) + timedelta(minutes=5),
    )
    anna = replace(worker("anna"), hours=worker("anna").hours[:1])
    problem = week(LIFT, PUMP, people=(anna,), weights=Weights()).with_placements((off,))
    plan = build(problem, limits=Limits(iterations=50), helps=False)
    assert next(p.start for p in plan.placements if p.job == "WO-2") == at(0, 8.75)


@given(
    st.lists(st.tuples(st.sampled_from("abcde"), st.sampled_from("abcde"), st.integers(0, 60)), max_size=9)
)
def test_ways_are_closed_over_shortest_paths_as_networkx_finds_them(ways: list[tuple[str, str, int]]) -> None:
    graph = networkx.Graph()
    for a, b, minutes in ways:
        if a != b:
            graph.add_edge(a, b, minutes=min(minutes, graph.get_edge_data(a, b, {"minutes": 999})["minutes"]))
    found = shortest_ways(tuple(Travel(*w) for w in ways))
    lengths = dict(networkx.all_pairs_dijkstra_path_length(graph, weight="minutes"))
    assert found == {(a, b): m for a, to in lengths.items() for b, m in to.items() if a != b and m > 0}


# ---------------------------------------------------------------- prices


def test_each_price_is_told_apart_and_taken_off_the_points() -> None:
    over = placed("WO-1", "1", 1, 8, 2, "ben")
    found = check(week(TWO), (ON_TWO_DAYS[0], over))
    assert found.prices.waiting == 10 * 22 and found.prices.handover == 200
    assert found.value == pytest.approx(found.points - 420) == 50 * 4 - 420
    assert [(w.hours, w.charged) for w in found.ends["WO-1"].waiting] == [(22, 22)]


def test_a_gap_is_charged_without_the_lag_and_up_to_the_cap() -> None:
    lagged = replace(TWO, tasks=(TWO.tasks[0], replace(TWO.tasks[1], after=(After("0", 20.0),))))
    assert check(week(lagged), ON_TWO_DAYS).prices.waiting == 10 * 2
    long = (ON_TWO_DAYS[0], placed("WO-1", "1", 4, 8, 2, "anna"))
    assert check(week(TWO), long).prices.waiting == 10 * 24


def test_handing_over_needs_a_craft_in_common_and_all_seats_filled() -> None:
    problem = week(TWO)
    assert check(problem, (ON_TWO_DAYS[0], placed("WO-1", "1", 0, 10, 2, "ben"))).prices.handover == 200
    assert check(problem, (ON_TWO_DAYS[0], placed("WO-1", "1", 0, 10, 2, None))).prices.handover == 0
    assert check(problem, (ON_TWO_DAYS[0], placed("WO-1", "1", 0, 10, 2, "anna"))).prices.handover == 0


def test_a_change_of_area_counts_within_a_shift_and_hours_away_from_where_the_shift_is_worked() -> None:
    both = (placed("WO-1", "0", 0, 6, 2, "anna"), placed("WO-2", "0", 0, 9, 2, "anna"))
    found = check(week(LIFT, PUMP), both)
    assert found.prices.area_change == 40 and found.prices.away == 2 * 2
    assert [(c.person, c.minutes) for c in found.area_changes] == [("anna", 30)]
    next_day = check(week(LIFT, PUMP), (both[0], placed("WO-2", "0", 1, 9, 2, "anna")))
    assert next_day.prices.area_change == 0
    lent = worker("anna")
    lent = replace(lent, hours=tuple(replace(h, area="lake") for h in lent.hours))
    assert check(week(PUMP, people=(lent,)), both[1:]).prices.away == 0


def test_without_prices_ways_and_assets_kept_out_the_value_is_that_of_the_first_format() -> None:
    problem = workable_week(3, 8, 25)
    plan = build(problem, limits=Limits(iterations=200), helps=False)
    first = replace(
        problem,
        weights=problem.weights.without_prices(),
        travel=(),
        jobs=tuple(replace(j, out_of_service=BY_TASK) for j in problem.jobs),
    )
    assert check(first, plan.placements).value == pytest.approx(check(problem, plan.placements).points)


def test_with_one_area_and_single_task_jobs_nothing_changes() -> None:
    """But that nobody runs an asset that another job keeps out, so nothing needs one running here."""
    one = random_week(5, 8, 25)
    jobs = tuple(
        replace(
            j,
            tasks=(
                replace(
                    j.tasks[0],
                    splittable=False,
                    hours=min(j.tasks[0].hours, 6.0),
                    asset_state="any" if j.tasks[0].asset_state == "running" else j.tasks[0].asset_state,
                ),
            ),
            area="north",
        )
        for j in one.jobs
    )
    people = tuple(replace(x, area="north") for x in one.people)
    plain = replace(one, jobs=jobs, people=people)
    priced = replace(
        plain,
        weights=PRICED,
        travel=(Travel("north", "south", 30),),
        jobs=tuple(replace(j, out_of_service=WHOLE) for j in jobs),
    )
    before, now = (search(p) for p in (plain, priced))
    before.dispatch()
    now.dispatch()
    assert now.best() == before.best() and now.value == pytest.approx(before.value)


# ---------------------------------------------------------------- the search


@slowly
@given(WEEKS, st.integers(0, 99))
def test_the_compiled_search_makes_the_very_same_moves_with_both_rules_and_all_prices(
    problem: WeekProblem, seed: int
) -> None:
    first = build(problem, limits=Limits(iterations=0), helps=False).placements
    draft = problem.with_placements(unfinished(first, seed))
    a, b = search(draft), Compiled(search(draft))
    a.dispatch()
    b.dispatch()
    assert b.value == pytest.approx(a.value)
    for step in range(30):
        a.step(40.0)
        b.steps(1, 40.0)
        assert b.value == pytest.approx(a.value, abs=1e-6), f"step {step}"
        assert int(b.k.dice[0]) == a.dice.state, f"step {step}"
    assert b.best() == a.best()


@slowly
@given(WEEKS)
def test_no_plan_breaks_a_rule_and_value_and_prices_are_those_of_the_check(problem: WeekProblem) -> None:
    fast = Compiled(search(problem))
    fast.dispatch()
    fast.steps(400, 20.0)
    board = Board(problem)
    for job_id, portions in fast.best().items():
        board.add(problem.job_by_id[job_id], portions)
    checked = check(problem, plan_placements(problem, board, Draft(Board(problem))))
    assert not checked.errors
    assert checked.value == pytest.approx(fast.best_value)
    assert checked.prices.area_change == pytest.approx(problem.weights.area_change * board.areas.changes)


@slowly
@given(WEEKS, st.integers(0, 99))
def test_a_build_around_an_unfinished_draft_breaks_no_rule(problem: WeekProblem, seed: int) -> None:
    first = build(problem, limits=Limits(iterations=50), helps=False).placements
    draft = problem.with_placements(unfinished(first, seed))
    plan = build(draft, limits=Limits(iterations=100), helps=False)
    found = check(draft, plan.placements)
    assert not found.errors and found.value <= plan.bound + 1e-6


# ---------------------------------------------------------------- against trying everything


def tiny(seed: int) -> WeekProblem:
    """Two people in two areas for six slots of an hour, three small jobs."""
    from random import Random

    r = Random(seed)
    hours = lambda: (PersonHours(at(0, 6), at(0, 12), False, MONDAY),)  # noqa: E731
    people = tuple(
        Person(n, (CraftLevel("mech", 2),), (), r.choice(("north", "lake")), None, hours())
        for n in ("anna", "ben")
    )
    open_ = r.choice((None, (Interval(at(0, 6), at(0, 9)), Interval(at(0, 10), at(0, 12)))))
    jobs = tuple(
        Job(
            f"WO-{n}",
            r.choice(("lift", "pump")),
            float(r.randrange(20, 90)),
            steps(*r.choice(((1.0,), (2.0,), (1.0, 1.0)))),
            out_of_service=r.choice((WHOLE, BY_TASK)),
        )
        for n in range(3)
    )
    weights = Weights(
        waiting_per_hour=r.choice((0.0, 15.0)),
        handover=r.choice((0.0, 30.0)),
        area_change=r.choice((0.0, 25.0)),
        away_per_hour=r.choice((0.0, 8.0)),
    )
    return replace(
        week(*jobs, work=open_, weights=weights, people=people, travel=(Travel("north", "lake", 60),)),
        slot_minutes=60,
    )


def best_of_all(problem: WeekProblem) -> float:
    """The most that any plan is worth, by trying every start and every person of every task."""
    options: list[list[tuple[Placement, ...]]] = []
    for job in problem.jobs:
        ways: list[tuple[Placement, ...]] = [()]
        of_task = [
            [
                placed(job.id, t.id, 0, 6 + s, t.hours, who)
                for s in range(6 - int(t.hours) + 1)
                for who in ("anna", "ben")
            ]
            for t in job.tasks
        ]
        for chosen in product(*of_task):
            if not check(problem, chosen).errors:
                ways.append(chosen)
        options.append(ways)
    best = 0.0
    for plan in product(*options):
        found = check(problem, tuple(p for its in plan for p in its))
        if not found.errors:
            best = max(best, found.value)
    return best


FEW_PLANS = (0, 1, 4, 6, 7, 8, 9, 10, 11, 13)
"""Weeks of which all plans are tried in seconds; those of others are twenty times as many."""


@pytest.mark.parametrize("seed", FEW_PLANS)
def test_tiny_weeks_are_built_to_the_best_of_all_plans_and_the_bound_lies_above_it(seed: int) -> None:
    problem = tiny(seed)
    best = best_of_all(problem)
    plan = build(problem, limits=Limits(iterations=400), helps=False)
    assert plan.value == pytest.approx(best)
    assert plan.bound >= best - 1e-6
