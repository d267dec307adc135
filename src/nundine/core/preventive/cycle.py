"""Cycles of the calendar: every so many days, weeks, months or years, on chosen weekdays or on a day of the
month.

A cycle says what a recurrence rule of RFC 5545 says (`rule_of`); the dates are those of the rule, but for one
thing that the trade wants otherwise: a month that has no such day gets its last day instead of none. The rule
for that is written with BYMONTHDAY and BYSETPOS.
"""

from __future__ import annotations

import calendar
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

Unit = Literal["day", "week", "month", "year"]
UNITS: tuple[Unit, ...] = ("day", "week", "month", "year")
LAST = -1
"""The last day of a month."""
WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
DAYS = {"day": 1.0, "week": 7.0, "month": 365.2425 / 12, "year": 365.2425}
SURE = 28
"""Every month has so many days."""
FREQUENCY = {"day": "DAILY", "week": "WEEKLY", "month": "MONTHLY", "year": "YEARLY"}


@dataclass(frozen=True)
class Cycle:
    """How often something recurs.

    Parameters
    ----------
    every, unit
        Every 2 weeks: 2, "week".
    weekdays
        0 = Monday; only with weeks. None chosen: the weekday of the start.
    month_day
        1 to 31, or LAST; only with months and years. None: the day of the start.

    Raises
    ------
    ValueError
        For what does not go together, saying what.
    """

    every: int
    unit: Unit
    weekdays: tuple[int, ...] = ()
    month_day: int | None = None

    def __post_init__(self) -> None:
        if self.unit not in UNITS or not 1 <= self.every <= 999:
            raise ValueError("it recurs every 1 to 999 days, weeks, months or years")
        if self.weekdays and self.unit != "week":
            raise ValueError("weekdays are chosen for what recurs by weeks")
        if not set(self.weekdays) <= set(range(7)):
            raise ValueError("weekdays are Monday to Sunday")
        if self.month_day is not None and self.unit not in ("month", "year"):
            raise ValueError("a day of the month is chosen for what recurs by months or years")
        if self.month_day is not None and self.month_day != LAST and not 1 <= self.month_day <= 31:
            raise ValueError("a day of the month is 1 to 31, or the last")

    @property
    def days(self) -> float:
        """Its length in days, of months and years on the average of the Gregorian calendar."""
        return self.every * DAYS[self.unit]


def dates(cycle: Cycle, start: date) -> Iterator[date]:
    """The dates of a cycle from its start on, the start itself left out where it is one of them; for ever."""
    n = 0
    while True:
        for day in _period(cycle, start, n):
            if day > start:
                yield day
        n += 1


def following(cycle: Cycle, start: date, after: date) -> date:
    """The first date of the cycle of `start` that lies after both."""
    return next(following_all(cycle, start, after))


def following_all(cycle: Cycle, start: date, after: date) -> Iterator[date]:
    """The dates of the cycle of `start` that lie after both, rising, for ever."""
    n = _periods_until(cycle, start, after)
    after = max(start, after)
    if not cycle.weekdays:
        while (day := _nth(cycle, start, n)) <= after:
            n += 1
        while True:
            yield day
            n += 1
            day = _nth(cycle, start, n)
    while True:
        for day in _period(cycle, start, n):
            if day > after:
                yield day
        n += 1


def after_done(cycle: Cycle, done: date) -> date:
    """The date on which it falls due next if it counts from when it was done: a whole interval later, and
    then on the chosen weekday or day of the month."""
    plain = _shifted(done, cycle.every, cycle.unit)
    if cycle.weekdays:
        ahead = min((day - plain.weekday()) % 7 for day in cycle.weekdays)
        return plain + timedelta(days=ahead)
    if cycle.month_day is not None:
        return _in_month(plain.year, plain.month, cycle.month_day)
    return plain


def rule_of(cycle: Cycle, start: date) -> str:
    """The recurrence rule of RFC 5545, section 3.3.10, for a cycle that begins at a day."""
    parts = [f"FREQ={FREQUENCY[cycle.unit]}", f"INTERVAL={cycle.every}"]
    if cycle.unit == "week":
        days = cycle.weekdays or (start.weekday(),)
        parts += [f"BYDAY={','.join(WEEKDAYS[d] for d in sorted(days))}", "WKST=MO"]
    if cycle.unit in ("month", "year"):
        if cycle.unit == "year":
            parts.append(f"BYMONTH={start.month}")
        day = cycle.month_day if cycle.month_day is not None else start.day
        if day > 28:
            parts += [f"BYMONTHDAY={','.join(str(d) for d in range(28, day + 1))}", "BYSETPOS=-1"]
        else:
            parts.append(f"BYMONTHDAY={day}")
    return ";".join(parts)


def _period(cycle: Cycle, start: date, n: int) -> list[date]:
    """The dates in the nth interval from the start on."""
    if cycle.unit == "week" and cycle.weekdays:
        monday = start - timedelta(days=start.weekday()) + timedelta(weeks=n * cycle.every)
        return [monday + timedelta(days=d) for d in sorted(cycle.weekdays)]
    return [_nth(cycle, start, n)]


def _nth(cycle: Cycle, start: date, n: int) -> date:
    """The date in the nth interval from the start on, of a cycle without weekdays."""
    plain = _shifted(start, n * cycle.every, cycle.unit)
    if cycle.month_day is not None:
        return _in_month(plain.year, plain.month, cycle.month_day)
    return plain


def _periods_until(cycle: Cycle, start: date, after: date) -> int:
    """The interval in which a day lies; all before it lie before the day."""
    if cycle.unit == "day":
        passed = (after - start).days
    elif cycle.unit == "week":
        passed = ((after - start).days + start.weekday() - after.weekday()) // 7
    else:
        passed = (after.year - start.year) * 12 + after.month - start.month
        passed = passed if cycle.unit == "month" else passed // 12
    return max(0, passed // cycle.every)


def _shifted(day: date, count: int, unit: Unit) -> date:
    if unit in ("day", "week"):
        return day + timedelta(days=count * (7 if unit == "week" else 1))
    months = day.year * 12 + day.month - 1 + count * (12 if unit == "year" else 1)
    return _in_month(months // 12, months % 12 + 1, day.day)


def _in_month(year: int, month: int, day: int) -> date:
    if 0 < day <= SURE:
        return date(year, month, day)
    last = calendar.monthrange(year, month)[1]
    return date(year, month, last if day == LAST else min(day, last))
