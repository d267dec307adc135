"""Levelling: services that move within their tolerance, so that no week asks more of a craft than it has."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Protocol

Cell = tuple[str, date]
"""A craft, and the Monday of a week."""


@dataclass(frozen=True)
class Service:
    """Work that falls due on a day, and may move between two days, both inclusive.

    Parameters
    ----------
    hours
        Work hours by craft.
    """

    id: str
    day: date
    hours: Mapping[str, float]
    first: date
    last: date


Movable = tuple[Service, list[tuple[date, date]]]
"""A service, and the days of other weeks to which it may move, each with the Monday of its week."""


@dataclass(frozen=True)
class Shift:
    """A service that moves to another week; `before` and `after` are the load of its hardest pressed craft in
    the week that it leaves, as a share of the hours there."""

    id: str
    day: date
    to: date
    craft: str
    before: float
    after: float


def monday_of(day: date) -> date:
    return day - timedelta(days=day.weekday())


class Dated(Protocol):
    """Work that falls due on a day, with its hours by craft."""

    @property
    def day(self) -> date: ...

    @property
    def hours(self) -> Mapping[str, float]: ...


def loads(services: Iterable[Dated]) -> dict[Cell, float]:
    """Work hours by craft and week."""
    out: dict[Cell, float] = defaultdict(float)
    day = week = date.min
    for s in services:
        if s.hours:
            if s.day != day:
                day, week = s.day, monday_of(s.day)
            for craft, hours in s.hours.items():
                out[(craft, week)] += hours
    return dict(out)


def level(
    services: Sequence[Service], asked: Mapping[Cell, float], capacity: Mapping[Cell, float]
) -> list[Shift]:
    """Shifts that take from overfull weeks, the fullest first; each lessens what is over in sum and makes no
    other week overfuller than the one that it helps. A service moves once, by whole weeks or to the end of
    its tolerance.

    A greedy search: what it proposes helps, but it need not be the least number of shifts.

    Parameters
    ----------
    services
        Those that may move; others need not be among them.
    asked, capacity
        Work hours that all work asks of a craft in a week, these services included, and those that there are.
    """
    load = dict(asked)
    in_week: dict[date, list[Movable]] = defaultdict(list)
    for s in services:
        if s.first < s.last and (days := _days(s)):
            in_week[monday_of(s.day)].append((s, days))
    moved: set[str] = set()
    out: list[Shift] = []
    overfull = sorted((c for c in load if _over(load, capacity, c) > 0), key=lambda c: (-load[c], c))
    for craft, week in overfull:
        of_craft = [m for m in in_week[week] if m[0].hours.get(craft)]
        while _over(load, capacity, (craft, week)) > 1e-9:
            free = [m for m in of_craft if m[0].id not in moved]
            best = _best_move(week, free, load, capacity)
            if best is None:
                break
            service, to = best
            there = capacity.get((craft, week), 0.0)
            before = load[(craft, week)]
            for name, hours in service.hours.items():
                load[(name, week)] -= hours
                load[(name, monday_of(to))] = load.get((name, monday_of(to)), 0.0) + hours
            moved.add(service.id)
            shares = [h / there if there else 0.0 for h in (before, load[(craft, week)])]
            out.append(Shift(service.id, service.day, to, craft, *shares))
    return sorted(out, key=lambda s: (s.day, s.id))


def _best_move(
    week: date,
    services: Sequence[Movable],
    load: Mapping[Cell, float],
    capacity: Mapping[Cell, float],
) -> tuple[Service, date] | None:
    """The move out of a week that lessens most what is over, of those alike the shortest."""
    best: tuple[float, int, str, Service, date] | None = None
    for s, days in services:
        for to, into in days:
            gain = _gain(s.hours, week, into, load, capacity)
            if gain <= 1e-9 or (best is not None and -round(gain, 6) > best[0]):
                continue
            rank = (-round(gain, 6), abs((to - s.day).days), s.id)
            if best is None or rank < best[:3]:
                best = (*rank, s, to)
    return None if best is None else (best[3], best[4])


def _days(s: Service) -> list[tuple[date, date]]:
    """A day of each other week within its tolerance, and the Monday of that week: the same weekday where that
    is within, else the nearest that is."""
    out = []
    week, own = monday_of(s.first), monday_of(s.day)
    while week <= s.last:
        if week != own:
            same = week + timedelta(days=s.day.weekday())
            out.append((min(max(same, s.first), s.last), week))
        week += timedelta(weeks=1)
    return out


def _gain(
    work: Mapping[str, float],
    week: date,
    into: date,
    load: Mapping[Cell, float],
    capacity: Mapping[Cell, float],
) -> float:
    """By how many hours less is over in sum, if work hours by craft move from a week into another."""
    gain = 0.0
    for craft, hours in work.items():
        here, there = (craft, week), (craft, into)
        gain += _over(load, capacity, here) - _over(load, capacity, here, -hours)
        gain -= _over(load, capacity, there, hours) - _over(load, capacity, there)
    return gain


def _over(load: Mapping[Cell, float], capacity: Mapping[Cell, float], cell: Cell, more: float = 0.0) -> float:
    return max(0.0, load.get(cell, 0.0) + more - capacity.get(cell, 0.0))
