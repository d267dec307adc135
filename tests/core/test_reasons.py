"""Reasons and what would help, each read again from the problem and tried on the plan."""

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.building.build import Limits, build
from nundine.core.week.explain import Explainer
from nundine.core.week.plan import Finding, WeekPlan
from nundine.core.week.problem import Job, WeekProblem
from tests.examples import examples
from tests.weeks import random_week

slowly = examples(30)
FULL_WEEKS = st.builds(
    random_week, st.integers(0, 10**6), st.sampled_from((2, 4, 6)), st.sampled_from((20, 40))
)


def built(problem: WeekProblem) -> WeekPlan:
    return build(problem, limits=Limits(iterations=60), known_bound=float("inf"))


def left_out(problem: WeekProblem, plan: WeekPlan) -> list[tuple[Job, Finding, tuple[Finding, ...]]]:
    return [(problem.job_by_id[n.job], n.reasons[0], n.would_help) for n in plan.not_placed]


def reason_without(problem: WeekProblem, plan: WeekPlan, job: Job, without: str) -> Finding:
    """The reason of a job once another has left the plan."""
    rest = tuple(p for p in plan.placements if p.job != without)
    board = Board(problem.with_placements(rest))
    Draft(board, complete=False)
    return Explainer(board, {}).reason(job)


def told(reason: Finding, helps: tuple[Finding, ...]) -> set[str]:
    """What is told of a job, where it is told in full."""
    found = {"put out" for help in helps if help.code == "put out"}
    if (
        reason.code == "hours"
        or (reason.code == "outranked" and "value" in reason.facts)
        or (reason.code == "nobody" and "craft" in reason.facts)
    ):
        found.add(reason.code)
    return found


def test_each_reason_that_the_rules_below_are_about_is_told_in_some_week() -> None:
    seen: set[str] = set()
    for seed in range(12):
        problem = random_week(seed, (2, 4, 6)[seed % 3], (20, 40)[seed % 2])
        seen |= {
            code for _, reason, helps in left_out(problem, built(problem)) for code in told(reason, helps)
        }
    assert seen == {"put out", "hours", "outranked", "nobody"}


@slowly
@given(FULL_WEEKS)
def test_a_job_fits_once_the_job_has_left_that_would_have_to_be_put_out(problem: WeekProblem) -> None:
    plan = built(problem)
    for job, _, helps in left_out(problem, plan)[:6]:
        for help in helps:
            if help.code == "put out":
                assert reason_without(problem, plan, job, help.facts["job"]).code in {"fits", "overtime"}


@slowly
@given(FULL_WEEKS)
def test_what_outranks_a_job_is_worth_at_least_as_much(problem: WeekProblem) -> None:
    plan = built(problem)
    for job, reason, _ in left_out(problem, plan):
        if reason.code == "outranked" and "value" in reason.facts:
            assert reason.facts["value"] >= reason.facts["own_value"] - 1e-9
            assert reason_without(problem, plan, job, reason.facts["jobs"][0]).code in {"fits", "overtime"}


@slowly
@given(FULL_WEEKS)
def test_where_nobody_is_told_fewer_are_on_shift_than_the_task_needs(problem: WeekProblem) -> None:
    for _, reason, _ in left_out(problem, built(problem)):
        if reason.code == "nobody" and "craft" in reason.facts:
            facts = reason.facts
            able = 0
            for person in problem.people:
                skilled = any(c.craft == facts["craft"] and c.level >= facts["level"] for c in person.crafts)
                until = [c.until for c in person.certificates if c.id == facts["certificate"]]
                valid = [
                    h
                    for h in person.hours
                    if facts["certificate"] is None or any(u is None or h.day <= u for u in until)
                ]
                able += bool(skilled and valid)
            assert able == facts["there"] < facts["needed"]


@slowly
@given(FULL_WEEKS, st.integers(1, 30))
def test_a_job_that_may_start_after_the_week_says_not_yet_and_when(problem: WeekProblem, days: int) -> None:
    first = problem.jobs[0]
    later = replace(first, earliest=problem.end + timedelta(days=days), latest=None)
    week = replace(problem, jobs=(later, *problem.jobs[1:]))
    reason = next(r for job, r, _ in left_out(week, built(week)) if job.id == first.id)
    assert reason.code in {
        "not yet",
        "nobody",
        "too long",
    }  # in this order of what stands in the way for good
    if reason.code == "not yet":
        assert reason.facts["earliest"] == later.earliest.isoformat()


@pytest.mark.parametrize("seed", range(8))
def test_explaining_leaves_the_plan_as_it_was(seed: int) -> None:
    problem = random_week(seed, 4, 30)
    plan = built(problem)
    board = Board(problem.with_placements(plan.placements))
    Draft(board, complete=False)
    before = (list(board.free), dict(board.budget), {j: list(p) for j, p in board.placed.items()})
    explainer = Explainer(board, {})
    held = {p.job for p in plan.placements}
    for job in problem.jobs:
        if job.id not in held:
            explainer.explain(job)
    assert (list(board.free), dict(board.budget), {j: list(p) for j, p in board.placed.items()}) == before


@slowly
@given(FULL_WEEKS)
def test_hours_that_a_full_craft_is_short_of_are_those_of_all_tasks_of_the_job(problem: WeekProblem) -> None:
    for job, reason, _ in left_out(problem, built(problem)):
        if reason.code == "hours":
            of_craft = [
                t.hours * n.people for t in job.tasks for n in t.needs if n.craft == reason.facts["craft"]
            ]
            assert reason.facts["needed"] == pytest.approx(sum(of_craft))
