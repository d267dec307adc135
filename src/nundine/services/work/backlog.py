"""The backlog: what is ready for a week, hours by craft, weeks of ready backlog."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import reduce
from operator import and_
from typing import Any

from peewee import Expression, Select, fn

from nundine.core.lifecycle import TO_DO
from nundine.core.week.load import tanks_of_areas
from nundine.services.cache import remember
from nundine.services.week.overview import AreaName, area_names
from nundine.services.week.state import WeekState
from nundine.services.work.gates import free_assets
from nundine.store.asset import Asset
from nundine.store.gates import gate_columns, last_day_of
from nundine.store.many_ids import one_of
from nundine.store.site import Area, Craft
from nundine.store.work_order import OPEN_STATES, CrewNeed, Task, WorkOrder


@dataclass(frozen=True)
class Gates:
    """What must be true before a WO is ready: True = open."""

    plan: bool
    parts: bool
    people: bool
    window: bool
    permit: bool


@dataclass(frozen=True)
class JobRow:
    """A WO in the backlog. `hours`, `hours_by_craft`: work hours left; `placed`: its first day in this week,
    `elsewhere`: the other open week in which it stands."""

    number: str
    title: str
    asset: str
    asset_key: str
    area: str
    kind: str
    state: str
    priority: float
    must: bool
    raised: str
    due: str | None
    hours: float
    hours_by_craft: dict[str, float]
    placed: str | None
    elsewhere: str | None
    gates: Gates


@dataclass(frozen=True)
class CraftBacklog:
    """Ready work hours of a craft against the hours of its week."""

    craft: str
    name: str
    ready_hours: float
    hours_a_week: float
    weeks: float | None


@dataclass(frozen=True)
class BacklogSummary:
    total: int
    ready: int
    waiting: int
    crafts: list[CraftBacklog]
    areas: list[AreaName]


def gate_truths(state: WeekState) -> dict[str, Any]:
    """Each gate as an SQL truth for the week."""
    return gate_columns(last_day_of(state.week), free_assets(state))


def is_ready(state: WeekState) -> Expression:
    """Whether a WO is ready and stands in no other open week, as one SQL truth for the week."""
    return reduce(and_, gate_truths(state).values()) & ~one_of(WorkOrder.id, state.work_elsewhere)


def ready_numbers(state: WeekState) -> frozenset[str]:
    """Numbers of the WOs that are ready for the week."""
    return frozenset(n for (n,) in _base().select(WorkOrder.number).where(is_ready(state)).tuples())


def _base() -> Select:
    return WorkOrder.select().where(WorkOrder.state.in_(OPEN_STATES))


def hours_by_craft(ids: list[int]) -> dict[int, dict[str, float]]:
    """Work hours left of each WO by craft. Two short reads: the database would join all crew needs before it
    looks at the ids."""
    crafts = {c.id: c.key for c in Craft.select(Craft.id, Craft.key)}
    tasks = Task.select(Task.id, Task.work_order, Task.hours, Task.hours_left).where(
        one_of(Task.work_order, ids) & Task.state.in_(TO_DO)
    )
    of_task = {t["id"]: t for t in tasks.dicts()}
    needs = CrewNeed.select(CrewNeed.task, CrewNeed.craft, CrewNeed.people).where(
        one_of(CrewNeed.task, of_task)
    )
    out: dict[int, dict[str, float]] = {}
    for n in needs.dicts():
        t = of_task[n["task"]]
        by_craft = out.setdefault(t["work_order"], {})
        craft = crafts[n["craft"]]
        by_craft[craft] = round(by_craft.get(craft, 0.0) + (t["hours_left"] or t["hours"]) * n["people"], 2)
    return {order: dict(sorted(found.items())) for order, found in out.items()}


def hours_left(orders: Select) -> dict[str, float]:
    """Work hours left of all WOs whose ids a question gives, by craft."""
    rows = (
        CrewNeed.select(Craft.key, fn.SUM(fn.COALESCE(Task.hours_left, Task.hours) * CrewNeed.people))
        .join(Task)
        .switch(CrewNeed)
        .join(Craft)
        .where(Task.work_order.in_(orders) & Task.state.in_(TO_DO))
        .group_by(Craft.key)
    )
    return {craft: float(h) for craft, h in rows.tuples()}


def summary(state: WeekState, areas: Collection[str] = ()) -> BacklogSummary:
    """Counts for the strip, and weeks of ready backlog by craft: ready work hours / the week's availability
    of the craft.

    Of some areas alone where they are given: their work, and the hours of their people. Weeks of ready
    backlog: common practice, no source. Kept while people and work are the same.
    """
    chosen = tuple(sorted(areas))
    key = ("summary", id(state.problem), state.work_elsewhere, chosen)
    found: BacklogSummary = remember(key, state.problem, lambda: _summary(state, frozenset(chosen)))
    return found


def _summary(state: WeekState, areas: frozenset[str]) -> BacklogSummary:
    base = _in_areas(_base(), areas)
    total, ready_ids = base.count(), base.select(WorkOrder.id).where(is_ready(state))
    backlog = hours_left(ready_ids)
    available: dict[str, float] = {}
    tanks = tanks_of_areas(state.problem, (), areas) if areas else state.tanks
    for tank in tanks.values():
        available[tank.row] = available.get(tank.row, 0.0) + tank.regular
    crafts = [
        CraftBacklog(
            c.key,
            c.name,
            round(backlog.get(c.key, 0.0), 1),
            round(available.get(c.key, 0.0), 1),
            round(backlog.get(c.key, 0.0) / available[c.key], 1) if available.get(c.key) else None,
        )
        for c in Craft.select().order_by(Craft.id)
    ]
    count = ready_ids.count()
    return BacklogSummary(total, count, total - count, crafts, area_names())


def _in_areas(query: Select, areas: Collection[str]) -> Select:
    """The WOs of some areas; of all where none are given."""
    if not areas:
        return query
    return query.where(
        WorkOrder.asset.in_(Asset.select(Asset.id).join(Area).where(Area.key.in_(sorted(areas))))
    )
