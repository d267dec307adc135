"""From repeating shift patterns to the hours in which a person really works."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Protocol
from zoneinfo import ZoneInfo

from nundine.core.timeline import Interval, at_local, merge, subtract


@dataclass(frozen=True)
class PatternShift:
    """One shift of a cycle. `end` at or before `start` means that it ends on the next day.

    Standing time (toolbox talk, handover) takes the first `standing_minutes` of the shift.
    """

    day_index: int
    start: time
    end: time
    standing_minutes: int = 0


@dataclass(frozen=True)
class ShiftPattern:
    """A cycle of `cycle_days` days that repeats without end."""

    id: str
    cycle_days: int
    shifts: tuple[PatternShift, ...]

    def __post_init__(self) -> None:
        """Raises ValueError if a shift lies outside the cycle."""
        if self.cycle_days < 1:
            raise ValueError(f"pattern {self.id}: a cycle has at least one day")
        for shift in self.shifts:
            if not 0 <= shift.day_index < self.cycle_days:
                raise ValueError(
                    f"pattern {self.id}: day {shift.day_index + 1} lies outside its {self.cycle_days} days"
                )


@dataclass(frozen=True)
class RosterLine:
    """A person follows `pattern` from `first` (the cycle's day 1) until `last`, inclusive; None = no end."""

    pattern: ShiftPattern
    first: date
    last: date | None = None


@dataclass(frozen=True, order=True)
class WorkInterval:
    """Hours that can be given to work. `day` is the day on which the shift starts."""

    start: datetime
    end: datetime
    overtime: bool
    day: date

    @property
    def hours(self) -> float:
        return Interval(self.start, self.end).hours


def shifts(lines: Iterable[RosterLine], first: date, days: int, zone: ZoneInfo) -> list[WorkInterval]:
    """Shifts whose day lies in `days` days from `first`, without standing time, not yet less absences."""
    found: list[WorkInterval] = []
    for line in lines:
        for offset in range(days):
            day = first + timedelta(days=offset)
            if day < line.first or (line.last is not None and day > line.last):
                continue
            index = (day - line.first).days % line.pattern.cycle_days
            for shift in line.pattern.shifts:
                if shift.day_index != index:
                    continue
                end_day = day if shift.end > shift.start else day + timedelta(days=1)
                start = at_local(day, shift.start, zone)
                end = at_local(end_day, shift.end, zone)
                worked = subtract(
                    [Interval(start, end)], [Interval(start, _later(start, shift.standing_minutes))]
                )
                found += [WorkInterval(i.start, i.end, False, day) for i in worked]
    return found


def _later(moment: datetime, minutes: int) -> datetime:
    return (moment.astimezone(UTC) + timedelta(minutes=minutes)).astimezone(moment.tzinfo)


AFTER_SHIFT = timedelta(hours=4)
"""Work that ends so long after a shift still counts as work of that shift (common practice, no source)."""


class ShiftHours(Protocol):
    """Hours of a shift, and the day to which it belongs."""

    @property
    def start(self) -> datetime: ...
    @property
    def end(self) -> datetime: ...
    @property
    def day(self) -> date: ...


def shift_day(hours: Iterable[ShiftHours], moment: datetime, zone: ZoneInfo) -> date:
    """The day to which work belongs that ended at a moment: that of the last shift in which, or soon after
    which, it did.

    The calendar's day in `zone` where there is no such shift.
    """
    at, late = moment.timestamp(), AFTER_SHIFT.total_seconds()
    shifts = [h for h in hours if h.start.timestamp() < at <= h.end.timestamp() + late]
    return max(shifts, key=lambda h: h.start.timestamp()).day if shifts else moment.astimezone(zone).date()


def moment_in_shift(hours: Iterable[ShiftHours], day: date, clock: time, zone: ZoneInfo) -> datetime:
    """The moment at which clocks show `clock` in a day's shifts: on the day or, in a night, after midnight.

    Where it lies in no shift, the side that is nearer to them; without any shift, on the day itself.
    """
    of_day = [h for h in hours if h.day == day]
    sides = [at_local(day, clock, zone), at_local(day + timedelta(days=1), clock, zone)]

    def away(moment: datetime) -> float:
        at = moment.timestamp()
        gaps = [max(h.start.timestamp() - at, at - h.end.timestamp() + 1, 0.0) for h in of_day]
        return min(gaps, default=0)

    return min(sides, key=away)


def working_hours(
    lines: Iterable[RosterLine],
    absences: Iterable[Interval],
    overtime: Iterable[WorkInterval],
    first: date,
    days: int,
    zone: ZoneInfo,
    extra: Iterable[WorkInterval] = (),
) -> tuple[WorkInterval, ...]:
    """Availability of one person: shifts, extra ones too, - absences - standing time + overtime that lies
    outside the shifts.

    What an extra shift has in common with the roster, or overtime with either, counts once.
    """
    away = merge(absences)
    regular = shifts(lines, first, days, zone)
    for one in extra:
        free = subtract([Interval(one.start, one.end)], [Interval(w.start, w.end) for w in regular])
        regular += [WorkInterval(i.start, i.end, False, one.day) for i in free]
    rostered = [Interval(w.start, w.end) for w in regular]
    hours: list[WorkInterval] = []
    for work in regular:
        hours += [
            WorkInterval(i.start, i.end, False, work.day)
            for i in subtract([Interval(work.start, work.end)], away)
        ]
    for offer in overtime:
        free = subtract([Interval(offer.start, offer.end)], [*away, *rostered])
        rostered.append(Interval(offer.start, offer.end))
        hours += [WorkInterval(i.start, i.end, True, offer.day) for i in free]
    return tuple(sorted(hours, key=lambda h: (h.start.timestamp(), h.end.timestamp())))
