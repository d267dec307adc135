"""Asks and reasons: every claim holds when it is tried."""

from dataclasses import replace
from datetime import timedelta

import pytest

from nundine.core.timeline import Interval
from nundine.core.week.asks import asks
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.problem import Asset, Craft, Job, Need, Task, Tool, WeekProblem
from tests.core.test_check import MONDAY, at, person
from tests.core.test_check import problem as check_problem
from tests.weeks import random_week
from tests.words import asked


def week(*jobs: Job, **parts) -> WeekProblem:
    base = {"crafts": (Craft("mech"),), "people": (person("anna"),), "assets": (), "tools": ()}
    return replace(check_problem(), **{**base, **parts}, jobs=jobs)


def job(name: str, hours: float = 4.0, **parts) -> Job:
    task = Task("10", hours, parts.pop("state", "any"), needs=(Need("mech"),), tools=parts.pop("tools", ()))
    return Job(name, parts.pop("asset", None), 50.0, (task,), **parts)


def placed(problem: WeekProblem):
    return build(problem, limits=Limits(iterations=30), helps=True)


def test_a_job_without_a_window_asks_for_one_when_somebody_is_there() -> None:
    problem = week(job("WO-1", asset="lift", state="stopped"), assets=(Asset("lift", work_windows=()),))
    found = asks(problem, placed(problem).placements)
    assert [(a.found.code, a.found.facts["asset"], a.jobs, a.confirmed) for a in found] == [
        ("window", "lift", ("WO-1",), True)
    ]
    assert found[0].value == pytest.approx(200.0)
    assert found[0].hours == pytest.approx(4.0)


def test_a_full_craft_asks_for_overtime() -> None:
    problem = week(*(job(f"WO-{n}", 8.0) for n in range(5)), job("WO-9", 4.0))
    problem = replace(problem, people=(replace(person("anna"), hours=person("anna").hours[:5]),))
    found = asks(problem, placed(problem).placements)
    assert found[0].found.code == "hours"
    assert found[0].jobs == ("WO-9",)
    assert found[0].value == pytest.approx(50 * 4 - 20 * 4)


def test_a_job_whose_parts_come_after_the_week_asks_for_them_sooner() -> None:
    problem = week(job("WO-1", earliest=at(9, 0)))
    found = asks(problem, placed(problem).placements)
    assert [(a.found.code, a.jobs) for a in found] == [("part", ("WO-1",))]


def test_a_tool_that_is_not_there_is_asked_for() -> None:
    problem = week(job("WO-1", tools=("crane",)), tools=(Tool("crane", 0),))
    found = asks(problem, placed(problem).placements)
    assert [(a.found.code, a.found.facts["tool"]) for a in found] == [("tool", "crane")]


def test_a_week_with_nothing_left_out_asks_for_nothing() -> None:
    problem = week(job("WO-1"))
    assert asks(problem, placed(problem).placements) == ()


@pytest.mark.parametrize("seed", range(6))
def test_asks_leave_the_plan_as_it_was_and_are_worth_what_they_say(seed: int) -> None:
    problem = random_week(seed, 8, 30)
    plan = build(problem, limits=Limits(iterations=60), helps=False)
    found = asks(problem, plan.placements, confirm=3, steps=200)
    assert not check(problem, plan.placements).errors
    assert all(a.value > 0 for a in found)
    assert len({asked(a.found) for a in found}) == len(found)


def reasons(problem: WeekProblem) -> dict[str, str]:
    return {n.job: n.reasons[0].code for n in placed(problem).not_placed}


def test_each_reason_is_given_where_it_holds() -> None:
    lift = Asset("lift", work_windows=())
    night = Asset(
        "night", work_windows=(check_problem().assets[0].work_windows[0].__class__(at(0, 18), at(0, 22)),)
    )
    assert reasons(week(job("WO-1", asset="lift", state="stopped"), assets=(lift,))) == {"WO-1": "no window"}
    assert reasons(week(job("WO-1", 5.0, asset="night", state="stopped"), assets=(night,))) == {
        "WO-1": "window too short"
    }
    assert reasons(week(job("WO-1", 3.0, asset="night", state="stopped"), assets=(night,))) == {
        "WO-1": "nobody in the window"
    }
    assert reasons(week(job("WO-1", 9.0))) == {"WO-1": "too long"}
    assert reasons(week(job("WO-1", earliest=at(8, 0)))) == {"WO-1": "not yet"}
    assert reasons(week(job("WO-1", tools=("crane",)), tools=(Tool("crane", 0),))) == {"WO-1": "tool"}
    two = Job("WO-1", None, 50.0, (Task("10", 2.0, needs=(Need("mech", 1, 2),)),))
    assert reasons(week(two)) == {"WO-1": "nobody"}
    assert reasons(week(job("WO-1", 8.0), crafts=(Craft("mech", 0.9),))) == {"WO-1": "held back"}
    worthless = replace(job("WO-1", 6.0), priority=1.0, latest=at(6, 0))
    only_overtime = (replace(person("anna"), hours=person("anna").hours[5:]),)
    assert reasons(week(worthless, people=only_overtime)) == {"WO-1": "overtime"}


def test_a_job_that_fits_only_in_place_of_better_work_says_of_which() -> None:
    dear, cheap = replace(job("WO-1", 8.0), priority=90.0), job("WO-2", 8.0)
    one_day = (replace(person("anna"), hours=person("anna").hours[:1]),)
    plan = placed(week(dear, cheap, people=one_day))
    left = plan.not_placed[0]
    assert (left.job, left.reasons[0].code) == ("WO-2", "outranked")
    assert left.reasons[0].facts["jobs"] == ["WO-1"]
    assert "hours" in {h.code for h in left.would_help}


def test_what_needs_two_changes_names_both() -> None:
    shut = Asset("lift", work_windows=())
    problem = week(
        job("WO-1", 6.0, asset="lift", state="stopped", earliest=MONDAY_IN_TWO_WEEKS), assets=(shut,)
    )
    helps = placed(problem).not_placed[0].would_help
    assert [h.code for h in helps] == ["window and release"]


MONDAY_IN_TWO_WEEKS = at(0, 0) + timedelta(days=14)
assert at(0, 0).date() == MONDAY


@pytest.mark.parametrize("seed", range(4))
def test_asks_are_sums_that_add_up_and_alternatives_let_in_the_same_work(seed: int) -> None:
    problem = random_week(seed, people=8, jobs=40)
    plan = build(problem, limits=Limits(iterations=40), helps=False).placements
    found = asks(problem, plan, confirm=0)
    total = 0.0
    for ask in found:
        total += ask.value
        assert ask.total_value == pytest.approx(total)
        assert all(set(other.jobs) & set(ask.jobs) for other in ask.alternatives)
    let_in = [job for ask in found for job in ask.jobs]
    assert len(let_in) == len(set(let_in)), "no job is counted twice"
    assert len({asked(a.found) for a in found}) == len(found)


def test_two_windows_for_one_job_are_alternatives_and_not_two_asks() -> None:
    """The job can be let in by a window or, with its parts sooner, in the window that is there."""
    parts = job("WO-1", asset="lift", state="stopped", earliest=at(3, 0))
    lift = Asset("lift", work_windows=(Interval(at(1, 6), at(1, 14)),))
    problem = week(parts, assets=(lift,))
    (found,) = asks(problem, placed(problem).placements, confirm=0)
    assert found.jobs == ("WO-1",)
    assert [a.jobs for a in found.alternatives] == [("WO-1",)]
    assert {found.found.code, found.alternatives[0].found.code} == {"window", "part"}
