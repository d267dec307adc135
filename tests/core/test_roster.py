"""Hours of a person from pattern, absences, overtime and extra shifts, against a reading quarter by
quarter."""

from collections import Counter
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.roster import (
    PatternShift,
    RosterLine,
    ShiftPattern,
    WorkInterval,
    moment_in_shift,
    shift_day,
    working_hours,
)
from nundine.core.timeline import Interval, at_local
from tests.examples import examples

ZURICH = ZoneInfo("Europe/Zurich")
QUARTER = timedelta(minutes=15)
MONDAYS = st.sampled_from((date(2026, 10, 19), date(2026, 11, 30), date(2027, 3, 22), date(2028, 2, 28)))
"""Weeks of both clock changes, an ordinary one and one with a 29 February."""
QUARTERS = st.integers(0, 95).map(lambda n: time(n // 4, 15 * (n % 4)))
SHIFTS = st.builds(PatternShift, st.integers(0, 6), QUARTERS, QUARTERS, st.sampled_from((0, 15, 30)))


def one_a_day(shifts: list[PatternShift]) -> tuple[PatternShift, ...]:
    """Shifts of which none starts before the one of the day before has ended."""
    by_day = {s.day_index: s for s in shifts}
    return tuple(
        s
        for d, s in by_day.items()
        if not (s.end <= s.start and (before := by_day.get((d + 1) % 7)) and before.start < s.end)
    )


def moment(monday: date, quarter: int) -> datetime:
    return (datetime.combine(monday, time(0), ZURICH).astimezone(UTC) + quarter * QUARTER).astimezone(ZURICH)


def quarters_of(start: datetime, end: datetime) -> list[datetime]:
    at, out = start.astimezone(UTC), []
    while at < end.astimezone(UTC):
        out.append(at)
        at += QUARTER
    return out


STRETCH = st.tuples(st.integers(-20, 700), st.integers(1, 60))


@examples(150)
@given(
    MONDAYS,
    st.lists(SHIFTS, max_size=6),
    st.lists(STRETCH, max_size=3),
    st.lists(STRETCH, max_size=3),
    st.lists(STRETCH, max_size=2),
)
def test_each_quarter_of_an_hour_is_regular_or_overtime_or_free_as_the_roster_says(
    monday: date,
    shifts: list[PatternShift],
    away: list[tuple[int, int]],
    more: list[tuple[int, int]],
    extra: list[tuple[int, int]],
) -> None:
    pattern = ShiftPattern("p", 7, one_a_day(shifts))
    absences = [Interval(moment(monday, a), moment(monday, a + n)) for a, n in away]
    overtime = [WorkInterval(moment(monday, a), moment(monday, a + n), True, monday) for a, n in more]
    extras = [WorkInterval(moment(monday, a), moment(monday, a + n), False, monday) for a, n in extra]
    found = working_hours([RosterLine(pattern, monday)], absences, overtime, monday, 7, ZURICH, extras)

    rostered: set[datetime] = set()
    for shift in pattern.shifts:
        day = monday + timedelta(days=shift.day_index)
        last = day if shift.end > shift.start else day + timedelta(days=1)
        start, end = (
            datetime.combine(d, t, ZURICH).astimezone(UTC) for d, t in ((day, shift.start), (last, shift.end))
        )
        rostered |= set(quarters_of(start + timedelta(minutes=shift.standing_minutes), end))
    for one in extras:
        rostered |= set(quarters_of(one.start, one.end))
    gone = {q for one in absences for q in quarters_of(one.start, one.end)}
    offered = {q for one in overtime for q in quarters_of(one.start, one.end)}

    got = Counter((q, w.overtime) for w in found for q in quarters_of(w.start, w.end))
    assert {q for q, over in got if not over} == rostered - gone
    assert {q for q, over in got if over} == offered - rostered - gone
    assert list(found) == sorted(found)


@given(st.dates(date(2026, 1, 1), date(2028, 12, 31)), st.integers(1, 28), st.integers(0, 60))
def test_a_cycle_of_any_length_works_on_every_day_that_is_a_whole_number_of_cycles_from_its_first(
    first: date, cycle: int, later: int
) -> None:
    line = RosterLine(ShiftPattern("p", cycle, (PatternShift(0, time(8), time(16)),)), first)
    start = first + timedelta(days=later)
    days = [w.day for w in working_hours([line], [], [], start, 30, ZURICH)]
    assert days == [d for n in range(30) if ((d := start + timedelta(days=n)) - first).days % cycle == 0]


def test_nobody_works_before_the_first_or_after_the_last_day_of_a_roster_line() -> None:
    every_day = ShiftPattern("p", 1, (PatternShift(0, time(8), time(16)),))
    lines = [
        RosterLine(every_day, date(2026, 12, 1), date(2026, 12, 2)),
        RosterLine(every_day, date(2026, 12, 4)),
    ]
    days = [w.day.day for w in working_hours(lines, [], [], date(2026, 11, 30), 7, ZURICH)]
    assert days == [1, 2, 4, 5, 6]


@pytest.mark.parametrize(("cycle", "day"), [(0, 0), (3, 3), (7, -1)])
def test_a_shift_outside_its_cycle_is_refused(cycle: int, day: int) -> None:
    with pytest.raises(ValueError, match="pattern p"):
        ShiftPattern("p", cycle, (PatternShift(day, time(8), time(16)),))


NIGHT_SHIFT = [
    WorkInterval(
        at_local(date(2026, 12, d), time(21, 30), ZURICH),
        at_local(date(2026, 12, d + 1), time(6), ZURICH),
        False,
        date(2026, 12, d),
    )
    for d in (1, 2)
]


@pytest.mark.parametrize(
    ("day", "clock", "belongs"),
    [
        (1, "23:00", 1),
        (2, "01:15", 1),
        (2, "06:00", 1),
        (2, "09:30", 1),
        (2, "12:00", 2),
        (2, "22:00", 2),
        (3, "02:00", 2),
        (1, "21:30", 1),
    ],
)
def test_work_ends_on_the_day_of_the_shift_in_which_or_soon_after_which_it_ended(day, clock, belongs):
    ended = at_local(date(2026, 12, day), time.fromisoformat(clock), ZURICH)
    assert shift_day(NIGHT_SHIFT, ended, ZURICH) == date(2026, 12, belongs)


def test_without_a_shift_work_ends_on_the_calendars_day():
    assert shift_day([], datetime(2026, 12, 1, 23, 30, tzinfo=UTC), ZURICH) == date(2026, 12, 2)


@pytest.mark.parametrize(
    ("clock", "day"), [("22:00", 1), ("01:00", 2), ("05:45", 2), ("21:30", 1), ("20:00", 1), ("07:00", 2)]
)
def test_a_clock_of_a_night_shift_is_read_on_its_side_of_midnight(clock, day):
    found = moment_in_shift(NIGHT_SHIFT, date(2026, 12, 1), time.fromisoformat(clock), ZURICH)
    assert found == at_local(date(2026, 12, day), time.fromisoformat(clock), ZURICH)


def test_a_clock_of_a_day_shift_or_of_no_shift_lies_on_its_day():
    early = [
        WorkInterval(
            at_local(date(2026, 12, 1), time(6), ZURICH),
            at_local(date(2026, 12, 1), time(14), ZURICH),
            False,
            date(2026, 12, 1),
        )
    ]
    for hours in (early, []):
        for clock in (time(5), time(7), time(14), time(16)):
            assert moment_in_shift(hours, date(2026, 12, 1), clock, ZURICH) == at_local(
                date(2026, 12, 1), clock, ZURICH
            )


def test_an_hour_that_the_clock_repeats_is_not_lost() -> None:
    """2026-10-25 03:00 goes back to 02:00 (rules of the European Union as the tz database has them)."""
    first = datetime(2026, 10, 25, 0, 0, tzinfo=UTC).astimezone(ZURICH)
    end = datetime(2026, 10, 25, 1, 0, tzinfo=UTC).astimezone(ZURICH)
    offer = WorkInterval(first, end, True, date(2026, 10, 25))
    (found,) = working_hours([], [], [offer], date(2026, 10, 19), 7, ZURICH)
    assert found.hours == 1.0
