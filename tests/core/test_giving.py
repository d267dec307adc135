"""A selection of work given to one person or to a crew: nobody ends on two things at once, and what stays is
told."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.cover import Cover
from nundine.core.week.giving import NEVER, give_all
from nundine.core.week.problem import Placement, Seat, WeekProblem
from tests.examples import examples
from tests.weeks import random_week


def opened(seed: int, share: int = 2) -> tuple[WeekProblem, tuple[Placement, ...]]:
    """A built week in which every so manieth placement has lost its people."""
    problem = random_week(seed, 9, 25)
    found = build(problem, limits=Limits(iterations=4), helps=False).placements
    return problem, tuple(
        replace(p, people=tuple(Seat(None, s.craft) for s in p.people)) if n % share == 0 else p
        for n, p in enumerate(found)
    )


def after(placements: tuple[Placement, ...], found: Cover) -> tuple[Placement, ...]:
    new = {p.key: p for p, _ in found.given}
    return tuple(new.get(p.key, p) for p in placements)


@examples(30)
@given(st.integers(0, 10**6))
def test_giving_all_to_a_crew_breaks_no_rule_that_was_not_broken(seed: int) -> None:
    problem, placements = opened(seed)
    crew = {p.id for p in problem.people[::2]}
    found = give_all(problem, placements, [p.key for p in placements], crew)
    was = {(b.code, b.person, b.keys) for b in check(problem, placements).conflicts}
    now = check(problem, after(placements, found)).conflicts
    assert [b for b in now if b.code != "seats" and (b.code, b.person, b.keys) not in was] == []


@examples(30)
@given(st.integers(0, 10**6), st.booleans())
def test_one_person_takes_one_seat_of_a_placement_and_none_that_busy_or_a_certificate_forbids(
    seed: int, despite: bool
) -> None:
    problem, placements = opened(seed)
    who = problem.people[seed % len(problem.people)].id
    found = give_all(problem, placements, [p.key for p in placements], {who}, despite=despite)
    now = after(placements, found)
    assert all(sum(s.id == who for s in p.people) <= 1 for p in now)
    was = {(b.code, b.person, b.keys) for b in check(problem, placements).conflicts}
    broken = {b.code for b in check(problem, now).conflicts if (b.code, b.person, b.keys) not in was}
    assert not broken & {"double", "craft", "certificate"}
    assert despite or broken <= {"seats"}
    told = {one.placement.key for one in found.left}
    mine = {p.key for p in now if any(s.id == who for s in p.people)}
    assert told | mine == {p.key for p in placements}
    if despite:
        assert all(one.why is None or one.why.code in NEVER for one in found.left)


@examples(15)
@given(st.integers(0, 10**6))
def test_what_stays_keeps_its_people_and_times_never_change(seed: int) -> None:
    problem, placements = opened(seed)
    stay = {p.key for p in placements[::3]}
    found = give_all(problem, placements, [p.key for p in placements], {problem.people[0].id}, stay)
    assert not stay & {p.key for p, _ in found.given}
    at = {p.key: (p.day, p.start, p.end) for p in placements}
    assert all((p.day, p.start, p.end) == at[p.key] for p in after(placements, found))
