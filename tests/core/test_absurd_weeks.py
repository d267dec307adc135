"""Absurd but valid weeks are answered correctly."""

from dataclasses import replace
from datetime import timedelta
from zoneinfo import ZoneInfo

import pytest

from nundine.core.timeline import week_interval
from nundine.core.week.asks import asks
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.mending.mend import mend
from nundine.core.week.problem import Craft, Job, Need, Person, PersonHours, Task, WeekProblem
from tests.core.test_check import person
from tests.core.test_check import problem as check_problem
from tests.weeks import random_week

QUICK = Limits(iterations=30)


def test_a_week_without_people_leaves_every_job_out_for_want_of_anybody() -> None:
    problem = replace(random_week(3, 6, 20), people=())
    plan = build(problem, limits=QUICK)
    assert plan.placements == ()
    assert plan.status == "optimal"
    assert {n.reasons[0].code for n in plan.not_placed} <= {"nobody", "no window"}
    assert mend(problem, ()).moves == ()
    assert asks(problem, ()) == ()


def test_a_week_without_jobs_is_empty_and_proven() -> None:
    plan = build(replace(random_week(3, 6, 20), jobs=()), limits=QUICK)
    assert (plan.placements, plan.value, plan.bound, plan.status) == ((), 0.0, 0.0, "optimal")


def test_a_job_of_500_hours_is_too_long_unless_it_is_cut_and_then_still_does_not_fit_one_week() -> None:
    task = Task("10", 500.0, needs=(Need("mech"),))
    jobs = (Job("WO-1", None, 50.0, (task,)), Job("WO-2", None, 50.0, (replace(task, splittable=True),)))
    plan = build(
        replace(
            check_problem(), crafts=(Craft("mech"),), people=(person("anna"),), assets=(), tools=(), jobs=jobs
        ),
        limits=QUICK,
    )
    codes = {n.job: n.reasons[0].code for n in plan.not_placed}
    assert codes["WO-1"] == "too long"
    assert codes["WO-2"] in ("order", "hours")


@pytest.mark.parametrize(("week", "hours"), [("2026-W13", 167), ("2026-W43", 169)])
def test_the_week_of_a_clock_change_has_an_hour_less_or_more_and_nights_keep_their_length(
    week: str, hours: int
) -> None:
    """Dates of the changes: EU directive 2000/84/EC, last Sundays of March and October."""
    zone = ZoneInfo("Europe/Zurich")
    span = week_interval(week, zone)
    assert span.hours == hours
    night = (span.start + timedelta(days=5, hours=22)).replace(tzinfo=zone)
    morning = (span.start + timedelta(days=6, hours=6)).replace(tzinfo=zone)
    there = Person("anna", person("anna").crafts, hours=(PersonHours(night, morning, False, night.date()),))
    long = (morning.astimezone(ZoneInfo("UTC")) - night.astimezone(ZoneInfo("UTC"))) / timedelta(hours=1)
    assert long == (7 if hours == 167 else 9)
    job = Job("WO-1", None, 10.0, (Task("10", float(long), needs=(Need("mech"),)),))
    problem = WeekProblem(
        week, "Europe/Zurich", span.start, span.end, crafts=(Craft("mech"),), people=(there,), jobs=(job,)
    )
    plan = build(problem, limits=QUICK)
    assert not check(problem, plan.placements).errors
    assert plan.value == pytest.approx(10.0 * long)


@pytest.mark.long
def test_ten_thousand_jobs_get_a_plan_that_breaks_no_rule() -> None:
    small = random_week(5, 12, 40)
    jobs = tuple(replace(j, id=f"{j.id}-{n}") for n in range(250) for j in small.jobs)
    problem = replace(small, jobs=jobs)
    plan = build(problem, limits=Limits(iterations=0), helps=False, known_bound=float("inf"))
    assert plan.placements
    assert not check(problem, plan.placements).errors
