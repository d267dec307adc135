"""Intervals of absolute time, the slot grid of a week, and local times across clock changes."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import cached_property
from zoneinfo import ZoneInfo

FIRST_YEAR, LAST_YEAR = 1970, 2199
"""Years of weeks, days and times: what lies outside was mistyped."""
WEEK_NAME = re.compile(r"(\d{4})-W(\d{2})", re.ASCII)


@dataclass(frozen=True, order=True)
class Interval:
    """A half-open stretch of absolute time, start <= t < end; both ends carry a zone."""

    start: datetime
    end: datetime

    @property
    def hours(self) -> float:
        """Absolute hours between the ends, exact across a clock change."""
        return (self.end.astimezone(UTC) - self.start.astimezone(UTC)).total_seconds() / 3600


def _first(one: Interval) -> tuple[float, float]:
    """Orders intervals in absolute time; moments of one zone compare by their clocks, which a clock change
    repeats."""
    return (one.start.timestamp(), one.end.timestamp())


def _is_before(a: datetime, b: datetime) -> bool:
    """Whether a moment comes before another in absolute time."""
    return a.timestamp() < b.timestamp()


def merge(intervals: Iterable[Interval]) -> tuple[Interval, ...]:
    """Join intervals that touch or overlap; empty ones vanish. Sorted by start."""
    joined: list[Interval] = []
    for one in sorted((i for i in intervals if _is_before(i.start, i.end)), key=_first):
        if joined and not _is_before(joined[-1].end, one.start):
            last = one.end if _is_before(joined[-1].end, one.end) else joined[-1].end
            joined[-1] = Interval(joined[-1].start, last)
        else:
            joined.append(one)
    return tuple(joined)


def subtract(whole: Iterable[Interval], parts: Iterable[Interval]) -> tuple[Interval, ...]:
    """What is left of `whole` without any moment of `parts`."""
    left = list(merge(whole))
    for cut in merge(parts):
        rest: list[Interval] = []
        for one in left:
            if not _is_before(one.start, cut.end) or not _is_before(cut.start, one.end):
                rest.append(one)
                continue
            if _is_before(one.start, cut.start):
                rest.append(Interval(one.start, cut.start))
            if _is_before(cut.end, one.end):
                rest.append(Interval(cut.end, one.end))
        left = rest
    return tuple(left)


def week_monday(week: str) -> date:
    """Monday of an ISO 8601 week such as `2026-W49`.

    Raises
    ------
    ValueError
        If the text is not a week, the year has no such week, or it is none of the years 1970 to 2199.
    """
    match = WEEK_NAME.fullmatch(week)
    if not match:
        raise ValueError(f"{week!r} is not an ISO week; write it like 2026-W49")
    in_our_time(int(match[1]))
    last = date(int(match[1]), 12, 28).isocalendar().week
    if not 1 <= int(match[2]) <= last:
        raise ValueError(f"{week!r}: {match[1]} has the weeks 01 to {last}")
    return date.fromisocalendar(int(match[1]), int(match[2]), 1)


def in_our_time(year: int) -> None:
    """Raises ValueError for a year that was mistyped."""
    if not FIRST_YEAR <= year <= LAST_YEAR:
        raise ValueError(f"{year:04} is not in the years {FIRST_YEAR} to {LAST_YEAR}")


def week_name(day: date) -> str:
    """The ISO 8601 week that holds `day`, such as `2026-W49`."""
    year, number, _ = day.isocalendar()
    return f"{year}-W{number:02d}"


def week_beside(week: str, by: int) -> str:
    """The week so many weeks after (or before) another."""
    return week_name(week_monday(week) + timedelta(days=7 * by))


def at_local(day: date, clock: time, zone: ZoneInfo) -> datetime:
    """The moment when clocks in `zone` show `clock` on `day`.

    A time that a clock change skips is read with the offset before the change (so it lands after the gap);
    one that occurs twice is the first of the two (PEP 495, fold 0).
    """
    return datetime.combine(day, clock, zone).astimezone(UTC).astimezone(zone)


def week_interval(week: str, zone: ZoneInfo) -> Interval:
    """From Monday 00:00 to the next Monday 00:00, local; 167, 168 or 169 hours."""
    monday = week_monday(week)
    return Interval(at_local(monday, time(0), zone), at_local(monday + timedelta(days=7), time(0), zone))


@dataclass(frozen=True)
class SlotGrid:
    """Counts slots of equal length in absolute time from `origin`."""

    origin: datetime
    minutes: int

    @cached_property
    def _origin(self) -> float:
        return self.origin.timestamp()

    def _seconds(self, moment: datetime) -> int:
        return round(moment.timestamp() - self._origin)

    def floor(self, moment: datetime) -> int:
        """The slot that holds the moment (may be negative)."""
        return self._seconds(moment) // (self.minutes * 60)

    def ceil(self, moment: datetime) -> int:
        """The first slot that starts at the moment or after it."""
        return -(-self._seconds(moment) // (self.minutes * 60))

    def slots_for(self, hours: float) -> int:
        """Slots that a duration needs, rounded up."""
        return -(-round(hours * 3600) // (self.minutes * 60))

    def moment(self, slot: int) -> datetime:
        """The start of a slot, in the zone of the origin."""
        moved = self.origin.astimezone(UTC) + timedelta(minutes=self.minutes * slot)
        return moved.astimezone(self.origin.tzinfo)
