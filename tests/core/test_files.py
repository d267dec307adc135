"""Problems and plans as files: what is written is read back equal, what is wrong is named with its path."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, build
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
    assert [e.split(":")[0] for e in told] == [
        "$.week",
        "$.people[1].hours[0].start",
        "$.jobs[2].tasks[0].hours",
    ]


def test_contradictions_are_named() -> None:
    assert "$.jobs[0].asset: unknown asset 'moon'" in errors_of(lambda d: d["jobs"][0].update(asset="moon"))
    assert any(
        "circle" in e
        for e in errors_of(
            lambda d: d["jobs"][0]["tasks"][0].update(after=[{"task": d["jobs"][0]["tasks"][0]["id"]}])
        )
    )
    assert any("stands twice" in e for e in errors_of(lambda d: d["jobs"].append(d["jobs"][0])))
    assert errors_of(lambda d: d.update(format="other/1")) == [
        "$.format: must be 'nundine-week/1', not 'other/1'"
    ]


def places_of(value: Any, path: tuple[str | int, ...] = ()) -> list[tuple[str | int, ...]]:
    """Every place of a document, as steps from its root."""
    inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    return [place for step, one in inside for place in [(*path, step), *places_of(one, (*path, step))]]


def said(place: tuple[str | int, ...]) -> str:
    """A place as errors name it."""
    return "$" + "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in place)


STRANGE: list[Any] = [
    None,
    True,
    -1,
    0,
    0.5,
    1e300,
    float("nan"),
    "",
    "moon",
    "2026-11-30",
    "2026-11-30T06:00:00",
    [],
    [None],
    [1],
    {},
    {"id": 1},
]


@settings(max_examples=300, deadline=None)
@given(st.data())
def test_whatever_stands_in_a_place_is_read_or_refused_with_its_path_and_nothing_else_is_raised(
    data: st.DataObject,
) -> None:
    document = problem_document(random_week(data.draw(st.integers(0, 20)), 3, 4))
    place = data.draw(st.sampled_from(places_of(document)))
    around: Any = document
    for step in place[:-1]:
        around = around[step]
    around[place[-1]] = data.draw(st.sampled_from(STRANGE))
    try:
        read_problem(document)
    except ProblemError as refused:
        assert refused.errors
        assert all(e.startswith("$") and ": " in e for e in refused.errors)
        # what is wrong is told where it was put, inside it, around it, or where something names it
        assert len(place) < 2 or any(
            e.startswith(said(place[:2])) or said(place[:2]) in e or "unknown" in e for e in refused.errors
        )


@settings(max_examples=100, deadline=None)
@given(st.data())
def test_a_place_left_out_has_its_default_or_is_told_once(data: st.DataObject) -> None:
    document = problem_document(random_week(data.draw(st.integers(0, 20)), 3, 4))
    place = data.draw(
        st.sampled_from([p for p in places_of(document) if isinstance(p[-1], str) and p != ("format",)])
    )
    around: Any = document
    for step in place[:-1]:
        around = around[step]
    del around[place[-1]]
    try:
        read_problem(document)
    except ProblemError as refused:
        told = [e for e in refused.errors if e.startswith(said(place))]
        assert len(told) == 1 or not told and any("unknown" in e or "must" in e for e in refused.errors)
