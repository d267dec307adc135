"""The validator sees every kind of broken rule: plans broken on purpose."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.timeline import Interval, week_interval
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
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
from tests.examples import examples
from tests.weeks import ZONE, random_week
from tests.words import said

WEEK = week_interval("2026-W49", ZONE)
MONDAY = date(2026, 11, 30)


def at(day: int, hour: float):
    return WEEK.start + timedelta(days=day, hours=hour)


def person(name: str, level: int = 2, craft: str = "mech", until: date | None = None) -> Person:
    hours = tuple(PersonHours(at(d, 6), at(d, 14), False, MONDAY + timedelta(days=d)) for d in range(5))
    extra = (PersonHours(at(5, 6), at(5, 12), True, MONDAY + timedelta(days=5)),)
    return Person(
        name, (CraftLevel(craft, level),), (Certificate("rope", until),), "north", None, hours + extra
    )


def problem(task: Task | None = None, **job) -> WeekProblem:
    first = task or Task("10", 2.0, "stopped", needs=(Need("mech", 2),), tools=("crane",))
    tasks = (first, Task("20", 1.0, "any", (After("10", 1.0),), needs=(Need("elec"),)))
    jobs = (Job("WO-1", "lift", 50.0, tasks, "north", **job), Job("WO-2", "lift", 40.0, (first,), "north"))
    lift = Asset("lift", "north", (Interval(at(0, 0), at(3, 0)),), (Interval(at(1, 9), at(1, 11)),), True)
    return WeekProblem(
        "2026-W49",
        "Europe/Zurich",
        WEEK.start,
        WEEK.end,
        crafts=(Craft("mech", 0.0), Craft("elec", 0.5)),
        people=(person("anna"), person("ben", 1), person("eva", 3, "elec", date(2026, 12, 1))),
        assets=(lift,),
        tools=(Tool("crane", 1),),
        jobs=jobs,
    )


def place(
    job="WO-1", task="10", portion=1, day=0, start=6.0, hours=2.0, people=("anna",), craft="mech"
) -> Placement:
    return Placement(
        job,
        task,
        portion,
        MONDAY + timedelta(days=day),
        at(day, start),
        at(day, start + hours),
        tuple(Seat(p, craft) for p in people),
    )


GOOD = (place(), place(task="20", start=9, hours=1, people=("eva",), craft="elec"))


def codes(p: WeekProblem, *placements: Placement) -> set[str]:
    found = check(p, placements).errors
    assert len(said(found)) == len(found)
    return {b.code for b in found}


def test_a_good_plan_has_no_error_and_its_value_is_priority_times_work_hours() -> None:
    checked = check(problem(), GOOD)
    assert not checked.errors
    assert checked.value == pytest.approx(50 * 3.0)


@pytest.mark.parametrize(
    ("code", "placements"),
    [
        ("craft", (place(people=("ben",)), GOOD[1])),
        ("away", (place(start=13), place(task="20", day=1, start=6, hours=1, people=("eva",), craft="elec"))),
        ("window", (place(day=3), place(task="20", day=3, start=9, hours=1, people=("eva",), craft="elec"))),
        (
            "window",
            (place(day=1, start=8), place(task="20", day=2, start=9, hours=1, people=("eva",), craft="elec")),
        ),
        ("order", (GOOD[0], place(task="20", start=8, hours=1, people=("eva",), craft="elec"))),
        ("whole", (GOOD[0],)),
        ("hours", (place(hours=1.0), GOOD[1])),
        ("double", (*GOOD, place("WO-2", start=7))),
        ("one job", (*GOOD, place("WO-2", start=7))),
        ("tool", (*GOOD, place("WO-2", start=7))),
        ("seats", (place(people=()), GOOD[1])),
        ("day", (replace(GOOD[0], day=MONDAY + timedelta(days=1)), GOOD[1])),
        ("twice", (*GOOD, GOOD[0])),
        ("unknown", (*GOOD, place("WO-9"))),
    ],
)
def test_each_broken_rule_is_named(code: str, placements: tuple[Placement, ...]) -> None:
    assert code in codes(problem(), *placements)


def test_a_certificate_is_valid_on_its_last_day_and_not_on_the_next() -> None:
    task = Task("10", 2.0, "any", needs=(Need("elec", 1, 1, "rope"),))
    p = replace(problem(), jobs=(Job("WO-1", None, 10.0, (task,)),))
    assert "certificate" not in codes(p, place(day=1, people=("eva",), craft="elec"))
    assert "certificate" in codes(p, place(day=2, people=("eva",), craft="elec"))


def test_earliest_and_latest_are_kept() -> None:
    assert "earliest" in codes(problem(earliest=at(0, 7)), *GOOD)
    assert "latest" in codes(problem(latest=at(0, 9)), *GOOD)


def test_held_back_hours_may_not_be_used() -> None:
    task = Task("10", 8.0, "any", needs=(Need("elec"),), splittable=True)
    p = replace(problem(), jobs=tuple(Job(f"WO-{n}", None, 10.0, (task,)) for n in range(3)))
    used = [place(f"WO-{n}", day=n, start=6, hours=8, people=("eva",), craft="elec") for n in range(3)]
    assert "held back" not in codes(p, *used[:2])
    assert "held back" in codes(p, *used)


def test_an_unsplittable_task_may_not_be_cut() -> None:
    assert "split" in codes(problem(), place(hours=1), place(portion=2, start=7, hours=1), GOOD[1])


def test_overtime_and_lateness_cost_value() -> None:
    task = Task("10", 2.0, "any", needs=(Need("mech", 2),))
    p = replace(problem(), jobs=(Job("WO-1", None, 50.0, (task,), due=at(4, 8)),))
    late_in_overtime = check(p, (place(day=5, start=6),))
    # 100 points, one day late (part of a day counts): 8 % less; two hours of overtime at 20.
    assert late_in_overtime.value == pytest.approx(100 - 8 - 40)


def test_what_fixed_placements_break_is_a_conflict_and_not_an_error() -> None:
    wrong = place(people=("ben",))
    p = replace(problem(), fixed=(wrong,))
    checked = check(p, (wrong, GOOD[1]))
    assert {b.code for b in checked.conflicts} == {"craft"}
    assert not checked.errors


def test_a_fixed_placement_may_not_be_changed_or_left_out() -> None:
    p = replace(problem(), fixed=(GOOD[0],))
    assert "fixed" in codes(p, GOOD[1])
    assert "fixed" in codes(p, place(start=7), GOOD[1])


def test_everyone_who_is_doubly_booked_is_named_with_each_pair_of_jobs() -> None:
    task = Task("10", 2.0, "any", needs=(Need("mech"),))
    p = replace(problem(), jobs=tuple(Job(f"WO-{n}", None, 10.0, (task,)) for n in range(3)))
    found = [
        b
        for b in check(p, tuple(place(f"WO-{n}", start=6 + n / 2) for n in range(3))).errors
        if b.code == "double"
    ]
    assert {tuple(sorted(k[0] for k in b.keys)) for b in found} == {
        ("WO-0", "WO-1"),
        ("WO-0", "WO-2"),
        ("WO-1", "WO-2"),
    }


@examples(40)
@given(st.integers(0, 10**6), st.randoms(use_true_random=False))
def test_a_check_after_edits_says_the_same_as_a_check_that_knows_nothing_of_before(seed: int, r) -> None:
    p = random_week(seed, 6, 20)
    placements = list(build(p, limits=Limits(iterations=5), helps=False).placements)
    for _ in range(6):
        check(p, tuple(placements))
        n = r.randrange(len(placements))
        hours = timedelta(hours=r.choice((-30, -2, 1, 5)))
        one = placements[n]
        placements[n] = r.choice(
            (replace(one, start=one.start + hours, end=one.end + hours), replace(one, day=r.choice(p.days)))
        )
    unknown = replace(p, people=tuple(p.people[:-1]) + (replace(p.people[-1]),))
    assert check(p, tuple(placements)) == check(unknown, tuple(placements))
