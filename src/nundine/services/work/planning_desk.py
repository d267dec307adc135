"""The planning desk: how much work is asked for, being planned, ready and placed, by craft, and how open work
came and went over the last weeks."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from peewee import SQL, Case, fn

from nundine.core.lifecycle import OPEN_REQUESTS, TO_DO
from nundine.core.timeline import week_monday, week_name
from nundine.services.cache import remember
from nundine.services.week.state import WeekState
from nundine.services.work.backlog import is_ready
from nundine.settings import settings
from nundine.store.desk import DeskWeek
from nundine.store.request import WorkRequest
from nundine.store.site import Craft
from nundine.store.work_order import OPEN_STATES, CrewNeed, Task, WorkOrder

WEEKS = 12
PLANNABLE = ("draft", *OPEN_STATES)
"""States of WOs that may come into a week, or are on their way there."""


@dataclass(frozen=True)
class PastWeek:
    """Planned work hours of a craft: open when a week ended, raised in it, finished in it; and those that
    were being planned, ready and placed as it began, None where that was not kept."""

    week: str
    open: float
    raised: float
    done: float
    being_planned: float | None = None
    ready: float | None = None
    placed: float | None = None


@dataclass(frozen=True)
class CraftDesk:
    """Work hours of a craft that are left. Each WO counts once: placed in the week, else ready, else being
    planned. `weeks`: ready and placed hours by the hours that the craft has in the week; None where it has
    none."""

    craft: str
    name: str
    being_planned: float
    ready: float
    placed: float
    hours_a_week: float
    weeks: float | None
    past: list[PastWeek]


@dataclass(frozen=True)
class Desk:
    """Requests of which nobody has decided, WOs in each stage, and hours by craft."""

    week: str
    requests_new: int
    requests_asked_back: int
    being_planned: int
    ready: int
    placed: int
    crafts: list[CraftDesk]


def desk(state: WeekState) -> Desk:
    """As it stands now, beside a week."""
    today = settings().day(state.site.timezone)
    key = ("desk", id(state.problem), state.week.edits, today)
    counts, hours, past = remember(key, state.problem, lambda: (*_stages(state), _past(state)))
    kept = _kept(today - timedelta(weeks=WEEKS + 1))
    asked: dict[str, int] = dict(
        WorkRequest.select(WorkRequest.state, fn.COUNT(WorkRequest.id))
        .where(WorkRequest.state.in_(OPEN_REQUESTS))
        .group_by(WorkRequest.state)
        .tuples()
    )
    available: dict[str, float] = defaultdict(float)
    for tank in state.tanks.values():
        available[tank.row] += tank.regular
    crafts = []
    for c in Craft.select().order_by(Craft.id):
        has, soon = available[c.key], hours["ready"].get(c.key, 0.0) + hours["placed"].get(c.key, 0.0)
        crafts.append(
            CraftDesk(
                c.key,
                c.name,
                round(hours["being_planned"].get(c.key, 0.0), 1),
                round(hours["ready"].get(c.key, 0.0), 1),
                round(hours["placed"].get(c.key, 0.0), 1),
                round(has, 1),
                round(soon / has, 1) if has else None,
                [replace(w, **kept.get((c.key, w.week), {})) for w in past[c.key]],
            )
        )
    return Desk(state.week.name, asked.get("new", 0), asked.get("asked back", 0), crafts=crafts, **counts)


STAGES = ("being_planned", "ready", "placed")


def _stages(state: WeekState) -> tuple[dict[str, int], dict[str, dict[str, float]]]:
    """How many WOs are in each stage, and their work hours left by craft; all work is gone through once."""
    in_week = WorkOrder.number.in_(sorted({p.job for p in state.placements}) or [""])
    ready = is_ready(state) & WorkOrder.state.in_(OPEN_STATES)
    stage = Case(None, [(in_week, "placed"), (ready, "ready")], "being_planned")
    chosen = in_week | WorkOrder.state.in_(PLANNABLE)
    orders = WorkOrder.select(stage.alias("stage"), fn.COUNT(WorkOrder.id)).where(chosen)
    counts = dict.fromkeys(STAGES, 0) | dict(orders.group_by(SQL("stage")).tuples())
    left = fn.COALESCE(Task.hours_left, Task.hours) * CrewNeed.people
    needs = (
        CrewNeed.select(stage.alias("stage"), Craft.key, fn.SUM(left))
        .join(Task)
        .join(WorkOrder)
        .join_from(CrewNeed, Craft)
        .where(chosen & Task.state.in_(TO_DO))
        .group_by(SQL("stage"), Craft.key)
    )
    hours: dict[str, dict[str, float]] = {stage: {} for stage in STAGES}
    for its, craft, much in needs.tuples():
        hours[its][craft] = float(much)
    return counts, hours


def _past(state: WeekState) -> dict[str, list[PastWeek]]:
    """By craft the last weeks before the present one, oldest first."""
    zone = ZoneInfo(state.site.timezone)
    now = settings().now().astimezone(zone)
    this = week_monday(week_name(now.date()))
    mondays = [this - timedelta(weeks=n) for n in range(WEEKS, 0, -1)]
    rows = list(_raised_and_done(now).tuples())
    out: dict[str, list[PastWeek]] = defaultdict(list)
    of_craft: dict[str, list[tuple[date, date | None, float]]] = defaultdict(list)
    for craft, raised, done, hours in rows:
        of_craft[craft].append((raised, done, float(hours)))
    for craft in [c.key for c in Craft.select(Craft.key)]:
        for monday in mondays:
            after = monday + timedelta(weeks=1)
            its = of_craft[craft]
            out[craft].append(
                PastWeek(
                    week_name(monday),
                    round(sum(h for r, d, h in its if r < after and (d is None or d >= after)), 1),
                    round(sum(h for r, _, h in its if monday <= r < after), 1),
                    round(sum(h for _, d, h in its if d is not None and monday <= d < after), 1),
                )
            )
    return out


def _kept(first: date) -> dict[tuple[str, str], dict[str, float]]:
    """Hours by stage as weeks began, by craft and week, from a day on."""
    stages = [getattr(DeskWeek, stage) for stage in STAGES]
    rows = DeskWeek.select(Craft.key, DeskWeek.monday, *stages).join(Craft).where(DeskWeek.monday >= first)
    return {
        (craft, week_name(monday)): dict(zip(STAGES, hours, strict=True))
        for craft, monday, *hours in rows.tuples()
    }


def _raised_and_done(now: datetime) -> Any:
    """Planned work hours by craft, the Monday of the week in which a WO was raised, and that in which its
    task was finished (None: it is open); without work that was finished long before."""
    minutes = int((now.utcoffset() or timedelta()).total_seconds() // 60)
    ended = fn.DATE(fn.TIMESTAMPADD(SQL("MINUTE"), minutes, Task.ended))
    first = now - timedelta(weeks=WEEKS + 2)
    raised = _monday(WorkOrder.raised)
    done = _monday(ended)
    told = Task.state.in_(TO_DO) | ((Task.state == "done") & (Task.ended >= first))
    return (
        CrewNeed.select(Craft.key, raised, done, fn.SUM(Task.hours * CrewNeed.people))
        .join(Task)
        .join(WorkOrder)
        .switch(CrewNeed)
        .join(Craft)
        .where(told & (WorkOrder.state != "cancelled"))
        .group_by(Craft.key, raised, done)
    )


def _monday(day: Any) -> Any:
    """The Monday of a day's week; nothing where there is no day."""
    return fn.SUBDATE(day, fn.WEEKDAY(day))
