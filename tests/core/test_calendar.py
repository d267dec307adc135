"""Weeks, clock changes and shifts are exact."""

from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.roster import PatternShift, RosterLine, ShiftPattern, WorkInterval, working_hours
from nundine.core.timeline import Interval, SlotGrid, merge, subtract, week_interval, week_monday, week_name

ZURICH = ZoneInfo("Europe/Zurich")
NIGHT = ShiftPattern("night", 7, tuple(PatternShift(d, time(22), time(6)) for d in range(7)))
T0 = datetime(2026, 11, 30, tzinfo=ZURICH)
HOURS = st.integers(0, 200).flatmap(
    lambda a: st.integers(0, 40).map(lambda n: Interval(T0 + timedelta(hours=a), T0 + timedelta(hours=a + n)))
)


@given(st.dates(date(1970, 1, 1), date(2100, 12, 31)))
def test_every_day_lies_in_the_week_that_bears_its_name(day: date) -> None:
    assert week_monday(week_name(day)) <= day < week_monday(week_name(day)) + timedelta(days=7)


def test_a_week_that_a_year_does_not_have_is_refused_with_those_that_it_has() -> None:
    """ISO 8601: a year has 53 weeks when it begins on a Thursday, or on a Wednesday and is a leap year; else
    52."""
    assert week_monday("2026-W53") == date(2026, 12, 28)
    with pytest.raises(ValueError, match="2026 has the weeks 01 to 53"):
        week_monday("2026-W54")
    with pytest.raises(ValueError, match="2025 has the weeks 01 to 52"):
        week_monday("2025-W53")


@pytest.mark.parametrize("wrong", ["2026-49", "2026-W54", "2025-W53", "W49", ""])
def test_what_is_no_week_is_refused(wrong: str) -> None:
    with pytest.raises(ValueError):
        week_monday(wrong)


def test_a_night_shift_is_an_hour_longer_when_clocks_go_back_and_shorter_when_they_go_forward() -> None:
    def hours_of(saturday: date) -> float:
        return sum(w.hours for w in working_hours([RosterLine(NIGHT, saturday)], [], [], saturday, 1, ZURICH))

    assert hours_of(date(2026, 10, 24)) == 9.0
    assert hours_of(date(2027, 3, 27)) == 7.0
    assert hours_of(date(2026, 12, 5)) == 8.0


def test_a_shift_belongs_to_the_day_on_which_it_starts() -> None:
    work = working_hours([RosterLine(NIGHT, T0.date())], [], [], T0.date(), 7, ZURICH)
    assert [w.day for w in work] == [T0.date() + timedelta(days=n) for n in range(7)]
    assert work[-1].end > week_interval("2026-W49", ZURICH).end


def test_standing_time_and_absence_take_hours_away_and_overtime_adds_them() -> None:
    day = ShiftPattern("day", 1, (PatternShift(0, time(8), time(16), 30),))
    away = Interval(T0.replace(hour=14), T0.replace(hour=18))
    extra = WorkInterval(T0.replace(hour=15), T0.replace(hour=20), True, T0.date())
    work = working_hours([RosterLine(day, T0.date())], [away], [extra], T0.date(), 1, ZURICH)
    assert [(w.start.hour, w.start.minute, w.end.hour, w.overtime) for w in work] == [
        (8, 30, 14, False),
        (18, 0, 20, True),
    ]


def test_a_pattern_goes_on_over_a_29_february() -> None:
    three_days = ShiftPattern("three", 3, (PatternShift(0, time(8), time(16)),))
    days = [
        w.day
        for w in working_hours(
            [RosterLine(three_days, date(2028, 2, 26))], [], [], date(2028, 2, 26), 8, ZURICH
        )
    ]
    assert days == [date(2028, 2, 26), date(2028, 2, 29), date(2028, 3, 3)]


@given(st.lists(HOURS), st.lists(HOURS))
def test_what_is_left_and_what_is_cut_make_the_whole(whole: list[Interval], cut: list[Interval]) -> None:
    left = subtract(whole, cut)
    both = sum(i.hours for i in merge([*whole, *cut]))
    assert sum(i.hours for i in left) + sum(i.hours for i in merge(cut)) == pytest.approx(both)


@pytest.mark.parametrize(("week", "hours"), [("2026-W43", 169), ("2026-W49", 168), ("2027-W12", 167)])
def test_slots_count_absolute_time_across_a_clock_change(week: str, hours: int) -> None:
    span = week_interval(week, ZURICH)
    grid = SlotGrid(span.start, 15)
    assert grid.floor(span.end) == hours * 4
    assert grid.moment(hours * 4) == span.end
