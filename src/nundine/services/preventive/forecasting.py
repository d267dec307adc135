"""The forecast: what falls due in a range of days, against the hours that there are; and which services could
move within their tolerance so that no week is overfull."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from nundine.core.preventive.due import after, window
from nundine.core.preventive.ladder import Ladder, Lasts, forecast, tasks_of
from nundine.core.preventive.ladder import Occurrence as CoreOccurrence
from nundine.core.preventive.meter import Counter
from nundine.services.errors import Refused
from nundine.services.preventive.raising import IS_DUE
from nundine.services.preventive.weeks_ahead import (
    CraftForecast,
    ForecastLine,
    ShiftLine,
    by_craft,
    hours_there,
    shifts,
)
from nundine.services.preventive.who_could import done_by
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.job_plan import PlanTask
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import as_moved, grounds, last_times
from nundine.store.request import WorkRequest
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder

LONGEST = 3 * 366


@dataclass(frozen=True)
class Forecast:
    """All occurrences from a day until another, by craft and week, and the moves that would help."""

    first: date
    last: date
    lines: list[ForecastLine]
    crafts: list[CraftForecast]
    shifts: list[ShiftLine]


def forecast_of(first: date, days: int, areas: Sequence[str] = (), person: str | None = None) -> Forecast:
    """Of a person what that person could take part in; weeks are levelled with all work all the same. Raises
    Refused for a range that is no range, or longer than three years, and for a person that there is not."""
    if not 1 <= days <= LONGEST:
        raise Refused("days", f"A forecast reaches from 1 to {LONGEST} days.", field="days")
    last = first + timedelta(days=days - 1)
    lines = [*_raised(first, last, areas), *_to_come(first, last, areas)]
    lines.sort(key=lambda line: (line.day, line.plan, line.asset))
    there = hours_there(first, last)
    moves = shifts(lines, there)
    if person:
        lines = done_by(person, lines)
        shown = {(line.plan, line.asset) for line in lines}
        moves = [m for m in moves if (m.plan, m.asset) in shown]
    return Forecast(first, last, lines, by_craft(lines, there, first, last), moves)


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
    for line in _to_come(first, last, areas):
        for craft, work in line.hours.items():
            hours[craft] += work
            count[craft] += 1
    return [CraftToCome(craft, round(hours[craft], 2), count[craft]) for craft in sorted(hours)]


@dataclass(frozen=True)
class _Running:
    """A running service that is not held: its plan, the row, key and name of its asset, the key of its area,
    its last times and what was moved."""

    plan: PreventivePlan
    asset: int
    key: str
    name: str
    area: str
    lasts: list[Any]
    moved: list[str] | None


def _to_come(first: date, last: date, areas: Sequence[str]) -> list[ForecastLine]:
    """What is not raised yet, if all is done on its day from now on."""
    hours = _hours_of_tasks()
    today = settings().day(site().timezone)
    open_: dict[tuple[int, int], Occurrence] = {
        (o.plan_id, o.asset_id): o for o in Occurrence.select().where(Occurrence.state == "raised")
    }
    out: list[ForecastLine] = []
    plans: dict[int, tuple[Ladder, dict[str, dict[str, float]], dict[str, list[str]]]] = {}
    running = _running(areas)
    known = grounds({s.plan.id: s.plan.rungs for s in running}.values())
    for s in running:
        plan = s.plan
        if plan.id not in plans:
            of_plan = hours[plan.job_plan_id] if plan.job_plan_id else _typed_in(plan)
            belongs = dict(plan.grid)
            plans[plan.id] = known.ladder(plan), of_plan, {t: belongs.get(t, []) for t in of_plan}
        rungs, of_plan, grid = plans[plan.id]
        counter = known.counter(plan.rungs, s.asset)
        lasts: Lasts = last_times(rungs, s.lasts, today, counter)
        raised = open_.get((plan.id, s.asset))
        if raised is not None:
            lasts = _as_if_done(lasts, raised, counter)
        for n, natural in enumerate(forecast(rungs, lasts, last, counter)):
            can_raise = n == 0 and raised is None
            one = as_moved(natural, s.moved) if can_raise else natural
            overdue = can_raise and first <= today
            if one.day >= first or overdue:
                work = _hours(tasks_of(one.rungs, grid), of_plan)
                out.append(_line(plan, (s.key, s.name, s.area), one, work, can_raise=can_raise))
    return out


def _running(areas: Sequence[str]) -> list[_Running]:
    """Services of running plans that are not held."""
    plans = {p.id: p for p in PreventivePlan.select().where(PreventivePlan.state == "running")}
    rows = (
        Service.select(
            Service.plan, Service.asset, Asset.key, Asset.name, Area.key, Service.lasts, Service.moved
        )
        .join(PreventivePlan)
        .switch(Service)
        .join(Asset)
        .join(Area)
        .where(IS_DUE)
        .order_by(Service.id)
    )
    if areas:
        rows = rows.where(Area.key.in_(list(areas)))
    return [_Running(plans[plan], *rest) for plan, *rest in rows.tuples() if plan in plans]


def _as_if_done(lasts: Lasts, raised: Occurrence, counter: Counter | None) -> Lasts:
    """The last times as they are if what is raised is done on its day."""
    fell = {name: date.fromisoformat(day) for name, day in raised.rungs}
    return {n: after(last, fell[n], raised.due, counter) if n in fell else last for n, last in lasts.items()}


def _raised(first: date, last: date, areas: Sequence[str]) -> list[ForecastLine]:
    """What was raised and falls due in the range, whatever became of it."""
    rows = (
        Occurrence.select(Occurrence, PreventivePlan, Asset, Area)
        .join(PreventivePlan)
        .switch(Occurrence)
        .join(Asset)
        .join(Area)
        .where(Occurrence.due.between(first, last))
        .order_by(Occurrence.due)
    )
    if areas:
        rows = rows.where(Area.key.in_(list(areas)))
    found = list(rows)
    numbers, asked = (
        dict(table.select(table.id, table.number).where(table.id.in_([i for i in ids if i] or [0])).tuples())
        for table, ids in (
            (WorkOrder, {o.order_id for o in found}),
            (WorkRequest, {o.request_id for o in found if not o.order_id}),
        )
    )
    hours = _hours_of_tasks()
    out = []
    for o in found:
        belongs = dict(o.plan.grid)
        of_plan = hours[o.plan.job_plan_id] if o.plan.job_plan_id else _typed_in(o.plan)
        names = [name for name, _ in o.rungs]
        work = _hours(tasks_of(names, {t: belongs.get(t, []) for t in of_plan}), of_plan)
        one = CoreOccurrence(o.due, tuple(names), ())
        asset = o.asset.key, o.asset.name, o.asset.area.key
        out.append(_line(o.plan, asset, one, work, numbers.get(o.order_id), asked.get(o.request_id), o.state))
    return out


def _line(
    plan: PreventivePlan,
    asset: tuple[str, str, str],
    one: CoreOccurrence,
    hours: dict[str, float],
    order: str | None = None,
    request: str | None = None,
    state: str = "to come",
    can_raise: bool = False,
) -> ForecastLine:
    of_plan = plan.number, plan.title, plan.kind, *asset, plan.crew
    days = window(one.day, plan.days_before, plan.days_behind)
    return ForecastLine(*of_plan, one.day, list(one.rungs), hours, *days, order, request, state, can_raise)


def _hours_of_tasks() -> dict[int, dict[str, dict[str, float]]]:
    """Work hours by craft of the tasks of job plans: by plan's row, task."""
    out: dict[int, dict[str, dict[str, float]]] = defaultdict(dict)
    rows = PlanTask.select(PlanTask.plan, PlanTask.number, PlanTask.hours, PlanTask.needs)
    for plan, task, hours, needs in rows.tuples():
        work: dict[str, float] = defaultdict(float)
        for craft, people, *_ in needs:
            work[craft] += hours * people
        out[plan][task] = dict(work)
    return out


def _typed_in(plan: PreventivePlan) -> dict[str, dict[str, float]]:
    """The same of a plan whose work is typed in."""
    work: dict[str, float] = defaultdict(float)
    for craft, people, *_ in plan.needs:
        work[craft] += (plan.hours or 0.0) * people
    return {"10": dict(work)} if plan.hours else {}


def _hours(tasks: list[str], of_plan: dict[str, dict[str, float]]) -> dict[str, float]:
    out: dict[str, float] = defaultdict(float)
    for task in tasks:
        for craft, hours in of_plan[task].items():
            out[craft] += hours
    return dict(out)
