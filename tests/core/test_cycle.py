"""Cycles of the calendar: as the rules of RFC 5545 say, with the last day where a month has no such day."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from itertools import islice

import pytest
from dateutil.rrule import rrulestr
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.preventive.cycle import LAST, Cycle, after_done, dates, following, rule_of

DAYS = st.dates(date(2020, 1, 1), date(2030, 12, 31))


@st.composite
def cycles(draw: st.DrawFn) -> Cycle:
    unit = draw(st.sampled_from(["day", "week", "month", "year"]))
    every = draw(st.integers(1, 40))
    if unit == "week":
        return Cycle(every, unit, tuple(draw(st.sets(st.integers(0, 6), max_size=3))))
    if unit in ("month", "year") and draw(st.booleans()):
        return Cycle(every, unit, month_day=draw(st.integers(1, 31) | st.just(LAST)))
    return Cycle(every, unit)


@given(cycles(), DAYS)
def test_the_dates_of_a_cycle_are_those_of_its_recurrence_rule(cycle: Cycle, start: date) -> None:
    rule = rrulestr(rule_of(cycle, start), dtstart=datetime.combine(start, datetime.min.time()))
    theirs = (d.date() for d in rule if d.date() > start)
    assert list(islice(dates(cycle, start), 8)) == list(islice(theirs, 8))


@given(cycles(), DAYS, DAYS)
def test_the_following_date_is_the_first_of_the_cycle_after_a_day(
    cycle: Cycle, start: date, after: date
) -> None:
    later = next(d for d in dates(cycle, start) if d > after)
    assert following(cycle, start, after) == later


@given(cycles(), DAYS, st.integers(1, 60))
def test_what_is_done_later_falls_due_next_no_sooner(cycle: Cycle, done: date, later: int) -> None:
    assert after_done(cycle, done + timedelta(days=later)) >= after_done(cycle, done) > done


@pytest.mark.parametrize(
    ("rule", "start", "expected"),
    [
        # RFC 5545, section 3.8.5.3, examples of recurrence rules, from 2 September 1997 on
        (Cycle(10, "day"), date(1997, 9, 2), [date(1997, 9, 12), date(1997, 9, 22), date(1997, 10, 2)]),
        (Cycle(2, "week"), date(1997, 9, 2), [date(1997, 9, 16), date(1997, 9, 30), date(1997, 10, 14)]),
        (Cycle(1, "week", (1, 3)), date(1997, 9, 2), [date(1997, 9, 4), date(1997, 9, 9), date(1997, 9, 11)]),
        (
            Cycle(2, "week", (0, 2, 4)),
            date(1997, 9, 1),
            [date(1997, 9, 3), date(1997, 9, 5), date(1997, 9, 15)],
        ),
        (Cycle(18, "month", month_day=10), date(1997, 9, 10), [date(1999, 3, 10), date(2000, 9, 10)]),
        # the common practice at the ends of months, no source
        (
            Cycle(1, "month"),
            date(2027, 10, 31),
            [date(2027, 11, 30), date(2027, 12, 31), date(2028, 1, 31), date(2028, 2, 29)],
        ),
        (Cycle(1, "year"), date(2028, 2, 29), [date(2029, 2, 28), date(2030, 2, 28)]),
        (Cycle(1, "month", month_day=LAST), date(2027, 1, 15), [date(2027, 1, 31), date(2027, 2, 28)]),
    ],
)
def test_hand_worked_dates_come_out(rule: Cycle, start: date, expected: list[date]) -> None:
    assert list(islice(dates(rule, start), len(expected))) == expected


def test_monthly_work_last_done_on_20_october_is_next_due_on_20_november() -> None:
    """Common practice, no source."""
    assert after_done(Cycle(1, "month"), date(2026, 10, 20)) == date(2026, 11, 20)
    assert following(Cycle(1, "month"), date(2026, 10, 20), date(2026, 10, 20)) == date(2026, 11, 20)


def test_a_week_that_is_the_53rd_of_its_year_is_a_week_like_others() -> None:
    """2026 has 53 ISO weeks (ISO 8601); 28 December 2026 is the Monday of the last."""
    found = list(islice(dates(Cycle(1, "week", (0,)), date(2026, 12, 15)), 3))
    assert [d.isocalendar()[:2] for d in found] == [(2026, 52), (2026, 53), (2027, 1)]


@pytest.mark.parametrize(
    "wrong",
    [
        {"every": 0, "unit": "day"},
        {"every": 1, "unit": "day", "weekdays": (1,)},
        {"every": 1, "unit": "week", "month_day": 3},
        {"every": 1, "unit": "month", "month_day": 32},
        {"every": 1, "unit": "decade"},
    ],
)
def test_what_does_not_go_together_is_refused(wrong: dict) -> None:
    with pytest.raises(ValueError):
        Cycle(**wrong)
