"""When recurring work falls due: by what was last due and done, by the calendar and a meter, in its season.

Fixed work keeps its cadence whatever happens: early or late completions and those left out move nothing, and
what was done late covers all that fell due meanwhile. Floating work counts from its completion.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, time, timedelta
from typing import Literal, NamedTuple

from nundine.core.preventive.cycle import Cycle, after_done, following, following_all
from nundine.core.preventive.meter import Counter, Projection, reaches

Basis = Literal["fixed", "floating"]
Outside = Literal["skip", "move"]
EVENING = time(18)
"""The hour of its due day by which work is due."""


@dataclass(frozen=True)
class Season:
    """Months (1 to 12) in which it may fall due; what falls outside is left out, or moves to the first day of
    the next month that is in."""

    months: frozenset[int] = frozenset(range(1, 13))
    outside: Outside = "skip"

    def __post_init__(self) -> None:
        if not self.months or not self.months <= set(range(1, 13)):
            raise ValueError("a season has one month at least, of January to December")


@dataclass(frozen=True)
class Rule:
    """What makes work fall due; with several the first that does.

    Parameters
    ----------
    cycle
        By the calendar; None = not.
    every
        Units of a meter; None = not.
    dates
        Days of the shutdowns that it hangs on, rising; None = it hangs on none.
    """

    basis: Basis
    cycle: Cycle | None = None
    every: float | None = None
    season: Season = Season()
    dates: tuple[date, ...] | None = None

    def __post_init__(self) -> None:
        if self.cycle is None and self.every is None and self.dates is None:
            raise ValueError(
                "it falls due by the calendar, by a meter, with shutdowns, or by whichever comes first"
            )
        if self.every is not None and self.every <= 0:
            raise ValueError("a meter counts more than nothing from one service to the next")


@dataclass(frozen=True)
class Last:
    """The last time: `start` of its cycle, when it was last `due` (None before the first), when `done` (None
    where that was left out), and what the meter read then."""

    start: date
    due: date | None = None
    done: date | None = None
    value: float = 0.0


class Due(NamedTuple):
    """When something falls due, by which of its rules, and how a meter's day was reckoned."""

    day: date
    by: Literal["calendar", "meter", "shutdown"]
    projection: Projection | None = None


def next_due(rule: Rule, last: Last, counter: Counter | None = None) -> Due | None:
    """When it falls due next; None where only a meter decides that does not move, or only shutdowns of which
    none is dated yet."""
    found: list[Due] = []
    if rule.cycle is not None:
        found.append(Due(_in_season(rule, _by_calendar(rule, last)), "calendar"))
        if rule.every is None and not rule.dates:
            return found[0]
    if rule.every is not None and counter is not None:
        projected = reaches(counter, _target(rule, last, counter))
        if projected is not None:
            found.append(Due(_moved(rule.season, projected.day), "meter", projected))
    if rule.dates:
        after_ = _covered(last)
        found += [Due(day, "shutdown") for day in rule.dates if day > after_][:1]
    return min(found, key=lambda d: d.day, default=None)


class Coming:
    """What falls due next by a rule, one after another as each is done or left out."""

    def __init__(self, rule: Rule, last: Last, counter: Counter | None = None) -> None:
        self._rule, self._last, self._counter = rule, last, counter
        self.due = next_due(rule, last, counter)

    def done(self, fell: date, day: date | None) -> None:
        """It fell due on a day, and was done on one, or left out (None)."""
        self._last = after(self._last, fell, day, self._counter)
        self.due = next_due(self._rule, self._last, self._counter)


class ComingSteadily:
    """The same of fixed work that recurs by the calendar alone all the year: what comes hangs on the day
    until which all is covered, so nothing else need be kept."""

    def __init__(self, cycle: Cycle, last: Last) -> None:
        self._dates = following_all(cycle, last.start, _covered(last))
        self.due = Due(next(self._dates), "calendar")

    def done(self, fell: date, day: date | None) -> None:
        covered = fell if day is None or day < fell else day
        for found in self._dates:
            if found > covered:
                self.due = Due(found, "calendar")
                return


def coming(rule: Rule, last: Last, counter: Counter | None = None) -> Coming | ComingSteadily:
    """What falls due next by a rule, and then one after another."""
    by_calendar_alone = rule.every is None and not rule.dates and rule.basis == "fixed"
    if rule.cycle is not None and by_calendar_alone and len(rule.season.months) == 12:
        return ComingSteadily(rule.cycle, last)
    return Coming(rule, last, counter)


def dues(rule: Rule, last: Last, until: date, counter: Counter | None = None) -> list[Due]:
    """All times at which it falls due until a day, if each is done on its day."""
    out: list[Due] = []
    while True:
        due = next_due(rule, last, counter)
        if due is None or due.day > until or (out and due.day <= out[-1].day):
            return out
        out.append(due)
        last = after(last, due.day, due.day, counter)


def after(last: Last, due: date, done: date | None, counter: Counter | None = None) -> Last:
    """What stands for the last time once it was done on a day, or left out (`done` None)."""
    day = done or due
    return Last(last.start, due, done, value_on(counter, day) if counter else last.value)


def value_on(counter: Counter, day: date) -> float:
    """What a meter reads on a day: as read, else along its recent rate."""
    at = [(d, v) for d, v in counter.readings if d <= day]
    if at and at[-1][0] == day or not counter.readings:
        return at[-1][1] if at else 0.0
    first, value = at[-1] if at else counter.readings[0]
    return value + counter.rate.a_day * max(0, (day - first).days) if counter.rate else value


def _by_calendar(rule: Rule, last: Last) -> date:
    assert rule.cycle is not None
    if rule.basis == "floating":
        return after_done(rule.cycle, last.done or last.due or last.start)
    return following(rule.cycle, last.start, _covered(last))


def _covered(last: Last) -> date:
    """The day until which nothing is owed any more."""
    day = last.start
    if last.due is not None and last.due > day:
        day = last.due
    return last.done if last.done is not None and last.done > day else day


def _in_season(rule: Rule, day: date) -> date:
    """The day, or the next that its season allows."""
    season = rule.season
    if day.month in season.months:
        return day
    if season.outside == "move":
        return _moved(season, day)
    assert rule.cycle is not None
    start = day
    for _ in range(2000):
        day = following(rule.cycle, start, day)
        if day.month in season.months:
            return day
    return _moved(season, start)  # a yearly cycle that never meets its season


def _moved(season: Season, day: date) -> date:
    while day.month not in season.months:
        day = (day.replace(day=1) + timedelta(days=32)).replace(day=1)
    return day


def _target(rule: Rule, last: Last, counter: Counter) -> float:
    """The reading at which it falls due next."""
    assert rule.every is not None
    if rule.basis == "floating":
        return last.value + rule.every
    start = counter.readings[0][1] if counter.readings else 0.0
    passed = int((last.value - start) / rule.every + 1e-9)
    return start + (passed + 1) * rule.every


def window(day: date, before: int, after_: int) -> tuple[date, date]:
    """The days within tolerance of a due day."""
    return day - timedelta(days=before), day + timedelta(days=after_)


def is_late(due: date, done: date, tolerance: int) -> bool:
    """Whether it was done after its tolerance."""
    return done > due + timedelta(days=tolerance)


def compliance(due_and_done: Sequence[tuple[date, date | None]], tolerance: int, today: date) -> float | None:
    """The share of services that were due by today and were done within tolerance; None where none was due.

    Preventive maintenance compliance: those done by their required date over all that were due (the metric is
    commonly defined so in published maintenance metrics; from memory).
    """
    due = [
        (d, done) for d, done in due_and_done if d + timedelta(days=tolerance) <= today or done is not None
    ]
    if not due:
        return None
    return sum(done is not None and not is_late(d, done, tolerance) for d, done in due) / len(due)
