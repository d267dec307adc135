"""Mending a week: no rule broken, few moves, what stays stays, a break-in comes in."""

from dataclasses import replace
from datetime import timedelta
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.mending.mend import Mended, mend
from nundine.core.week.problem import After, Craft, Job, Need, Placement, Task, WeekProblem
from nundine.core.week.search import compiled
from nundine.services import wording
from tests.core.test_check import at, person, place
from tests.core.test_check import problem as check_problem
from tests.core.test_untimed import untimed
from tests.examples import examples
from tests.weeks import random_week

slowly = examples(40)
SEEDS = st.integers(0, 10**6)
ANY_BOUND = 1e12
"""Spares proving a bound, which has no part in these rules."""


@pytest.fixture(scope="module", autouse=True)
def weeks_are_built_fast() -> None:
    compiled.load()


def without_a_day(problem: WeekProblem, person: str, day) -> WeekProblem:
    """The week in which the person does not come on that day."""
    people = tuple(
        replace(x, hours=tuple(h for h in x.hours if h.day != day)) if x.id == person else x
        for x in problem.people
    )
    return replace(problem, people=people)


def sick_week(seed: int):
    problem = random_week(seed, 10, 30)
    plan = build(problem, limits=Limits(iterations=60), helps=False, known_bound=ANY_BOUND).placements
    seats = sorted({(s.id, p.day) for p in plan for s in p.people})
    person, day = Random(seed).choice(seats)
    return problem, plan, without_a_day(problem, person, day), person, day


def hard(problem: WeekProblem, mended: Mended) -> list:
    return [
        b
        for b in check(problem.with_placements(mended.placements), mended.placements).conflicts
        if b.code != "held back"
    ]


@slowly
@given(SEEDS)
def test_after_a_sick_day_no_rule_is_broken_and_only_what_had_to_move_moves(seed: int) -> None:
    _, plan, now, person, day = sick_week(seed)
    mended = mend(now, plan)
    assert not hard(now, mended)
    hit = {p.key for p in plan if p.day == day and any(s.id == person for s in p.people)}
    moved = {(m.before or m.after).key for m in mended.moves}
    assert hit <= moved
    assert all(wording.move(m, wording.PLAIN) for m in mended.moves)
    same = {p.key: p for p in mended.placements}
    assert all(same[p.key] == p for p in plan if p.key not in moved)


@slowly
@given(SEEDS)
def test_nothing_moves_that_could_have_stayed(seed: int) -> None:
    _, plan, now, *_ = sick_week(seed)
    mended = mend(now, plan)
    broken = len(hard(now, mended))
    for move in mended.moves:
        if (
            move.before is not None
            and move.after is not None
            and move.before.end - move.before.start == move.after.end - move.after.start
        ):
            as_promised = tuple(move.before if p.key == move.before.key else p for p in mended.placements)
            assert len(hard(now, replace(mended, placements=as_promised))) > broken, move


@slowly
@given(SEEDS)
def test_people_who_do_the_same_on_a_task_do_not_change_seats(seed: int) -> None:
    _, plan, now, *_ = sick_week(seed)
    for move in mend(now, plan).moves:
        if move.before is not None and move.after is not None:
            needs = now.task_by_id[(move.before.job, move.before.task)].seat_needs
            seats = list(zip(needs, move.before.people, move.after.people, strict=True))
            changed = [(need, was.id, now_on.id) for need, was, now_on in seats if was.id != now_on.id]
            assert not [a for a in changed for b in changed if (a[0], a[1]) == (b[0], b[2])], move


@slowly
@given(SEEDS)
def test_a_week_in_which_nothing_changed_needs_no_move(seed: int) -> None:
    problem, plan, *_ = sick_week(seed)
    assert mend(problem, plan).moves == ()


@slowly
@given(SEEDS)
def test_what_is_under_way_stays_and_nothing_starts_before_now(seed: int) -> None:
    _, plan, now, person, day = sick_week(seed)
    moment = now.start + timedelta(days=2, hours=9)
    mended = mend(now, plan, now=moment)
    after = {p.key: p for p in mended.placements}
    for p in plan:
        if p.start < moment:
            assert after[p.key] == p
        elif p.key in after and after[p.key] != p:
            assert after[p.key].start >= moment


@slowly
@given(SEEDS)
def test_a_lost_window_moves_or_frees_its_work(seed: int) -> None:
    problem, plan, *_ = sick_week(seed)
    lost = Random(seed).choice(sorted({problem.job_by_id[p.job].asset for p in plan}))
    now = replace(
        problem, assets=tuple(replace(a, work_windows=()) if a.id == lost else a for a in problem.assets)
    )
    mended = mend(now, plan)
    assert not hard(now, mended)
    assert not [
        p
        for p in mended.placements
        if now.job_by_id[p.job].asset == lost and now.task_by_id[(p.job, p.task)].asset_state == "stopped"
    ]


@slowly
@given(SEEDS)
def test_a_part_that_comes_later_holds_its_job_back_until_then(seed: int) -> None:
    problem, plan, *_ = sick_week(seed)
    late = Random(seed).choice(sorted({p.job for p in plan}))
    there = problem.start + timedelta(days=4)
    now = replace(
        problem, jobs=tuple(replace(j, earliest=there) if j.id == late else j for j in problem.jobs)
    )
    mended = mend(now, plan)
    assert not hard(now, mended)
    assert all(p.start >= there for p in mended.placements if p.job == late)


def test_a_break_in_pushes_cheaper_work_out_only_where_it_must() -> None:
    problem = random_week(4, 8, 40)
    plan = build(problem, limits=Limits(iterations=60), helps=False, known_bound=ANY_BOUND).placements
    craft = problem.crafts[0].id
    urgent = Job("WO-URGENT", None, 99.0, (Task("10", 4.0, needs=(Need(craft),)),), must=True)
    now = replace(problem, jobs=(*problem.jobs, urgent))
    mended = mend(now, plan, wanted=["WO-URGENT"], now=now.start + timedelta(days=1))
    assert not hard(now, mended)
    placed = [p for p in mended.placements if p.job == "WO-URGENT"]
    assert placed and placed[0].start >= now.start + timedelta(days=1)
    assert len(mended.left) <= 1


@examples(25)
@given(st.integers(0, 10**6))
def test_a_break_in_that_is_a_must_never_makes_way_for_cheaper_work(seed: int) -> None:
    problem = random_week(seed, 6, 30)
    plan = build(problem, limits=Limits(iterations=40), helps=False).placements
    urgent = Job("WO-URGENT", None, 99.0, (Task("10", 2.0, needs=(Need(problem.crafts[0].id),)),), must=True)
    now = replace(problem, jobs=(*problem.jobs, urgent))
    mended = mend(now, plan, wanted=["WO-URGENT"])
    assert "WO-URGENT" not in mended.left
    assert ("WO-URGENT" in {p.job for p in mended.placements}) != ("WO-URGENT" in mended.not_in)


def test_a_break_in_that_is_late_comes_sooner_in_place_of_cheaper_work() -> None:
    cheap = [one_task(f"WO-{n}", 10.0) for n in range(3)]
    late = replace(one_task("WO-LATE", 50.0, 4.0), must=True, due=check_problem().start)
    problem = small_week(*cheap, late, people=1)
    plan = build(replace(problem, jobs=tuple(cheap)), limits=Limits(iterations=20), helps=False).placements
    mended = mend(problem, plan, wanted=["WO-LATE"])
    placed = [p for p in mended.placements if p.job == "WO-LATE"]
    assert placed
    assert placed[0].start == min(p.start for p in plan)


def small_week(*jobs: Job, people: int = 2) -> WeekProblem:
    staff = tuple(person(f"p{n}") for n in range(people))
    return replace(check_problem(), crafts=(Craft("mech"),), people=staff, assets=(), tools=(), jobs=jobs)


def one_task(name: str, priority: float, hours: float = 8.0) -> Job:
    return Job(name, None, priority, (Task("10", hours, needs=(Need("mech"),)),))


def test_somebody_else_takes_the_seat_before_anything_moves() -> None:
    """Common practice, no source: a swap at the same time disturbs nobody but the two."""
    week = small_week(one_task("WO-1", 50.0, 2.0))
    plan = (place(people=("p0",)),)
    mended = mend(without_a_day(week, "p0", plan[0].day), plan)
    assert [(m.kind, m.moves, m.after.people[0].id, m.after.start) for m in mended.moves] == [
        ("people", 1, "p1", plan[0].start)
    ]


def test_dear_work_takes_over_a_person_from_cheaper_work_that_can_move() -> None:
    week = small_week(one_task("WO-1", 90.0), one_task("WO-2", 10.0))
    week = replace(
        week,
        jobs=tuple(
            replace(j, latest=week.start + timedelta(hours=15)) if j.id == "WO-1" else j for j in week.jobs
        ),
    )
    plan = (place(hours=8.0, people=("p0",)), place("WO-2", hours=8.0, people=("p1",)))
    mended = mend(without_a_day(week, "p0", plan[0].day), plan)
    after = {p.job: p for p in mended.placements}
    assert (after["WO-1"].start, after["WO-1"].people[0].id) == (plan[0].start, "p1")
    assert after["WO-2"].day > plan[1].day
    assert not mended.left


def test_what_comes_before_a_task_that_has_to_be_cut_stays_where_it_was() -> None:
    """The second task only fits in two halves now; the first one has a sooner place free, and does not go
    there."""
    long = Task("20", 8.0, after=(After("10"),), splittable=True, min_portion=2.0, needs=(Need("mech"),))
    job = Job("WO-1", None, 50.0, (Task("10", 4.0, needs=(Need("mech"),)), long))
    week = small_week(
        job, one_task("WO-2", 50.0, 4.0), one_task("WO-3", 50.0, 4.0), one_task("WO-4", 50.0), people=1
    )
    first, second = (
        place(start=10.0, hours=4.0, people=("p0",)),
        place(task="20", day=1, hours=8.0, people=("p0",)),
    )
    busy = (
        place("WO-2", day=2, start=10.0, hours=4.0, people=("p0",)),
        place("WO-3", day=3, start=10.0, hours=4.0, people=("p0",)),
        place("WO-4", day=4, hours=8.0, people=("p0",)),
    )
    mended = mend(without_a_day(week, "p0", second.day), (first, second, *busy), stay=[p.key for p in busy])
    assert first in mended.placements
    assert [(p.day.day, p.start, p.end) for p in mended.placements if p.task == "20"] == [
        (2, at(2, 6), at(2, 10)),
        (3, at(3, 6), at(3, 10)),
    ]
    assert not mended.left


@slowly
@given(SEEDS)
def test_a_week_that_was_mended_needs_no_further_move(seed: int) -> None:
    _, plan, now, *_ = sick_week(seed)
    mended = mend(now, plan)
    assert mend(now, mended.placements).moves == ()


def test_work_worth_much_less_leaves_in_place_of_dear_work() -> None:
    week = small_week(one_task("WO-1", 90.0), *(one_task(f"WO-{n}", 10.0) for n in range(2, 7)), people=1)
    plan = tuple(place(f"WO-{n}", day=n - 1, hours=8.0, people=("p0",)) for n in range(1, 6))
    people = (replace(week.people[0], hours=week.people[0].hours[:5]),)
    mended = mend(without_a_day(replace(week, people=people), "p0", plan[0].day), plan)
    assert "WO-1" in {p.job for p in mended.placements}
    assert len(mended.left) == 1


def test_a_placement_that_stays_keeps_what_it_breaks_and_says_so() -> None:
    _, plan, now, person, day = sick_week(3)
    hit = [p.key for p in plan if p.day == day and any(s.id == person for s in p.people)]
    mended = mend(now, plan, stay=hit)
    assert {k for b in mended.conflicts for k in b.keys} >= set(hit)
    assert mended.count == 0


@pytest.mark.parametrize("seed", range(5))
def test_people_who_left_for_good_are_replaced(seed: int) -> None:
    problem, plan, *_ = sick_week(seed)
    gone = next(s.id for p in plan for s in p.people)
    now = replace(problem, people=tuple(x for x in problem.people if x.id != gone))
    mended = mend(now, plan)
    assert not any(s.id == gone for p in mended.placements for s in p.people)
    assert not hard(now, mended)


def days_alone(plan: tuple[Placement, ...], people: bool) -> tuple[Placement, ...]:
    """The plan with its days alone; with or without the people on its seats."""
    return tuple(untimed(p, people) for p in plan)


@slowly
@given(SEEDS, st.booleans())
def test_a_week_of_days_alone_is_mended_as_days_alone(seed: int, people: bool) -> None:
    _, plan, now, *_ = sick_week(seed)
    mended = mend(now, days_alone(plan, people))
    assert not hard(now, mended)
    given_days = {p.key for p in plan}
    assert all(p.start is None for p in mended.placements if p.key in given_days)
    assert all(s.id is None for p in mended.placements for s in p.people) or people


@slowly
@given(SEEDS, st.booleans())
def test_days_alone_that_can_be_kept_do_not_move(seed: int, people: bool) -> None:
    problem, plan, *_ = sick_week(seed)
    assert mend(problem, days_alone(plan, people)).moves == ()


def test_a_job_moved_before_its_parts_come_goes_to_the_nearest_day_on_which_it_could_stand() -> None:
    job = replace(one_task("WO-1", 50.0, 2.0), earliest=at(3, 0))
    week = small_week(job, people=1)
    early = untimed(place(day=1, people=(None,)), True)
    (move,) = mend(week, (early,)).moves
    assert move.kind == "day"
    assert move.after is not None and move.after.day == early.day + timedelta(days=2)
    assert move.after.start is None and move.after.people[0].id is None
