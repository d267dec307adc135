"""Problems and plans as files: what is written is read back equal, what is wrong is named with its path."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nundine.core.week.build.builder import Limits, build
from nundine.core.week.files import plan_document, problem_document, read_plan, read_problem
from nundine.core.week.problem import ProblemError
from tests.weeks import random_week


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10**6))
def test_a_problem_and_its_plan_come_back_equal(seed: int) -> None:
    problem = random_week(seed, 4, 8)
    assert read_problem(problem_document(problem)) == problem
    plan = build(problem, limits=Limits(iterations=3))
    assert read_plan(plan_document(plan)) == plan


def errors_of(change) -> list[str]:
    document = problem_document(random_week(1, 4, 8))
    change(document)
    with pytest.raises(ProblemError) as caught:
        read_problem(document)
    return caught.value.errors


def test_every_error_is_told_at_once_with_its_json_path() -> None:
    def spoil(d: dict) -> None:
        d["jobs"][2]["tasks"][0]["hours"] = "two"
        d["people"][1]["hours"][0]["start"] = "2026-11-30 06:00"
        del d["week"]

    told = errors_of(spoil)
    assert [e.split(":")[0] for e in told] == ["$.week", "$.people[1].hours[0].start", "$.jobs[2].tasks[0].hours"]


def test_contradictions_are_named() -> None:
    assert "$.jobs[0].asset: unknown asset 'moon'" in errors_of(lambda d: d["jobs"][0].update(asset="moon"))
    assert any("circle" in e for e in errors_of(lambda d: d["jobs"][0]["tasks"][0].update(after=[{"task": d["jobs"][0]["tasks"][0]["id"]}])))
    assert any("stands twice" in e for e in errors_of(lambda d: d["jobs"].append(d["jobs"][0])))
    assert errors_of(lambda d: d.update(format="other/1")) == ["$.format: must be 'nundine-week/1', not 'other/1'"]
