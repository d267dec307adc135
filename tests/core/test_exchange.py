"""Two busy people change places: nobody ends on two things at once, unqualified, or outside a shift."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.exchange import MOST_SEATS, exchanges
from nundine.core.week.problem import Placement, WeekProblem
from tests.examples import examples
from tests.weeks import random_week

PEOPLE_RULES = {"away", "double", "craft", "certificate", "seats", "day"}


def built(seed: int, people: int = 9, jobs: int = 25) -> tuple[WeekProblem, tuple[Placement, ...]]:
    problem = random_week(seed, people, jobs)
    return problem, build(problem, limits=Limits(iterations=4), helps=False).placements


def seats(placements: tuple[Placement, ...]) -> list[tuple[Placement, int, str]]:
    return [
        (p, n, s.id)
        for p in placements
        for n, s in enumerate(p.people)
        if s.id is not None and p.start is not None
    ]


def after(placements: tuple[Placement, ...], changed: tuple[Placement, ...]) -> tuple[Placement, ...]:
    new = {p.key: p for p in changed}
    return tuple(new.get(p.key, p) for p in placements)


@examples(40)
@given(st.integers(0, 10**6))
def test_an_exchange_breaks_no_rule_of_people_and_keeps_every_time(seed: int) -> None:
    problem, placements = built(seed)
    for one, seat, sat in seats(placements)[:12]:
        for e in exchanges(problem, placements, one, seat):
            changed = e.placements(sat)
            new = after(placements, changed)
            assert not {b.code for b in check(problem, new).errors} & PEOPLE_RULES
            assert [(p.key, p.start, p.end, len(p.people)) for p in new] == [
                (p.key, p.start, p.end, len(p.people)) for p in placements
            ]
            assert next(p for p in changed if p.key == one.key).people[seat].id == e.person
            assert 2 <= len(e.takes) + len(e.gives) <= MOST_SEATS
            hands = {s.id for p in (*changed,) for s in p.people} - {
                s.id for p in placements for s in p.people if p.key in {c.key for c in changed}
            }
            assert not hands, "only the two change places"


@examples(25)
@given(st.integers(0, 10**6))
def test_changing_places_twice_is_the_week_as_it_was(seed: int) -> None:
    problem, placements = built(seed)
    for one, seat, sat in seats(placements)[:8]:
        for e in exchanges(problem, placements, one, seat)[:2]:
            new = after(placements, e.placements(sat))
            now = next(p for p in new if p.key == one.key)
            back = {x.person: x for x in exchanges(problem, new, now, seat)}
            assert after(new, back[sat].placements(e.person)) == placements


def some_exchange() -> tuple[WeekProblem, tuple[Placement, ...], Placement, int, str]:
    for seed in range(50):
        problem, placements = built(seed)
        for one, seat, sat in seats(placements):
            if exchanges(problem, placements, one, seat):
                return problem, placements, one, seat, sat
    raise AssertionError("fifty full weeks without a single exchange")


def test_what_is_done_keeps_its_people() -> None:
    problem, placements, one, seat, _ = some_exchange()
    found = exchanges(problem, placements, one, seat)
    given_back = found[0].gives[0][0]
    assert not exchanges(problem, placements, one, seat, stay={one.key})
    assert found[0] not in exchanges(problem, placements, one, seat, stay={given_back.key})


def test_an_open_seat_and_a_day_without_a_time_have_no_exchange() -> None:
    problem, placements, one, seat, _ = some_exchange()
    opened = replace(
        one, people=tuple(replace(s, id=None) if n == seat else s for n, s in enumerate(one.people))
    )
    assert exchanges(problem, after(placements, (opened,)), opened, seat) == ()
    timeless = replace(one, start=None, end=None, hours=1.0)
    assert exchanges(problem, after(placements, (timeless,)), timeless, seat) == ()


def test_somebody_who_is_free_is_no_exchange() -> None:
    problem, placements, one, seat, _ = some_exchange()
    for e in exchanges(problem, placements, one, seat):
        assert any(p.start < one.end and one.start < p.end for p, _ in e.gives)  # type: ignore[operator]
