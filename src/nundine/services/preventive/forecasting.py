"""The forecast: what falls due in a range of days, against the hours that there are; and which services could
move within their tolerance so that no week is overfull."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from nundine.services.errors import Refused
from nundine.services.preventive.occurrences import Works, occurrences, to_come
from nundine.services.preventive.weeks_ahead import (
    TO_COME,
    CraftForecast,
    ForecastLine,
    ForecastService,
    ForecastWork,
    ShiftLine,
    asked_by,
    by_craft,
    hours_there,
    shifts,
)
from nundine.services.preventive.who_could import done_by
from nundine.store.preventive import PreventivePlan

LONGEST, LATEST = 3 * 366, 9000


@dataclass(frozen=True)
class Falls:
    """What was raised, or comes next: its service and its work by their places among all, and what became of
    it."""

    service: int
    work: int
    day: date
    order: str | None
    request: str | None
    state: str
    can_raise: bool


@dataclass(frozen=True)
class Later:
    """Days on which a service falls due with the same work after what comes next of it."""

    service: int
    work: int
    days: list[date]


@dataclass(frozen=True)
class Forecast:
    """All occurrences from a day until another, by craft and week, and the moves that would help. What many
    occurrences have in common is told once."""

    first: date
    last: date
    services: list[ForecastService]
    works: list[ForecastWork]
    falls: list[Falls]
    later: list[Later]
    crafts: list[CraftForecast]
    shifts: list[ShiftLine]


def forecast_of(
    first: date, days: int, areas: Sequence[str] = (), person: str | None = None, share: float = 1.0
) -> Forecast:
    """Of a person what that person could take part in; weeks are levelled with all work all the same. `share`
    is how much of the hours that there are preventive work may take: a week with more is overfull. Raises
    Refused for a range that is no range, or longer than three years, and for a person that there is not."""
    first, last = range_of(first, days)
    lines = occurrences(first, last, areas)
    there = {cell: hours * share for cell, hours in hours_there(first, last).items()}
    due = asked_by(lines)
    moves = shifts(lines, _tolerances(), due, there)
    if person:
        lines = done_by(person, lines)
        due = asked_by(lines)
        shown = {(line.service.plan, line.service.asset) for line in lines}
        moves = [m for m in moves if (m.plan, m.asset) in shown]
    return Forecast(first, last, *_told(lines), by_craft(lines, due, there, first, last), moves)


def range_of(first: date, days: int) -> tuple[date, date]:
    """The first and the last day. Raises Refused for a range that is no range, or longer than three years."""
    if not 1 <= days <= LONGEST or first.year > LATEST:
        text = f"A forecast reaches from 1 to {LONGEST} days, and begins by {LATEST}."
        raise Refused("days", text, field="days")
    return first, first + timedelta(days=days - 1)


def lines_of(
    first: date, last: date, person: str | None = None, areas: Sequence[str] = ()
) -> list[ForecastLine]:
    """All occurrences from a day to another; of a person those that person could take part in. Raises Refused
    for a person that there is not."""
    lines = occurrences(first, last, areas)
    return done_by(person, lines) if person else lines


class _Places:
    """Things that are told once, each by its place among them."""

    def __init__(self) -> None:
        self.told: list[Any] = []
        self._places: dict[Any, int] = {}

    def of(self, key: Any, thing: Any) -> int:
        place = self._places.get(key)
        if place is None:
            place = self._places[key] = len(self.told)
            self.told.append(thing)
        return place


Told = tuple[list[ForecastService], list[ForecastWork], list[Falls], list[Later]]


def _told(lines: list[ForecastLine]) -> Told:
    """These lines with what they share told once."""
    services, works = _Places(), _Places()
    falls: list[Falls] = []
    later: dict[tuple[int, int], list[date]] = defaultdict(list)
    for one in lines:
        of, work, day, order, request, state, can_raise, _ = one
        places = services.of((of.plan, of.asset), of), works.of(id(work), work)
        if state == TO_COME and not can_raise:
            later[places].append(day)
        else:
            falls.append(Falls(*places, day, order, request, state, can_raise))
    return services.told, works.told, falls, [Later(*places, days) for places, days in later.items()]


def _tolerances() -> dict[str, tuple[int, int]]:
    """Days before and after a due day, by plan."""
    rows: Any = PreventivePlan.select(
        PreventivePlan.number, PreventivePlan.days_before, PreventivePlan.days_behind
    )
    return {number: (before, behind) for number, before, behind in rows.tuples()}


@dataclass(frozen=True)
class CraftToCome:
    """Work hours of a craft that fall due with so many services and are not raised."""

    craft: str
    hours: float
    services: int


def hours_to_come(first: date, last: date, areas: Sequence[str] = ()) -> list[CraftToCome]:
    """What falls due from a day to another and is not raised, by craft; with what is overdue by today where
    today is among them or before."""
    hours: dict[str, float] = defaultdict(float)
    count: dict[str, int] = defaultdict(int)
    for line in to_come(Works(), first, last, areas):
        for craft, work in line.hours.items():
            hours[craft] += work
            count[craft] += 1
    return [CraftToCome(craft, round(hours[craft], 2), count[craft]) for craft in sorted(hours)]
