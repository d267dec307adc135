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


Movable = tuple[Service, list[date]]
"""A service, and the days of other weeks to which it may move."""


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
    for s in services:
        if s.hours:
            week = monday_of(s.day)
            for craft, hours in s.hours.items():
                out[(craft, week)] += hours
    return dict(out)


def level(services: Sequence[Service], capacity: Mapping[Cell, float]) -> list[Shift]:
    """Shifts that take from overfull weeks, the fullest first; each lessens what is over in sum and makes no
    other week overfuller than the one that it helps. A service moves once, by whole weeks or to the end of
    its tolerance.

    A greedy search: what it proposes helps, but it need not be the least number of shifts.
    """
    load = loads(services)
    in_week: dict[date, list[Movable]] = defaultdict(list)
    for s in services:
        if s.first < s.last and (days := _days(s)):
            in_week[monday_of(s.day)].append((s, days))
    moved: set[str] = set()
    out: list[Shift] = []
    overfull = sorted((c for c in load if _over(load, capacity, c) > 0), key=lambda c: (-load[c], c))
    for craft, week in overfull:
        while _over(load, capacity, (craft, week)) > 1e-9:
            best = _best_move(craft, [m for m in in_week[week] if m[0].id not in moved], load, capacity)
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
    craft: str, services: Sequence[Movable], load: Mapping[Cell, float], capacity: Mapping[Cell, float]
) -> tuple[Service, date] | None:
    """The move that lessens most what is over, of those alike the shortest."""
    best: tuple[float, int, str, Service, date] | None = None
    for s, days in services:
        if not s.hours.get(craft):
            continue
        for to in days:
            gain = _gain(s, to, load, capacity)
            rank = (-round(gain, 6), abs((to - s.day).days), s.id)
            if gain > 1e-9 and (best is None or rank < best[:3]):
                best = (*rank, s, to)
    return None if best is None else (best[3], best[4])


def _days(s: Service) -> list[date]:
    """A day of each other week within its tolerance: the same weekday where that is within, else the nearest
    that is."""
    out = []
    week = monday_of(s.first)
    while week <= s.last:
        if week != monday_of(s.day):
            same = week + timedelta(days=s.day.weekday())
            out.append(min(max(same, s.first), s.last))
        week += timedelta(weeks=1)
    return [day for day in out if monday_of(day) != monday_of(s.day)]


def _gain(s: Service, to: date, load: Mapping[Cell, float], capacity: Mapping[Cell, float]) -> float:
    """By how many hours less is over in sum, if it moves."""
    gain = 0.0
    for craft, hours in s.hours.items():
        here, there = (craft, monday_of(s.day)), (craft, monday_of(to))
        gain += _over(load, capacity, here) - _over(load, capacity, here, -hours)
        gain -= _over(load, capacity, there, hours) - _over(load, capacity, there)
    return gain


def _over(load: Mapping[Cell, float], capacity: Mapping[Cell, float], cell: Cell, more: float = 0.0) -> float:
    return max(0.0, load.get(cell, 0.0) + more - capacity.get(cell, 0.0))
