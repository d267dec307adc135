"""Problems and plans as files: what is written is read back equal, what is wrong is named with its path."""

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, build
from nundine.core.week.files import plan_document, problem_document, read_plan, read_problem
from nundine.core.week.problem import ProblemError
from tests.examples import examples
from tests.weeks import random_week, workable_week
from tests.words import WORDS


@examples(25)
@given(st.integers(0, 10**6))
def test_a_problem_and_its_plan_come_back_equal(seed: int) -> None:
    problem = random_week(seed, 4, 8)
    assert read_problem(problem_document(problem)) == problem
    plan = build(problem, limits=Limits(iterations=3))
    assert read_plan(plan_document(plan, WORDS)) == plan


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
        "$.format: must be 'nundine-week/2', not 'other/1'"
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


@examples(300)
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


@examples(100)
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


def test_a_document_of_the_first_format_has_no_ways_no_prices_and_assets_that_go_back() -> None:
    document = problem_document(workable_week(3))
    for name in ("travel",):
        del document[name]
    prices = ("waiting_per_hour", "waiting_cap_hours", "handover", "area_change", "away_per_hour")
    first = {
        **document,
        "format": "nundine-week/1",
        "weights": {k: v for k, v in document["weights"].items() if k not in prices},
        "jobs": [
            {k: v for k, v in j.items() if k not in ("out_of_service", "out_since")} for j in document["jobs"]
        ],
    }
    old, new = read_problem(first), read_problem({**first, "format": "nundine-week/2"})
    assert (
        not old.weights.has_prices and {j.out_of_service for j in old.jobs} == {"by_task"} and not old.travel
    )
    assert new.weights.handover == 200 and {j.out_of_service for j in new.jobs} == {"whole"}


def test_ways_prices_and_service_are_read_back_as_they_were_written() -> None:
    problem = workable_week(8, 6, 20)
    assert read_problem(json.loads(json.dumps(problem_document(problem)))) == problem


def test_what_is_wrong_with_ways_prices_and_service_is_told_by_its_place() -> None:
    document = problem_document(workable_week(3))
    document["travel"] = [{"from": "north", "to": "south", "minutes": -5}]
    document["weights"]["handover"] = -1
    document["jobs"][0]["out_of_service"] = "sometimes"
    with pytest.raises(ProblemError) as bad:
        read_problem(document)
    assert set(bad.value.errors) == {
        "$.jobs[0].out_of_service: must be whole or by_task",
        "$.weights.handover: must not be negative",
        "$.travel[0].minutes: must not be negative",
    }
    document["travel"] = [{"from": "north"}]
    with pytest.raises(ProblemError) as missing:
        read_problem(document)
    assert "$.travel[0].to: is missing" in missing.value.errors
