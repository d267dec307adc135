"""Work hours that preventive services took over some time: by asset, by task, by person."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any, Literal

from peewee import fn

from nundine.services.people.names import people_names
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.site import Area, site
from nundine.store.work_order import CrewNeed, Task

By = Literal["asset", "task", "person"]
MOST = 100
UNTOLD = ""
"""Stands for whoever it was, where nobody said who did a task."""


@dataclass(frozen=True)
class HoursLine:
    """Work hours on an asset, on a task of a plan (its number, then the task), or of a person; the name is
    empty where nobody said who it was. `tasks`: how many were done."""

    name: str
    hours: float
    tasks: int


def hours_of(by: By, days: int, areas: Sequence[str] = ()) -> list[HoursLine]:
    """Of services that fell due in the last so many days and of whose tasks hours were reported: the most
    hours first, at most `MOST` lines."""
    names = people_names() if by == "person" else {}
    found: dict[str, list[float]] = defaultdict(lambda: [0.0, 0])
    for plan, asset, task, title, spent, hours_by, done_by, seats in _reported(days, areas):
        of_people = dict(hours_by or {}) or dict.fromkeys(done_by or (), spent)
        if by == "person":
            its = {str(names.get(k, k)): h for k, h in of_people.items()} or {UNTOLD: spent * seats}
        else:
            work = sum(of_people.values()) or spent * seats
            its = {asset if by == "asset" else f"{plan} {task} {title}": work}
        for name, hours in its.items():
            found[name][0] += hours
            found[name][1] += 1
    lines = [HoursLine(name, round(hours, 2), int(count)) for name, (hours, count) in found.items()]
    return sorted(lines, key=lambda line: (-line.hours, line.name))[:MOST]


def _reported(days: int, areas: Sequence[str]) -> list[tuple[Any, ...]]:
    """Plan, asset, task, its title, elapsed hours, hours by person, who did it, and how many it asks for."""
    today = settings().day(site().timezone)
    seats = CrewNeed.select(fn.SUM(CrewNeed.people)).where(CrewNeed.task == Task.id)
    rows: Any = (
        Task.select(
            PreventivePlan.number,
            Asset.name,
            Task.number,
            Task.title,
            Task.hours_spent,
            Task.hours_by,
            Task.done_by,
            fn.COALESCE(seats, 1),
        )
        .join(Occurrence, on=(Occurrence.order == Task.work_order))
        .join_from(Occurrence, PreventivePlan)
        .join_from(Occurrence, Asset)
        .where(Occurrence.due.between(today - timedelta(days=days), today) & (Task.hours_spent > 0))
    )
    if areas:
        rows = rows.join_from(Asset, Area).where(Area.key.in_(list(areas)))
    return list(rows.tuples())
