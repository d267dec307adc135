"""Meters: readings, how fast they count, and on which day one reaches a value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from statistics import pstdev

RECENT = 90
"""Days of readings that say how fast a meter counts now (common practice, no source)."""
FURTHEST = 3 * 366
"""Days that are looked ahead."""

Reading = tuple[date, float]


class FallsBack(ValueError):
    """A reading lies below the one before."""

    def __init__(self, day: date, value: float, before: float) -> None:
        super().__init__(f"{day.isoformat()}: {value:g} lies below {before:g}, the reading before")
        self.day = day


@dataclass(frozen=True)
class Rate:
    """Units a day over some days, from so many readings; `spread` is the standard deviation of the rates
    between neighbouring readings."""

    a_day: float
    days: int
    readings: int
    spread: float


@dataclass(frozen=True)
class Projection:
    """The day on which a meter reaches `target`, and the earliest and latest day by the spread of its rate;
    `latest` None where the slowest rate never gets there."""

    day: date
    target: float
    rate: Rate
    earliest: date
    latest: date | None


@dataclass(frozen=True)
class Counter:
    """A meter's readings, each day once, days and values rising (rollovers and exchanges are evened out by
    `counted`)."""

    readings: tuple[Reading, ...]

    @cached_property
    def rate(self) -> Rate | None:
        """How fast it counts now; None with fewer than two readings."""
        return rate_of(self.readings)


def rate_of(readings: Sequence[Reading]) -> Rate | None:
    """From the readings of the last RECENT days; from the last two where those are older."""
    if len(readings) < 2:
        return None
    end = readings[-1][0]
    recent = [r for r in readings if (end - r[0]).days <= RECENT]
    if len(recent) < 2:
        recent = list(readings[-2:])
    days = (recent[-1][0] - recent[0][0]).days
    steps = [
        (value - before) / (day - earlier).days
        for (earlier, before), (day, value) in zip(recent, recent[1:], strict=False)
    ]
    return Rate((recent[-1][1] - recent[0][1]) / days, days, len(recent), pstdev(steps))


def reaches(counter: Counter, target: float) -> Projection | None:
    """When it reads a value: the day on which it was read, else reckoned from its rate; None where it does
    not move, or not within three years."""
    if not counter.readings:
        return None
    rate = counter.rate or Rate(0.0, 0, len(counter.readings), 0.0)
    read = next((day for day, value in counter.readings if value >= target), None)
    if read is not None:
        return Projection(read, target, rate, read, read)
    ahead = _days(counter, target, rate.a_day)
    if ahead is None:
        return None
    last = counter.readings[-1][0]
    soonest = _days(counter, target, rate.a_day + rate.spread) or ahead
    latest = _days(counter, target, rate.a_day - rate.spread)
    return Projection(
        last + timedelta(days=ahead),
        target,
        rate,
        last + timedelta(days=soonest),
        None if latest is None else last + timedelta(days=latest),
    )


def _days(counter: Counter, target: float, a_day: float) -> int | None:
    """Whole days from the last reading until the target at a rate."""
    if a_day <= 0:
        return None
    exact = (target - counter.readings[-1][1]) / a_day
    days = int(exact) + (exact > int(exact) + 1e-9)
    return days if days <= FURTHEST else None


def counted(
    readings: Sequence[Reading], rollover: float | None = None, exchanges: Sequence[Reading] = ()
) -> Counter:
    """Readings as a count that only rises.

    Parameters
    ----------
    readings
        As they were read, days rising.
    rollover
        The value at which the meter begins at 0 again; a reading below the one before has gone past it, if it
        counted no more than half of that meanwhile: else it is wrong.
    exchanges
        (Day, first reading of the new meter): from that day on the new meter counts on where the old one
        was read last.

    Raises
    ------
    FallsBack
        For a reading below the one before where nothing explains it.
    """
    out: list[Reading] = []
    added, before = 0.0, None
    fitted = dict(exchanges)
    for day, value in readings:
        if day in fitted and before is not None:
            added += before - fitted.pop(day)
            before = None
        if before is not None and value < before:
            if rollover is None or value >= rollover or value + rollover - before > rollover / 2:
                raise FallsBack(day, value, before)
            added += rollover
        before = value
        out.append((day, value + added))
    return Counter(tuple(out))
