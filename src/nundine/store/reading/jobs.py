"""WOs as the jobs of a week."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Set
from datetime import datetime, time
from typing import Any
from zoneinfo import ZoneInfo

from peewee import Value, fn

from nundine.core.timeline import at_local, week_interval
from nundine.core.week import problem as core
from nundine.store.asset import Asset
from nundine.store.gates import offered
from nundine.store.permit import Permit
from nundine.store.reading.rows import grouped, keys_of_each, rows_of_each
from nundine.store.site import Area, Craft, Tool
from nundine.store.week import Placement, Week
from nundine.store.work_order import CrewNeed, Task, TaskAfter, TaskTool, WorkOrder

MOST_JOBS = 5000


def local(moment: datetime | None, zone: ZoneInfo) -> datetime | None:
    return None if moment is None else moment.astimezone(zone)


def load_jobs(
    week: Week, zone: ZoneInfo, also: Set[str] = frozenset(), only: Set[str] | None = None
) -> tuple[core.Job, ...]:
    """Jobs that a build may take (plan, parts and permit gates open, in no other open week), whatever is
    placed already, and `also`.

    `only`: of the WOs with these numbers alone.
    """
    span = week_interval(week.name, zone)
    standing = _standing(week, only)
    orders = _orders(week, set(standing.values()), also, only)
    chosen = [w["id"] for w in orders]
    tasks = grouped(
        Task.select()
        .where(Task.work_order.in_(chosen or [0]))
        .order_by(fn.LENGTH(Task.number), Task.number)
        .dicts(),
        "work_order",
    )
    ids = [t["id"] for group in tasks.values() for t in group] or [0]
    numbers = {t["id"]: t["number"] for group in tasks.values() for t in group}
    open_ids = {t["id"] for group in tasks.values() for t in group if t["state"] in ("to do", "under way")}
    needs = grouped(
        CrewNeed.select().where(CrewNeed.task.in_(ids)).order_by(CrewNeed.position).dicts(), "task"
    )
    after, tools = _links(ids)
    crafts, tool_names, areas = keys_of_each(Craft, Tool, Area)
    given = (Permit.state == "given") & Permit.work_order.in_(chosen or [0])
    permits = grouped(Permit.select().where(given).dicts(), "work_order")
    jobs = []
    for w in orders:
        steps = tuple(
            core.Task(
                t["number"],
                t["hours_left"] or t["hours"],
                t["asset_state"],
                tuple(
                    core.After(numbers[before], lag)
                    for before, lag in after[t["id"]]
                    if before in open_ids or before in standing
                ),
                t["splittable"],
                t["min_portion"],
                tuple(
                    core.Need(crafts[n["craft"]], n["level"], n["people"], n["certificate"])
                    for n in needs[t["id"]]
                ),
                tuple(tool_names[tool] for tool, _ in tools[t["id"]]),
            )
            for t in tasks[w["id"]]
            if t["id"] in open_ids or t["id"] in standing
        )
        if not steps:
            continue
        valid = permits[w["id"]]
        parts = at_local(w["parts_ready"], time(0), zone) if w["parts_ready"] else None
        starts = [m for m in (local(w["earliest"], zone), parts) if m is not None and m > span.start]
        starts += [m for v in valid if (m := local(v["valid_from"], zone)) and m > span.start]
        ends = [local(w["latest"], zone), *(local(v["valid_to"], zone) for v in valid)]
        out = None if w["put_back"] else _out_since(tasks[w["id"]], standing.keys())
        jobs.append(
            core.Job(
                w["number"],
                w["asset_key"],
                w["priority"],
                steps,
                areas[w["area"]],
                w["must"],
                w["divisible"],
                max(starts, default=None),
                local(w["due"], zone),
                min((m for m in ends if m is not None), default=None),
                core.BY_TASK if w["put_back"] else core.WHOLE,
                local(out, zone) if out and out < span.start else None,
            )
        )
    return tuple(jobs)


Links = dict[int, list[tuple[int, float]]]


def _links(tasks: list[int]) -> tuple[Links, Links]:
    """What tasks follow, with the lag, and the tools that they take, by row."""
    found: tuple[Links, Links] = (defaultdict(list), defaultdict(list))
    after = TaskAfter.select(TaskAfter.task, TaskAfter.before, TaskAfter.lag)
    tools = TaskTool.select(TaskTool.task, TaskTool.tool, Value(0))
    asked = (after.where(TaskAfter.task.in_(tasks)), tools.where(TaskTool.task.in_(tasks)))
    for links, rows in zip(found, rows_of_each(*asked), strict=True):
        for task, other, lag in rows:
            links[task].append((other, lag))
    return found


def _standing(week: Week, only: Set[str] | None) -> dict[int, int]:
    """Tasks that stand in the week, each with its WO, by row; of the WOs with these numbers alone."""
    rows: Any = Placement.select(Placement.task, Task.work_order).join(Task).where(Placement.week == week)
    if only is not None:
        rows = rows.join(WorkOrder).where(WorkOrder.number.in_(sorted(only) or [""]))
    return dict(rows.tuples())


def _orders(week: Week, placed: Set[int], also: Set[str], only: Set[str] | None) -> list[dict[str, Any]]:
    """Rows of the WOs, with the keys of their assets and the areas, in the order of their numbers."""
    taken, by_number = offered(week), WorkOrder.number.in_(sorted(also) or [""])
    of_asset = (Asset.key.alias("asset_key"), Asset.area.alias("area"))
    rows: Any = WorkOrder.select(WorkOrder, *of_asset).join(Asset)
    if only is not None:
        chosen = taken | WorkOrder.id.in_(placed or {0}) | by_number
        chosen &= WorkOrder.number.in_(sorted(only) or [""])
    else:
        first = {id_ for (id_,) in _first(week, WorkOrder.id)}
        chosen = WorkOrder.id.in_(first | placed or {0}) | by_number
    return list(rows.where(chosen).order_by(WorkOrder.number).dicts())


def _first(week: Week, field: Any) -> Any:
    """A field of the WOs that a build may take; of more than `MOST_JOBS` of those that count most."""
    rows = WorkOrder.select(field).where(offered(week))
    return (
        rows.order_by(WorkOrder.must.desc(), WorkOrder.priority.desc(), WorkOrder.id)
        .limit(MOST_JOBS)
        .tuples()
    )


def numbers_of_jobs(week: Week) -> tuple[frozenset[str], frozenset[str]]:
    """Numbers of the WOs that a build may take, at most `MOST_JOBS`, and of those that stand in the week."""
    standing = WorkOrder.select(WorkOrder.number).where(
        WorkOrder.id.in_(set(_standing(week, None).values()) or {0})
    )
    first, there = (
        frozenset(n for (n,) in rows) for rows in (_first(week, WorkOrder.number), standing.tuples())
    )
    return first, there


def _out_since(tasks: list[dict[str, Any]], shown: Set[int]) -> datetime | None:
    """When work that needs the asset stopped was first done in an earlier week, if more of it is to come: the
    asset is still out."""
    stopped = [t for t in tasks if t["asset_state"] == core.STOPPED]
    done = [t["ended"] for t in stopped if t["state"] == "done" and t["ended"] and t["id"] not in shown]
    to_come = any(t["state"] in ("to do", "under way") for t in stopped)
    return min(done, default=None) if to_come else None
