"""Extra shifts and overtime beside the roster, tanks of some areas, days early and late: rules that hold for
any figures."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.metrics import Scheduled, days_off, remaining_hours, schedule_compliance
from nundine.core.roster import PatternShift, RosterLine, ShiftPattern, WorkInterval, working_hours
from nundine.core.timeline import Interval
from nundine.core.week.building.build import Limits, build
from nundine.core.week.load import BY_CRAFT, BY_CREW, BY_PERSON, tanks, tanks_of_areas
from nundine.core.week.problem import Seat
from tests.examples import examples
from tests.weeks import random_week

ZURICH = ZoneInfo("Europe/Zurich")
MONDAY = date(2026, 11, 30)
DAY = RosterLine(ShiftPattern("day", 7, tuple(PatternShift(n, time(7), time(15)) for n in range(5))), MONDAY)

hour = st.integers(0, 7 * 96 - 1)


def stretch(start: int, length: int, overtime: bool) -> WorkInterval:
    at = datetime(2026, 11, 30, tzinfo=ZURICH) + timedelta(minutes=15 * start)
    return WorkInterval(at, at + timedelta(minutes=15 * length), overtime, at.date())


stretches = st.lists(st.tuples(hour, st.integers(1, 40)), max_size=5)


@examples(150)
@given(extra=stretches, offers=stretches, away=stretches)
def test_nobody_has_an_hour_twice_whatever_is_added_and_taken_by_hand(
    extra: list[tuple[int, int]], offers: list[tuple[int, int]], away: list[tuple[int, int]]
) -> None:
    absences = [Interval(w.start, w.end) for w in (stretch(*a, False) for a in away)]
    found = working_hours(
        [DAY],
        absences,
        [stretch(*o, True) for o in offers],
        MONDAY,
        7,
        ZURICH,
        [stretch(*e, False) for e in extra],
    )
    assert all(w.start < w.end for w in found)
    assert all(a.end <= b.start for a, b in zip(found, found[1:], strict=False))
    for w in found:
        assert not any(a.start < w.end and w.start < a.end for a in absences)


def test_an_extra_shift_is_regular_and_what_the_roster_has_already_counts_once() -> None:
    saturday = stretch(5 * 96 + 28, 32, False)
    monday = replace(
        saturday,
        start=saturday.start - timedelta(days=5),
        end=saturday.end - timedelta(days=5, hours=-2),
        day=MONDAY,
    )
    found = working_hours([DAY], [], [], MONDAY, 7, ZURICH, [saturday, monday])
    assert sum(Interval(w.start, w.end).hours for w in found) == 40 + 8 + 2
    assert not any(w.overtime for w in found)


@examples(20)
@given(st.integers(0, 10**6))
def test_tanks_of_all_areas_add_up_to_the_whole_board(seed: int) -> None:
    problem = random_week(seed, 5, 12)
    placements = build(
        problem, limits=Limits(iterations=30), helps=False, known_bound=float("inf")
    ).placements
    areas = sorted({p.area for p in problem.people if p.area} | {j.area for j in problem.jobs if j.area})
    parts = [tanks_of_areas(problem, placements, {a}) for a in areas]
    for key, whole in tanks(problem, placements).items():
        for figure in ("regular", "overtime", "held_back", "load", "people"):
            assert sum(getattr(p[key], figure) for p in parts) == pytest.approx(getattr(whole, figure))


@examples(20)
@given(st.integers(0, 10**6))
def test_crews_and_people_hold_the_same_hours_and_load_as_crafts_on_each_day(seed: int) -> None:
    problem = random_week(seed, 5, 12)
    placements = build(
        problem, limits=Limits(iterations=30), helps=False, known_bound=float("inf")
    ).placements
    opened = tuple(
        replace(p, people=tuple(Seat(None, s.craft) if n == 0 else s for n, s in enumerate(p.people)))
        for p in placements
    )
    for day in problem.days:
        for figure in ("regular", "overtime", "held_back", "load", "people"):
            sums = [
                sum(getattr(t, figure) for (_, d), t in tanks(problem, opened, board).items() if d == day)
                for board in (BY_CRAFT, BY_CREW, BY_PERSON)
            ]
            assert sums == pytest.approx([sums[0]] * 3)


@pytest.mark.parametrize(
    ("published", "ended", "today", "off"),
    [(2, 2, 9, 0), (2, 1, 9, -1), (2, 5, 9, 3), (2, None, 2, None), (2, None, 1, None), (2, None, 4, 2)],
)
def test_days_off_count_from_the_published_day_to_the_end_or_to_today(
    published: int, ended: int | None, today: int, off: int | None
) -> None:
    december = lambda d: date(2026, 12, d)  # noqa: E731
    assert days_off(december(published), december(ended) if ended else None, december(today)) == off


@given(st.floats(0.25, 200), st.floats(0, 400), st.one_of(st.none(), st.floats(0.25, 200)))
def test_a_begun_task_always_needs_some_hours_and_what_was_reported_counts_first(
    planned: float, spent: float, reported: float | None
) -> None:
    left = remaining_hours(planned, spent, reported)
    assert left >= 0.25
    assert left == reported if reported is not None else left <= max(planned, 0.25)


@given(st.lists(st.tuples(st.floats(0, 100), st.booleans(), st.floats(0, 200)), max_size=30))
def test_compliance_lies_between_nothing_and_everything(rows: list[tuple[float, bool, float]]) -> None:
    found = schedule_compliance(Scheduled(str(n), h, done, d) for n, (h, done, d) in enumerate(rows))
    for share in (found.by_jobs, found.by_hours):
        assert share is None or 0 <= share <= 1 + 1e-9
    assert (found.by_jobs is None) == (not rows)
