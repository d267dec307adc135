"""What falls due in a range of days: what was raised, and what is to come if all is done on its day."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from nundine.core.preventive.due import Last, after
from nundine.core.preventive.ladder import Lasts, forecast, tasks_of
from nundine.core.preventive.ladder import Occurrence as CoreOccurrence
from nundine.core.preventive.meter import Counter
from nundine.core.preventive.rung_text import unit_of
from nundine.services.preventive.raising import IS_DUE
from nundine.services.preventive.weeks_ahead import ForecastLine, ForecastService, ForecastWork
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.job_plan import PlanTask
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import Grounds, as_moved, grounds, last_times
from nundine.store.request import WorkRequest
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder


def occurrences(first: date, last: date, areas: Sequence[str]) -> list[ForecastLine]:
    """All from a day to another, by day, plan and asset; what is overdue by today too, where today is
    among them."""
    works = Works()
    lines = [*_raised(works, first, last, areas), *to_come(works, first, last, areas)]
    return sorted(lines, key=lambda line: (line.day, line.service.plan, line.service.asset))


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


class Works:
    """What rungs of plans ask for, each reckoned once."""

    def __init__(self) -> None:
        self._of_job_plans = _hours_of_tasks()
        self._found: dict[tuple[int, tuple[str, ...]], ForecastWork] = {}

    def work(self, plan: PreventivePlan, rungs: tuple[str, ...]) -> ForecastWork:
        known = self._found.get((plan.id, rungs))
        if known is None:
            of_plan = self._of_job_plans[plan.job_plan_id] if plan.job_plan_id else _typed_in(plan)
            belongs = dict(plan.grid)
            tasks = tasks_of(rungs, {t: belongs.get(t, []) for t in of_plan})
            known = self._found[plan.id, rungs] = ForecastWork(list(rungs), _hours(tasks, of_plan))
        return known


class _Ahead:
    """What falls due of services of one plan until a day. Services with the same last times and no meter have
    the same days, which are reckoned once."""

    def __init__(self, plan: PreventivePlan, known: Grounds, until: date, today: date) -> None:
        self.ladder, self._unit = known.ladder(plan), unit_of(plan.rungs)
        self._known, self._until, self._today = known, until, today
        self._alike: dict[tuple[Last, ...], list[CoreOccurrence]] = {}

    def occurrences(self, one: _Running, raised: Occurrence | None) -> list[CoreOccurrence]:
        """If all is done on its day from now on, `raised` too."""
        counter = self._known.counters.get((one.asset, self._unit)) if self._unit else None
        lasts: Lasts = last_times(self.ladder, one.lasts, self._today, counter)
        if raised is not None:
            lasts = _as_if_done(lasts, raised, counter)
        if counter is not None:
            return forecast(self.ladder, lasts, self._until, counter)
        alike = tuple(lasts.values())
        if alike not in self._alike:
            self._alike[alike] = forecast(self.ladder, lasts, self._until)
        return self._alike[alike]


def to_come(works: Works, first: date, last: date, areas: Sequence[str]) -> list[ForecastLine]:
    """What is not raised yet, if all is done on its day from now on."""
    today = settings().day(site().timezone)
    open_: dict[tuple[int, int], Occurrence] = {
        (o.plan_id, o.asset_id): o for o in Occurrence.select().where(Occurrence.state == "raised")
    }
    out: list[ForecastLine] = []
    plans: dict[int, _Ahead] = {}
    running = _running(areas)
    known = grounds({s.plan.id: s.plan.rungs for s in running}.values())
    for s in running:
        plan = s.plan
        if plan.id not in plans:
            plans[plan.id] = _Ahead(plan, known, last, today)
        raised = open_.get((plan.id, s.asset))
        service = _service(plan, s.key, s.name, s.area)
        for n, natural in enumerate(plans[plan.id].occurrences(s, raised)):
            can_raise = n == 0 and raised is None
            one = as_moved(natural, s.moved) if can_raise else natural
            overdue = can_raise and first <= today
            if one.day >= first or overdue:
                work = works.work(plan, one.rungs)
                out.append(ForecastLine(service, work, one.day, can_raise=can_raise))
    return out


def _service(plan: PreventivePlan, asset: str, name: str, area: str) -> ForecastService:
    return ForecastService(plan.number, plan.title, plan.kind, asset, name, area, plan.crew)


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


def _raised(works: Works, first: date, last: date, areas: Sequence[str]) -> list[ForecastLine]:
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
    out = []
    for o in found:
        service = _service(o.plan, o.asset.key, o.asset.name, o.asset.area.key)
        work = works.work(o.plan, tuple(name for name, _ in o.rungs))
        order, request = numbers.get(o.order_id), asked.get(o.request_id)
        out.append(ForecastLine(service, work, o.due, order, request, o.state, done=o.done))
    return out


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
