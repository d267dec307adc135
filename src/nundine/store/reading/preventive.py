"""Rows of preventive plans and services as the core knows them, and back; and what services fall due by
besides the calendar."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from nundine.core.preventive.due import Last, Season, value_on
from nundine.core.preventive.ladder import Ladder, Occurrence, next_occurrence
from nundine.core.preventive.meter import Counter, counted
from nundine.core.preventive.rung_text import ladder_of, series_of, unit_of
from nundine.store.asset import Asset
from nundine.store.meter import Meter, Reading
from nundine.store.preventive import PreventivePlan, Service
from nundine.store.shutdown import Shutdown

LastRow = Sequence[Any]
"""A rung, the start of its cycle, and when it was last due and done, as days in text or None."""


@dataclass(frozen=True)
class Grounds:
    """What services fall due by besides the calendar: the first days of the shutdowns of each series, and
    what the meters of assets count, by the asset's row and the unit; `meters` has the rows of these."""

    shutdowns: Mapping[str, tuple[date, ...]]
    counters: Mapping[tuple[int, str], Counter]
    meters: Mapping[tuple[int, str], int]

    def ladder(self, plan: PreventivePlan) -> Ladder:
        """What makes a plan's services fall due."""
        return self.rungs(plan.rungs, plan.basis, plan.season, plan.outside, plan.together)

    def rungs(
        self, lines: Sequence[str], basis: Any, months: Collection[int], outside: Any, together: int
    ) -> Ladder:
        """The ladder of rungs as they are written. Raises ValueError."""
        season = Season(frozenset(months or range(1, 13)), outside)
        return ladder_of(lines, basis, season, together, self.shutdowns)

    def counter(self, lines: Sequence[str], asset: int) -> Counter | None:
        """What counts for rungs on an asset; None where they count nothing, or it has no such meter."""
        unit = unit_of(lines)
        return self.counters.get((asset, unit)) if unit else None


def grounds(plans: Iterable[Sequence[str]]) -> Grounds:
    """What services of plans with these rungs fall due by. Meters of an asset count for what is part of it
    too, where that has none of its own."""
    lines = [line for rungs in plans for line in rungs]
    units = {u for u in (unit_of([line]) for line in lines) if u}
    series = series_of(lines)
    days: dict[str, list[date]] = defaultdict(list)
    if series:
        rows = Shutdown.select(Shutdown.series, Shutdown.first).where(Shutdown.series.in_(sorted(series)))
        for name, first in rows.order_by(Shutdown.first).tuples():
            days[name].append(first)
    counters, meters = _counters(units) if units else ({}, {})
    return Grounds({name: tuple(found) for name, found in days.items()}, counters, meters)


def _counters(units: set[str]) -> tuple[dict[tuple[int, str], Counter], dict[tuple[int, str], int]]:
    own: dict[tuple[int, str], Counter] = {}
    rows_of: dict[tuple[int, str], int] = {}
    read: dict[int, list[tuple[date, float, bool]]] = defaultdict(list)
    meters = list(Meter.select().where(Meter.unit.in_(sorted(units))).order_by(Meter.key.desc()))
    rows = Reading.select(Reading.meter, Reading.day, Reading.value, Reading.fresh)
    for meter, day, value, fresh in (
        rows.where(Reading.meter.in_(meters or [0])).order_by(Reading.day).tuples()
    ):
        read[meter].append((day, value, fresh))
    for m in meters:
        own[(m.asset_id, m.unit)] = counter_of(m.rollover, read[m.id])
        rows_of[(m.asset_id, m.unit)] = m.id
    out, all_rows = dict(own), dict(rows_of)
    parents = dict(Asset.select(Asset.id, Asset.parent).tuples())
    for asset in parents:
        for unit in units:
            up: int | None = asset
            while up is not None and (up, unit) not in own:
                up = parents.get(up)
            if up is not None:
                out[(asset, unit)] = own[(up, unit)]
                all_rows[(asset, unit)] = rows_of[(up, unit)]
    return out, all_rows


def counter_of(rollover: float | None, readings: Sequence[tuple[date, float, bool]]) -> Counter:
    """What a meter counts, from its days, values, and which are the first of a new meter."""
    exchanges = [(day, value) for day, value, fresh in readings if fresh]
    return counted([(day, value) for day, value, _ in readings], rollover, exchanges)


def last_times(
    of: Ladder, rows: Iterable[LastRow], started: date, counter: Counter | None = None
) -> dict[str, Last]:
    """The last time of each rung; one that has none yet begins its cycle on a day."""
    found = {name: Last(date.fromisoformat(start), _day(due), _day(done)) for name, start, due, done in rows}
    lasts = {r.name: found.get(r.name, Last(started)) for r in of.rungs}
    if counter is None:
        return lasts
    return {
        name: replace(t, value=value_on(counter, t.done or t.due or t.start)) for name, t in lasts.items()
    }


def natural(known: Grounds, one: Service, today: date) -> Occurrence | None:
    """What falls due next of a service, whose plan is loaded, by its rungs alone."""
    plan = one.plan
    rungs, counter = known.ladder(plan), known.counter(plan.rungs, one.asset_id)
    return next_occurrence(rungs, last_times(rungs, one.lasts, today, counter), counter)


def as_moved(one: Occurrence, moved: Sequence[str] | None) -> Occurrence:
    """What falls due next, on the day to which it was moved."""
    if moved and str(one.day) == moved[0]:
        return one._replace(day=date.fromisoformat(moved[1]))
    return one


def last_rows(lasts: Mapping[str, Last]) -> list[list[Any]]:
    """Last times as they are stored."""
    return [[name, str(t.start), _text(t.due), _text(t.done)] for name, t in lasts.items()]


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text else None


def _text(day: date | None) -> str | None:
    return str(day) if day else None
