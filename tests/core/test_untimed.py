"""Work with its day alone: what no choice of times could mend is a conflict, and nothing else is."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from random import Random

import pytest

from nundine.core.timeline import Interval
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import Broken, check
from nundine.core.week.problem import (
    After,
    Asset,
    Certificate,
    Craft,
    CraftLevel,
    Job,
    Need,
    Person,
    PersonHours,
    Placement,
    Seat,
    Task,
    Tool,
    WeekProblem,
)
from tests.core.test_check import MONDAY, WEEK, at
from tests.weeks import random_week
from tests.words import said


def worker(
    name: str, first: float = 6, last: float = 14, level: int = 2, until: date | None = None
) -> Person:
    hours = tuple(PersonHours(at(d, first), at(d, last), False, MONDAY + timedelta(days=d)) for d in range(5))
    return Person(name, (CraftLevel("mech", level),), (Certificate("rope", until),), "north", None, hours)


def week(
    *tasks: Task, people: tuple[Person, ...] = (), asset: Asset | None = None, other: float = 2.0, **job
) -> WeekProblem:
    return WeekProblem(
        "2026-W49",
        "Europe/Zurich",
        WEEK.start,
        WEEK.end,
        crafts=(Craft("mech"),),
        people=people or (worker("ann"), worker("ben")),
        assets=(asset or Asset("lift", "north"),),
        tools=(Tool("crane", 1),),
        jobs=(
            Job("WO-1", "lift", 50.0, tasks, "north", **job),
            Job(
                "WO-2", "lift", 40.0, (Task("10", other, "stopped", needs=(Need("mech"),), tools=("crane",)),)
            ),
        ),
    )


def day(
    n: int,
    *people: str | None,
    task: str = "10",
    job: str = "WO-1",
    hours: float = 2.0,
    start: float | None = None,
):
    times = (at(n, start), at(n, start + hours)) if start is not None else (None, None)
    seats = tuple(Seat(p, "mech") for p in people)
    return Placement(job, task, 1, MONDAY + timedelta(days=n), *times, seats, None if times[0] else hours)


def broken(problem: WeekProblem, *placed: Placement) -> list[Broken]:
    found = list(check(replace(problem, fixed=placed), placed).conflicts)
    assert len(said(found)) == len(found)
    return found


ONE = Task("10", 2.0, "stopped", needs=(Need("mech"),))
TWO = Task("10", 2.0, "any", needs=(Need("mech", 1, 2),))
OPEN = Asset("lift", "north", (Interval(at(1, 6), at(1, 12)), Interval(at(2, 4), at(2, 7))))


def test_a_day_before_the_parts_come_is_told():
    problem = week(ONE, earliest=at(3, 0))
    assert [b.code for b in broken(problem, day(1, None))] == ["earliest"]
    assert not broken(problem, day(3, None))


def test_a_day_after_the_latest_end_is_told():
    assert [b.code for b in broken(week(ONE, latest=at(1, 7)), day(1, None))] == ["latest"]
    assert not broken(week(ONE, latest=at(1, 8)), day(1, None))


def test_a_day_without_a_window_of_its_length_is_told():
    problem = week(ONE, asset=OPEN)
    assert [b.code for b in broken(problem, day(0, None))] == ["window"]
    assert not broken(problem, day(1, None))
    assert [b.code for b in broken(problem, day(2, None))] == ["window"], "one hour of it lies in a shift"


def test_people_whose_shifts_never_meet_can_not_share_a_task():
    people = (worker("ann"), worker("nell", 20, 24), worker("ben"))
    found = broken(week(TWO, people=people), day(1, "ann", "nell"))
    assert [(b.code, set(b.people)) for b in found] == [("away", {"ann", "nell"})]
    assert not broken(week(TWO, people=people), day(1, "ann", "ben"))


def test_somebody_who_is_not_there_when_the_window_is_open_is_told():
    late = worker("nell", 13, 21)
    found = broken(week(ONE, asset=OPEN, people=(late, worker("ann"))), day(1, "nell"))
    assert [(b.code, b.person) for b in found] == [("away", "nell")]


@pytest.mark.parametrize(
    ("need", "people", "told"),
    [
        (Need("mech", 3), (None,), True),
        (Need("mech", 2, 1, "crane"), (None,), True),
        (Need("mech", 2, 3), (None, None, None), True),
        (Need("mech", 2, 1, "rope"), (None,), False),
        (Need("mech", 1, 2), ("ann", None), False),
    ],
)
def test_open_seats_that_nobody_could_take_are_told(need, people, told):
    problem = week(Task("10", 2.0, "any", needs=(need,)))
    for placed in (day(1, *people), day(1, *people, start=8)):
        assert [b.code for b in broken(problem, placed)] == (["nobody"] if told else [])


def test_a_certificate_that_has_ended_by_that_day_lets_nobody_take_the_seat():
    problem = week(
        Task("10", 2.0, "any", needs=(Need("mech", 1, 1, "rope"),)), people=(worker("ann", until=MONDAY),)
    )
    assert not broken(problem, day(0, None))
    assert [b.code for b in broken(problem, day(1, None))] == ["nobody"]


def test_tasks_that_do_not_fit_one_after_another_into_their_day_are_told():
    tasks = (
        Task("10", 5.0, needs=(Need("mech"),)),
        Task("20", 2.0, after=(After("10", 1.0),), needs=(Need("mech"),)),
    )
    assert not broken(week(*tasks), day(1, None, hours=5.0), day(1, None, task="20"))
    longer = (tasks[0], replace(tasks[1], after=(After("10", 1.5),)))
    assert [b.code for b in broken(week(*longer), day(1, None, hours=5.0), day(1, None, task="20"))] == [
        "order"
    ]


def test_a_task_with_a_time_that_leaves_none_for_the_one_before_it_is_told():
    tasks = (
        Task("10", 2.0, needs=(Need("mech"),)),
        Task("20", 2.0, after=(After("10"),), needs=(Need("mech"),)),
    )
    assert [b.code for b in broken(week(*tasks), day(1, None), day(1, None, task="20", start=7))] == ["order"]
    assert not broken(week(*tasks), day(1, None), day(1, None, task="20", start=8))


def test_no_time_left_beside_work_that_has_its_time_is_told():
    problem = week(ONE, other=5.0)
    assert [
        b.code for b in broken(problem, day(1, "ann"), day(1, "ann", job="WO-2", start=7.5, hours=5))
    ] == ["full"]
    assert not broken(problem, day(1, "ann"), day(1, "ann", job="WO-2", start=9, hours=5))


def test_an_asset_taken_by_another_job_and_a_tool_in_use_leave_no_time():
    one_job = Asset("lift", "north", (Interval(at(1, 6), at(1, 9)),), (), True)
    problem = week(replace(ONE, tools=("crane",)), asset=one_job)
    assert [b.code for b in broken(problem, day(1, "ann"), day(1, "ben", job="WO-2", start=6.5))] == [
        "one job"
    ]
    problem = week(replace(ONE, tools=("crane",)), asset=replace(one_job, one_job_at_a_time=False))
    assert [b.code for b in broken(problem, day(1, "ann"), day(1, "ben", job="WO-2", start=6.5))] == ["tool"]


def test_more_untimed_work_than_hours_of_a_person_is_told_once_for_the_day():
    problem = week(Task("10", 5.0, needs=(Need("mech"),)), Task("20", 4.0, needs=(Need("mech"),)))
    found = broken(problem, day(1, "ann", hours=5.0), day(1, "ann", task="20", hours=4.0))
    assert [(b.code, b.person, len(b.keys)) for b in found] == [("full", "ann", 2)]


@pytest.mark.parametrize("seed", range(12))
def test_a_sound_plan_whose_times_are_taken_off_is_still_sound(seed: int):
    problem = random_week(seed, people=7, jobs=24)
    plan = build(problem, limits=Limits(iterations=60), helps=False)
    dice = Random(seed)
    for keep_people in (True, False):
        loose = tuple(untimed(p, keep_people) if dice.random() < 0.6 else p for p in plan.placements)
        assert check(replace(problem, fixed=loose), loose).conflicts == ()


def untimed(p: Placement, keep_people: bool) -> Placement:
    """The placement with its day alone, with or without its people."""
    assert p.start is not None and p.end is not None
    people = p.people if keep_people else tuple(Seat(None, s.craft) for s in p.people)
    return replace(p, start=None, end=None, people=people, hours=Interval(p.start, p.end).hours)
