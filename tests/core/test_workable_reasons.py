"""Reasons, asks and mending know that assets stay out of service, that ways take time, and what loose ends
cost."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nundine.core.timeline import Interval
from nundine.core.week.asks import asks
from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.explain import Explainer
from nundine.core.week.mending.mend import mend
from nundine.core.week.plan import NotPlaced
from nundine.core.week.problem import PRICED, WHOLE, After, Job, Placement, WeekProblem
from nundine.core.week.search import compiled
from tests.core.test_check import at
from tests.core.test_workable import NIGHTS, TWO, placed, steps, week, worker
from tests.words import reasons_of


@pytest.fixture(scope="module", autouse=True)
def loaded() -> None:
    assert compiled.load()


def why(problem: WeekProblem, job: str, *standing: Placement) -> NotPlaced:
    board = Board(problem.with_placements(standing))
    draft = Draft(board, complete=False)
    return Explainer(board, draft.kept).explain(problem.job_by_id[job])


def test_a_job_whose_longest_path_fits_no_window_says_both_lengths_and_that_putting_back_would_help() -> None:
    long = replace(TWO, tasks=steps(5.0, 5.0))
    found = why(week(long, work=NIGHTS), "WO-1")
    (reason,) = found.reasons
    assert reason.code == "window too short for the whole job"
    assert (reason.facts["hours"], reason.facts["longest"]) == (10.0, 8.0)
    assert "put back" in [h.code for h in found.would_help]


def test_a_lag_within_the_job_counts_as_out_of_service() -> None:
    curing = replace(TWO, tasks=(TWO.tasks[0], replace(TWO.tasks[1], after=(After("0", 6.0),))))
    assert why(week(curing, work=NIGHTS), "WO-1").reasons[0].code == "window too short for the whole job"


def test_what_fits_only_without_time_for_the_way_says_so() -> None:
    pump = Job("WO-2", "pump", 50.0, steps(2.0))
    lift = Job("WO-1", "lift", 50.0, steps(6.0))
    monday = replace(worker("anna"), hours=worker("anna").hours[:1])
    problem = week(lift, pump, people=(monday,))
    assert why(problem, "WO-2", placed("WO-1", "0", 0, 6, 6, "anna")).reasons[0].code == "travel"


def test_a_job_that_fits_only_torn_apart_says_what_would_be_torn() -> None:
    anna = replace(
        worker("anna"), hours=tuple(replace(h, end=h.start.replace(hour=8)) for h in worker("anna").hours)
    )
    torn = Job("WO-1", "lift", 20.0, steps(2.0, 2.0), out_of_service=WHOLE)
    found = why(week(torn, people=(anna,)), "WO-1")
    assert found.reasons[0].code == "not worth its prices"
    assert "lie open from Mon" in reasons_of(found)[0]
    plan = build(week(torn, people=(anna,)), limits=Limits(iterations=50), helps=False)
    assert not plan.placements and plan.value == 0


def test_putting_an_asset_back_between_tasks_is_asked_for_where_it_lets_a_job_in() -> None:
    long = replace(TWO, tasks=steps(5.0, 5.0), priority=90.0)
    found = asks(week(long, work=NIGHTS), (), steps=100)
    assert "put back" in {a.found.code for ask in found for a in (ask, *ask.alternatives)}


def test_one_longer_window_is_asked_for_a_whole_job() -> None:
    long = replace(TWO, tasks=steps(4.0, 4.0), priority=90.0)
    short = (Interval(at(0, 6), at(0, 11)), Interval(at(1, 6), at(1, 11)))
    found = [a for ask in asks(week(long, work=short), (), steps=100) for a in (ask, *ask.alternatives)]
    assert any(a.found.code == "window" for a in found)


def test_after_a_sick_day_a_job_stays_in_its_stretch_and_with_its_people_where_it_can() -> None:
    three = Job("WO-1", "lift", 50.0, steps(2.0, 2.0, 2.0), out_of_service=WHOLE)
    problem = week(three, work=NIGHTS, people=(worker("anna"), worker("ben")))
    before = tuple(placed("WO-1", str(n), 0, 6 + 2 * n, 2, "anna") for n in range(3))
    sick = replace(problem, people=(replace(worker("anna"), hours=worker("anna").hours[1:]), worker("ben")))
    mended = mend(sick, before)
    found = check(sick.with_placements(mended.placements), mended.placements)
    assert not found.conflicts and len(mended.placements) == 3
    assert found.prices.handover == 0 and len({p.day for p in mended.placements}) == 1


def test_mending_leaves_time_for_the_way() -> None:
    pump, lift = Job("WO-2", "pump", 50.0, steps(2.0)), Job("WO-1", "lift", 50.0, steps(2.0))
    problem = week(lift, pump, people=(worker("anna"), worker("ben"), worker("lea", "lake")))
    before = (placed("WO-1", "0", 0, 6, 2, "anna"), placed("WO-2", "0", 0, 8, 2, "ben"))
    gone = tuple(replace(x, hours=x.hours[1:]) if x.id in ("ben", "lea") else x for x in problem.people)
    mended = mend(replace(problem, people=gone), before)
    assert not check(
        replace(problem, people=gone).with_placements(mended.placements), mended.placements
    ).conflicts


def test_the_default_prices_are_those_of_the_format() -> None:
    assert (
        PRICED.waiting_per_hour,
        PRICED.waiting_cap_hours,
        PRICED.handover,
        PRICED.area_change,
        PRICED.away_per_hour,
    ) == (10, 24, 200, 40, 2)
