"""The backlog as a table: paged, sorted, filtered and searched in the database; gates; weeks of ready
backlog."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

from peewee import SQL, Case, Expression, Select, fn

from nundine.core.gates import GATES
from nundine.core.week.load import tanks_of_areas
from nundine.services.cache import remember
from nundine.services.errors import Refused
from nundine.services.week.overview import AreaName, area_names
from nundine.services.week.state import WeekState
from nundine.services.work.gates import free_assets
from nundine.store.asset import Asset
from nundine.store.gates import all_gates_open, gate_columns, last_day_of, placed_elsewhere
from nundine.store.site import Area, Craft
from nundine.store.week import Placement, Week
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
class Page:
    total: int
    rows: list[JobRow]


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


SORTS = {
    "priority": WorkOrder.priority,
    "number": WorkOrder.number,
    "due": WorkOrder.due,
    "hours": WorkOrder.hours,
    "raised": WorkOrder.raised,
    "asset": Asset.name,
    "title": WorkOrder.title,
    "kind": WorkOrder.kind,
}


@dataclass(frozen=True)
class Asked:
    """A question to the table. `ready`: all gates open or not; `placed`: in this week or not; None =
    either."""

    page: int = 1
    size: int = 50
    sort: str = "priority"
    down: bool = True
    search: str = ""
    area: tuple[str, ...] = ()
    craft: tuple[str, ...] = ()
    kind: str | None = None
    ready: bool | None = None
    placed: bool | None = None
    must: bool | None = None
    late: bool | None = None


def gate_truths(state: WeekState) -> dict[str, Any]:
    """Each gate as an SQL truth for the week."""
    return gate_columns(last_day_of(state.week), free_assets(state))


def is_ready(state: WeekState) -> Expression:
    """Whether a WO is ready and stands in no other open week, as one SQL truth for the week."""
    return all_gates_open(state.week, free_assets(state))


def ready_numbers(state: WeekState) -> frozenset[str]:
    """Numbers of the WOs that are ready for the week."""
    return frozenset(n for (n,) in _base().select(WorkOrder.number).where(is_ready(state)).tuples())


def _base() -> Select:
    return WorkOrder.select().where(WorkOrder.state.in_(OPEN_STATES))


def with_asset(*more: Any) -> Select:
    """WOs with the names of their assets and areas, and more columns."""
    names = (
        Asset.name.alias("asset_name"),
        Asset.key.alias("asset_key"),
        Area.name.alias("area_name"),
    )
    return WorkOrder.select(WorkOrder, *names, *more).join(Asset).join(Area)


def _placed_numbers(week: Week) -> Select:
    return Placement.select(Task.work_order).join(Task).where(Placement.week == week)


def _filtered(state: WeekState, asked: Asked) -> Select:
    query = _base()
    for word in asked.search.split()[:6]:
        like = "%" + word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
        on = [
            a.id
            for a in Asset.select(Asset.id).where((Asset.name**like) | (fn.LOWER(Asset.key) ** like.lower()))
        ]
        query = query.where(
            (fn.LOWER(WorkOrder.number) ** like.lower())
            | (WorkOrder.title**like)
            | WorkOrder.asset.in_(on or [0])
        )
    query = _in_areas(query, asked.area)
    if asked.kind:
        query = query.where(WorkOrder.kind == asked.kind)
    if asked.craft:
        able = (
            CrewNeed.select(Task.work_order)
            .join(Task)
            .switch(CrewNeed)
            .join(Craft)
            .where(Craft.key.in_(asked.craft))
        )
        query = query.where(WorkOrder.id.in_(able))
    if asked.ready is not None:
        all_open = is_ready(state)
        query = query.where(all_open if asked.ready else ~all_open)
    if asked.placed is not None:
        inside = WorkOrder.id.in_(_placed_numbers(state.week))
        query = query.where(inside if asked.placed else ~inside)
    if asked.must is not None:
        query = query.where(WorkOrder.must == asked.must)
    if asked.late:
        query = query.where(WorkOrder.due < state.problem.start)
    return query


def page(state: WeekState, asked: Asked) -> Page:
    """One page of the backlog with its total."""
    if asked.sort not in SORTS:
        raise Refused("sort", f"Sort by one of {', '.join(SORTS)}.", field="sort")
    query = _filtered(state, asked)
    column = SORTS[asked.sort]
    order: list[Any] = [column.desc() if asked.down else column.asc(), WorkOrder.id]
    if asked.sort == "due" and not asked.down:
        order.insert(0, column.is_null())
    sorted_ids = query.join(Asset) if asked.sort == "asset" else query
    size, first = min(max(1, asked.size), 200), asked.page == 1
    columns = [WorkOrder.id, fn.COUNT(SQL("*")).over()] if asked.search else [WorkOrder.id]
    chosen = list(sorted_ids.select(*columns).order_by(*order).paginate(max(1, asked.page), size).tuples())
    ids = [row[0] for row in chosen]
    counted = chosen[0][1] if asked.search and chosen else 0 if asked.search and first else query.count()
    truths = gate_truths(state).items()
    marks = [Case(None, [(truth, 1)], 0).alias(f"gate_{name}") for name, truth in truths]
    found = with_asset(*marks).where(WorkOrder.id.in_(ids or [0])).dicts()
    by_id = {r["id"]: r for r in found}
    rows = [by_id[i] for i in ids if i in by_id]
    hours = hours_by_craft([r["id"] for r in rows])
    placed = {p.job: p.day.isoformat() for p in sorted(state.placements, key=lambda p: p.day, reverse=True)}
    other = dict(
        placed_elsewhere(state.week)
        .select(Task.work_order, Week.name)
        .where(Task.work_order.in_(ids or [0]))
        .tuples()
    )
    return Page(
        counted,
        [row_of(r, hours.get(r["id"], {}), placed.get(r["number"]), other.get(r["id"])) for r in rows],
    )


def row_of(
    r: dict[str, Any],
    hours: dict[str, float],
    placed: str | None,
    elsewhere: str | None = None,
    open_gates: dict[str, bool] | None = None,
) -> JobRow:
    return JobRow(
        r["number"],
        r["title"],
        r["asset_name"],
        r["asset_key"],
        r["area_name"],
        r["kind"],
        r["state"],
        r["priority"],
        r["must"],
        r["raised"].isoformat(),
        r["due"].isoformat() if r["due"] else None,
        r["hours"],
        hours,
        placed,
        elsewhere,
        Gates(**(open_gates or {name: bool(r[f"gate_{name}"]) for name in GATES})),
    )


def hours_by_craft(ids: list[int]) -> dict[int, dict[str, float]]:
    """Work hours left of each WO by craft. Two short reads: the database would join all crew needs before it
    looks at the ids."""
    crafts = {c.id: c.key for c in Craft.select(Craft.id, Craft.key)}
    tasks = Task.select(Task.id, Task.work_order, Task.hours, Task.hours_left).where(
        Task.work_order.in_(ids or [0]) & Task.state.in_(("to do", "under way"))
    )
    of_task = {t["id"]: t for t in tasks.dicts()}
    needs = CrewNeed.select(CrewNeed.task, CrewNeed.craft, CrewNeed.people).where(
        CrewNeed.task.in_(list(of_task) or [0])
    )
    out: dict[int, dict[str, float]] = {}
    for n in needs.dicts():
        t = of_task[n["task"]]
        by_craft = out.setdefault(t["work_order"], {})
        craft = crafts[n["craft"]]
        by_craft[craft] = round(by_craft.get(craft, 0.0) + (t["hours_left"] or t["hours"]) * n["people"], 2)
    return {order: dict(sorted(found.items())) for order, found in out.items()}


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
    hours = (
        CrewNeed.select(Craft.key, fn.SUM(fn.COALESCE(Task.hours_left, Task.hours) * CrewNeed.people))
        .join(Task)
        .switch(CrewNeed)
        .join(Craft)
        .where(Task.work_order.in_(ready_ids) & Task.state.in_(("to do", "under way")))
        .group_by(Craft.key)
        .tuples()
    )
    backlog = {craft: float(h) for craft, h in hours}
    available: dict[str, float] = {}
    tanks = tanks_of_areas(state.problem, (), areas) if areas else state.tanks
    for tank in tanks.values():
        available[tank.craft] = available.get(tank.craft, 0.0) + tank.regular
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
