"""When recurring work falls due: fixed and floating, by calendar and meter, in its season, on a ladder."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from itertools import accumulate
from typing import Literal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.preventive.cycle import Cycle
from nundine.core.preventive.due import (
    Coming,
    Last,
    Rule,
    Season,
    after,
    coming,
    compliance,
    dues,
    is_late,
    next_due,
)
from nundine.core.preventive.ladder import Ladder, Occurrence, Rung, forecast, next_occurrence, over, tasks_of
from nundine.core.preventive.level import Service, level, loads, monday_of
from nundine.core.preventive.meter import Counter, counted, reaches
from nundine.core.preventive.rung_text import raise_day, tolerance_days

MONTHLY = Cycle(1, "month")
OCTOBER, NOVEMBER = date(2026, 10, 20), date(2026, 11, 20)
DAYS = st.dates(date(2024, 1, 1), date(2027, 12, 31))
LATE = st.integers(-20, 400)


def due_day(rule: Rule, last: Last) -> date:
    found = next_due(rule, last)
    assert found
    return found.day


def test_fixed_work_keeps_its_cadence_whether_it_is_done_early_or_late() -> None:
    fixed = Rule("fixed", MONTHLY)
    started = Last(OCTOBER)
    assert due_day(fixed, started) == NOVEMBER
    early, late = (after(started, NOVEMBER, NOVEMBER + timedelta(days=n)) for n in (-10, 12))
    assert due_day(fixed, early) == due_day(fixed, late) == date(2026, 12, 20)
    very_late = after(started, NOVEMBER, date(2027, 1, 5))
    assert due_day(fixed, very_late) == date(2027, 1, 20)
    assert due_day(fixed, after(started, NOVEMBER, None)) == date(2026, 12, 20)


def test_floating_work_counts_from_its_completion() -> None:
    floating = Rule("floating", MONTHLY)
    started = Last(OCTOBER)
    assert due_day(floating, started) == NOVEMBER
    assert due_day(floating, after(started, NOVEMBER, date(2026, 11, 10))) == date(2026, 12, 10)
    assert due_day(floating, after(started, NOVEMBER, date(2026, 12, 2))) == date(2027, 1, 2)
    assert due_day(floating, after(started, NOVEMBER, None)) == date(2026, 12, 20)


def test_every_30_days_over_180_days_falls_due_six_times() -> None:
    """Common practice, no source."""
    start = date(2026, 1, 1)
    for basis in ("fixed", "floating"):
        found = dues(Rule(basis, Cycle(30, "day")), Last(start), start + timedelta(days=180))
        assert len(found) == 6


@given(st.sampled_from(["fixed", "floating"]), DAYS, LATE, st.integers(0, 60))
def test_what_is_done_later_never_falls_due_sooner_the_next_time(
    basis: str, start: date, late: int, more: int
) -> None:
    rule, last = Rule(basis, Cycle(2, "week")), Last(start)  # type: ignore[arg-type]
    due = due_day(rule, last)
    one, other = (after(last, due, due + timedelta(days=n)) for n in (late, late + more))
    assert due_day(rule, one) <= due_day(rule, other)


@given(DAYS, st.lists(LATE, min_size=1, max_size=6))
def test_fixed_work_only_ever_falls_due_on_dates_of_its_cadence(start: date, late: list[int]) -> None:
    rule, last = Rule("fixed", Cycle(10, "day")), Last(start)
    for n in late:
        due = due_day(rule, last)
        assert (due - start).days % 10 == 0
        last = after(last, due, due + timedelta(days=n))


def test_what_falls_outside_its_season_is_left_out_or_moves_to_the_next_month_that_is_in() -> None:
    summer = frozenset({5, 6, 7, 8, 9})
    skipping = Rule("fixed", MONTHLY, season=Season(summer))
    moving = Rule("fixed", MONTHLY, season=Season(summer, "move"))
    assert due_day(skipping, Last(OCTOBER)) == date(2027, 5, 20)
    assert due_day(moving, Last(OCTOBER)) == date(2027, 5, 1)


def test_a_meter_says_on_which_day_it_reaches_a_value_and_how_surely() -> None:
    """300 units in 30 days are 10 a day; 200 more take 20 days."""
    read = [(date(2026, 9, 1), 1000.0), (date(2026, 9, 16), 1150.0), (date(2026, 10, 1), 1300.0)]
    found = reaches(Counter(tuple(read)), 1500.0)
    assert found and found.day == date(2026, 10, 21)
    assert (found.rate.a_day, found.rate.readings, found.rate.spread) == (10.0, 3, 0.0)
    uneven = reaches(Counter((read[0], (date(2026, 9, 16), 1075.0), read[2])), 1500.0)
    assert uneven and uneven.earliest < uneven.day and uneven.latest and uneven.latest > uneven.day
    assert reaches(Counter((read[0],)), 1500.0) is None


def test_a_meter_that_rolls_over_or_is_exchanged_counts_on() -> None:
    days = [date(2026, 1, n) for n in (1, 2, 3, 4)]
    over_ = counted(list(zip(days, (900.0, 980.0, 20.0, 60.0), strict=True)), rollover=1000.0)
    assert [v for _, v in over_.readings] == [900, 980, 1020, 1060]
    new = counted(list(zip(days, (900.0, 950.0, 5.0, 30.0), strict=True)), exchanges=[(days[2], 5.0)])
    assert [v for _, v in new.readings] == [900, 950, 950, 975]
    with pytest.raises(ValueError, match="2026-01-03: 20 lies below 980"):
        counted(list(zip(days, (900.0, 980.0, 20.0, 60.0), strict=True)))


def test_of_calendar_and_meter_whichever_comes_first_decides() -> None:
    counter = Counter(((date(2026, 9, 1), 0.0), (date(2026, 10, 1), 300.0)))
    rule = Rule("floating", Cycle(6, "month"), 500.0)
    found = next_due(rule, Last(date(2026, 9, 1)), counter)
    assert found and (found.by, found.day) == ("meter", date(2026, 10, 21))
    slow = Counter(((date(2026, 9, 1), 0.0), (date(2026, 10, 1), 3.0)))
    found = next_due(rule, Last(date(2026, 9, 1)), slow)
    assert found and (found.by, found.day) == ("calendar", date(2027, 3, 1))


def ladder(*months: int, together: int = 7) -> Ladder:
    rungs = (Rung(f"{m} months", Rule("fixed", Cycle(m, "month")), m) for m in months)
    return Ladder(tuple(rungs), together)


def started(of: Ladder, day: date) -> dict[str, Last]:
    return {r.name: Last(day) for r in of.rungs}


def test_a_higher_rung_takes_in_the_lower_ones_that_fall_together() -> None:
    three = ladder(1, 3, 12)
    year = forecast(three, started(three, date(2026, 1, 15)), date(2027, 1, 15))
    assert len(year) == 12
    assert [len(o.rungs) for o in year] == [1, 1, 2, 1, 1, 2, 1, 1, 2, 1, 1, 3]
    assert year[-1].rungs == ("12 months", "3 months", "1 months")


@given(DAYS, st.integers(0, 13))
def test_a_year_of_a_ladder_holds_each_task_as_often_as_its_rungs_say(start: date, together: int) -> None:
    three = ladder(1, 3, 12, together=together)
    year = forecast(three, started(three, start), date(start.year + 1, start.month, min(start.day, 28)))
    grid = {"10": ["1 months"], "20": ["3 months"], "30": ["12 months"], "40": []}
    done = [t for o in year for t in tasks_of(o.rungs, grid)]
    assert [done.count(t) for t in ("10", "20", "40")] == pytest.approx([12, 4, 12], abs=1)
    assert done.count("30") <= 1


def test_services_within_a_few_days_are_one_and_further_apart_are_two() -> None:
    lasts = {"1 months": Last(date(2026, 1, 10)), "3 months": Last(date(2025, 11, 15))}
    near, far = ladder(1, 3, together=7), ladder(1, 3, together=3)
    one = next_occurrence(near, lasts)
    assert one == Occurrence(date(2026, 2, 15), ("3 months", "1 months"), one.dues if one else ())
    two = next_occurrence(far, lasts)
    assert two and (two.day, two.rungs) == (date(2026, 2, 10), ("1 months",))
    left_out = over(lasts, two, None)
    assert left_out["1 months"].due == date(2026, 2, 10) and left_out["3 months"] == lasts["3 months"]


def test_late_is_what_is_done_after_its_tolerance_and_compliance_counts_the_others() -> None:
    due = date(2026, 11, 2)
    assert [is_late(due, due + timedelta(days=n), 3) for n in (-5, 0, 3, 4)] == [False, False, False, True]
    told = [(due, due), (due, due + timedelta(days=9)), (due, None), (date(2026, 12, 1), None)]
    assert compliance(told, 3, date(2026, 11, 20)) == pytest.approx(1 / 3)
    assert compliance([], 3, due) is None


@st.composite
def services(draw: st.DrawFn) -> list[Service]:
    out = []
    for n in range(draw(st.integers(1, 25))):
        day = date(2026, 11, 2) + timedelta(days=draw(st.integers(0, 60)))
        before, behind = draw(st.integers(0, 15)), draw(st.integers(0, 15))
        hours = {c: float(draw(st.integers(1, 30))) for c in draw(st.sets(st.sampled_from("ab"), min_size=1))}
        out.append(Service(str(n), day, hours, day - timedelta(days=before), day + timedelta(days=behind)))
    return out


@pytest.mark.parametrize(
    ("written", "rungs", "days"),
    [
        ("21", ["yearly: 1 year"], 21),
        ("10 %", ["yearly: 1 year"], 36),
        ("10 %", ["monthly: 1 month", "yearly: 1 year"], 3),
        ("50 %", ["greasing: 2 weeks on Mon, Thu"], 3),
        ("10 %", ["service: 500 h or 1 year"], 36),
        ("0 %", ["weekly: 1 week"], 0),
    ],
)
def test_a_tolerance_is_days_or_a_share_of_the_shortest_interval_rounded_down(
    written: str, rungs: list[str], days: int
) -> None:
    assert tolerance_days(written, rungs) == days


@pytest.mark.parametrize("written", ["51 %", "401", "a bit", "-3"])
def test_a_tolerance_that_can_not_be_is_refused_in_words(written: str) -> None:
    with pytest.raises(ValueError, match="write days"):
        tolerance_days(written, ["yearly: 1 year"])


def test_a_share_needs_an_interval_by_the_calendar() -> None:
    with pytest.raises(ValueError, match="recurs by the calendar"):
        tolerance_days("10 %", ["service: 500 h"])


@given(services(), st.integers(0, 80))
def test_levelling_moves_within_tolerance_and_never_leaves_more_over_than_before(
    work: list[Service], hours: int
) -> None:
    weeks = {monday_of(s.day) + timedelta(weeks=n) for s in work for n in range(-4, 5)}
    capacity = {(c, w): float(hours) for c in "ab" for w in weeks}

    def over_in_sum(of: list[Service]) -> float:
        return sum(max(0.0, h - capacity[cell]) for cell, h in loads(of).items())

    shifts = {s.id: s for s in level(work, loads(work), capacity)}
    after_ = [
        Service(s.id, shifts[s.id].to if s.id in shifts else s.day, s.hours, s.first, s.last) for s in work
    ]
    assert all(s.first <= s.day <= s.last for s in after_)
    assert all(s.before > s.after or not capacity[(s.craft, monday_of(s.day))] for s in shifts.values())
    assert over_in_sum(after_) <= over_in_sum(work) - 1e-9 * len(shifts)


def test_an_overfull_week_is_helped_by_the_shortest_move_that_helps() -> None:
    monday = date(2026, 11, 2)
    work = [Service("x", monday, {"a": 30.0}, monday, monday + timedelta(days=20))]
    work += [Service("must", monday, {"a": 20.0}, monday, monday)]
    capacity = {("a", monday + timedelta(weeks=n)): 40.0 for n in range(4)}
    (shift,) = level(work, loads(work), capacity)
    assert (shift.id, shift.to, shift.before, shift.after) == ("x", date(2026, 11, 9), 1.25, 0.5)


@given(
    st.integers(1, 5), st.sampled_from(["day", "week", "month", "year"]), st.integers(0, 3000),
    st.lists(st.integers(-40, 40), max_size=12),
)  # fmt: skip
def test_what_comes_steadily_comes_as_any_rule_says_it(
    every: int, unit: str, start: int, off: list[int]
) -> None:
    rule = Rule("fixed", Cycle(every, unit))  # type: ignore[arg-type]
    last = Last(date(2024, 1, 1) + timedelta(days=start))
    steady, general = coming(rule, last), Coming(rule, last)
    assert not isinstance(steady, Coming)
    for days in off:
        assert steady.due is not None and steady.due == general.due
        fell = steady.due.day
        for one in (steady, general):
            one.done(fell, fell + timedelta(days=days))
    assert steady.due == general.due


def raised_by(rule: Rule, start: date, runs: Iterable[date], late: int) -> list[date]:
    """When that falls due of which WOs are raised, if raising runs on these days in their order with two
    weeks' notice, and all is done so many days late."""
    last, open_, found = Last(start), None, []
    for day in runs:
        if open_ is not None and open_ + timedelta(days=late) <= day:
            last, open_ = after(last, open_, open_ + timedelta(days=late)), None
        due = due_day(rule, last)
        if open_ is None and raise_day(due, last.done or last.start, "14") <= day:
            open_ = due
            found.append(due)
    return found


@given(
    st.sampled_from(["fixed", "floating"]),
    st.sampled_from([MONTHLY, Cycle(5, "week"), Cycle(90, "day"), Cycle(1, "year")]),
    DAYS,
    st.lists(st.integers(1, 7), min_size=80, max_size=160),
    st.integers(0, 6),
)
def test_what_is_raised_does_not_depend_on_how_often_or_when_raising_runs(
    basis: Literal["fixed", "floating"], cycle: Cycle, start: date, gaps: list[int], late: int
) -> None:
    rule, days = Rule(basis, cycle), sum(gaps)
    daily = [start + timedelta(days=n) for n in range(days + 1)]
    now_and_then = [start + timedelta(days=n) for n in accumulate(gaps)]
    often = sorted([*daily, *now_and_then, *daily])
    assert raised_by(rule, start, daily, late) == raised_by(rule, start, often, late)
    assert raised_by(rule, start, now_and_then, late) == raised_by(rule, start, daily, late)
