"""Moves between two plans: each difference once, counted by what changes for people, told in words."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, build
from nundine.core.week.moves import moves_between
from nundine.core.week.problem import Placement, Seat
from nundine.services import wording
from tests.examples import examples
from tests.weeks import random_week

START = datetime(2026, 12, 1, 7, tzinfo=UTC)
ONE = Placement(
    "WO-1",
    "10",
    1,
    date(2026, 12, 1),
    START,
    START + timedelta(hours=2),
    (Seat("p1", "mech"), Seat("p2", "mech")),
    None,
)
NAMES = wording.Names({"person": {"p1": "Marit", "p2": "Sven", "p3": "عمر"}})
HOUR = timedelta(hours=1)


def later(one: Placement, by: timedelta) -> Placement:
    assert one.start is not None
    assert one.end is not None
    return replace(one, start=one.start + by, end=one.end + by, day=(one.start + by).date())


def crewed(one: Placement, *people: str | None) -> Placement:
    return replace(one, people=tuple(Seat(p, "mech") for p in people))


@pytest.mark.parametrize(
    ("after", "kind", "moves", "text"),
    [
        (crewed(ONE, "p1", "p3"), "people", 1, "WO-1 task 10, Tue 1 Dec 07:00–09:00: Sven → عمر"),
        (crewed(ONE, None, "p2"), "people", 1, "WO-1 task 10, Tue 1 Dec 07:00–09:00: Marit → open"),
        (
            later(ONE, HOUR),
            "start",
            1,
            "WO-1 task 10 is on Tue 1 Dec 08:00–10:00 instead of Tue 1 Dec 07:00–09:00",
        ),
        (
            later(crewed(ONE, "p1", "p3"), HOUR),
            "start",
            2,
            "WO-1 task 10 is on Tue 1 Dec 08:00–10:00 instead of Tue 1 Dec 07:00–09:00, Sven → عمر",
        ),
        (
            later(ONE, 24 * HOUR),
            "day",
            2,
            "WO-1 task 10 moves from Tue 1 Dec 07:00–09:00 to Wed 2 Dec 07:00–09:00",
        ),
        (
            replace(ONE, end=ONE.end + HOUR),
            "start",
            1,
            "WO-1 task 10 is on Tue 1 Dec 07:00–10:00 instead of Tue 1 Dec 07:00–09:00",
        ),
    ],
)
def test_a_person_a_start_and_a_day_count_one_each(
    after: Placement, kind: str, moves: int, text: str
) -> None:
    [move] = moves_between([ONE], [after])
    assert (move.kind, move.moves, wording.move(move, NAMES)) == (kind, moves, text)


def test_what_leaves_counts_one_and_what_comes_in_none() -> None:
    [out] = moves_between([ONE], [])
    [come] = moves_between([], [ONE])
    assert (out.kind, out.moves, wording.move(out, NAMES)) == (
        "out",
        1,
        "WO-1 task 10 leaves the week (was Tue 1 Dec 07:00–09:00)",
    )
    assert (come.kind, come.moves, wording.move(come, NAMES)) == (
        "in",
        0,
        "WO-1 task 10 comes in, Tue 1 Dec 07:00–09:00, with Marit, Sven",
    )


def test_a_day_without_a_time_is_told_as_the_day() -> None:
    planned = replace(ONE, start=None, end=None, people=(), hours=2.0)
    [move] = moves_between([planned], [replace(planned, day=date(2026, 12, 4))])
    assert wording.move(move, NAMES) == "WO-1 task 10 moves from Tue 1 Dec to Fri 4 Dec"
    assert (
        wording.move(moves_between([], [planned])[0], NAMES)
        == "WO-1 task 10 comes in, Tue 1 Dec, without a crew"
    )


def test_people_without_a_name_are_told_by_their_id() -> None:
    assert wording.move(moves_between([ONE], [crewed(ONE, "p1", "p9")])[0], wording.PLAIN).endswith("p2 → p9")


@examples(15)
@given(st.integers(0, 10**6), st.integers(0, 10**6))
def test_moves_lead_from_one_plan_to_the_other_and_back(first: int, second: int) -> None:
    problem = random_week(first, 8, 20)
    a, b = (
        build(problem, limits=Limits(iterations=20), seed=s, helps=False).placements for s in (first, second)
    )
    assert moves_between(a, a) == ()
    there, back = moves_between(a, b), moves_between(b, a)
    plan = {p.key: p for p in a}
    for move in there:
        if move.before is not None:
            del plan[move.before.key]
        if move.after is not None:
            plan[move.after.key] = move.after
    assert set(plan) == {p.key for p in b}
    assert all([s.id for s in plan[p.key].people] == [s.id for s in p.people] for p in b)
    assert all((plan[p.key].day, plan[p.key].start, plan[p.key].end) == (p.day, p.start, p.end) for p in b)
    assert [(m.before, m.after) for m in there] == [(m.after, m.before) for m in back]
