"""What follows for preventive work from its plans, and from what became of its WOs: when services fall due
next, and what stands for their last times."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date
from typing import Any
from zoneinfo import ZoneInfo

from peewee import fn

from nundine.core.lifecycle import state_from_done
from nundine.core.preventive.ladder import next_occurrence
from nundine.core.preventive.rung_text import tolerance_days
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.meter import Meter
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import as_moved, grounds, last_times
from nundine.store.request import WorkRequest
from nundine.store.shutdown import Shutdown
from nundine.store.site import site
from nundine.store.work_order import Task, WorkOrder


def next_dues(plans: set[str]) -> None:
    """Compute anew when the services of these preventive plans fall due next. Inside the caller's
    transaction."""
    chosen = PreventivePlan.number.in_(sorted(plans) or [""])
    here = settings().day(site().timezone)
    found_plans = list(PreventivePlan.select().where(chosen))
    known = grounds(p.rungs for p in found_plans)
    for plan in found_plans:
        _tolerance(plan)
        rungs = known.ladder(plan)
        for one in Service.select().where(Service.plan == plan):
            counter = known.counter(plan.rungs, one.asset_id)
            found = next_occurrence(rungs, last_times(rungs, one.lasts, here, counter), counter)
            found = as_moved(found, one.moved) if found else None
            due, names = (found.day, list(found.rungs)) if found else (None, [])
            done = max((date.fromisoformat(row[3]) for row in one.lasts if row[3]), default=None)
            if (due, names, done) != (one.next_due, one.next_rungs, one.last_done):
                now = {"next_due": due, "next_rungs": names, "last_done": done}
                Service.update(now).where(Service.id == one.id).execute()


def _tolerance(plan: PreventivePlan) -> None:
    """The days of tolerance of a plan, which may be written as a share of its interval."""
    before, behind = (tolerance_days(side, plan.rungs) for side in (plan.before, plan.behind))
    if (before, behind) != (plan.days_before, plan.days_behind):
        now = {"days_before": before, "days_behind": behind}
        PreventivePlan.update(now).where(PreventivePlan.id == plan.id).execute()


def of_grounds(meters: set[str], units: set[str], shutdowns: set[str], series: set[str]) -> set[str]:
    """Numbers of the plans whose services may fall due anew, where these meters or shutdowns changed, or
    those of these units or series went."""
    counted = Meter.select(Meter.unit).where(Meter.key.in_(sorted(meters) or [""])).distinct().tuples()
    dated = Shutdown.select(Shutdown.series).where(Shutdown.key.in_(sorted(shutdowns) or [""])).tuples()
    units = units | {unit for (unit,) in counted}
    series = series | {name for (name,) in dated if name}
    named = [f" {unit}" for unit in sorted(units)] + [f"shutdown {s}" for s in sorted(series)]
    text = PreventivePlan.rungs.cast("char")
    found: set[str] = set()
    for part in named:
        rows = PreventivePlan.select(PreventivePlan.number).where(text.contains(part))
        found |= {number for (number,) in rows.tuples()}
    return found


@dataclass(frozen=True)
class Followed:
    """An occurrence as it follows from its WO, or from the request that asks for one: the id and number of
    the WO, the state, and the day on which it was done."""

    one: Occurrence
    order: int | None
    number: str | None
    state: str
    done: date | None


def followed(orders: set[str], requests: set[str]) -> list[Followed]:
    """Occurrences behind these WOs and requests, by number, as they follow from them."""
    if not orders and not requests:
        return []
    of_orders = WorkOrder.select(WorkOrder.id).where(WorkOrder.number.in_(sorted(orders) or [""]))
    of_requests = WorkRequest.select(WorkRequest.id).where(WorkRequest.number.in_(sorted(requests) or [""]))
    rows = Occurrence.select(Occurrence, PreventivePlan, Asset).join(PreventivePlan).switch(Occurrence)
    chosen = Occurrence.order.in_(of_orders) | Occurrence.request.in_(of_requests)
    found = list(rows.join(Asset).where(chosen))
    asked = [o.request_id for o in found if o.request_id]
    asking = {r.id: r for r in WorkRequest.select().where(WorkRequest.id.in_(asked))} if asked else {}
    order_of = {o.id: asking[o.request_id].order_id if o.request_id in asking else o.order_id for o in found}
    ids = [i for i in order_of.values() if i]
    states: dict[int, tuple[str, str]] = {
        id_: (number, state)
        for id_, number, state in WorkOrder.select(WorkOrder.id, WorkOrder.number, WorkOrder.state)
        .where(WorkOrder.id.in_(ids or [0]))
        .tuples()
    }
    of_tasks = Task.select(Task.work_order, fn.MAX(Task.ended)).where(Task.work_order.in_(ids or [0]))
    ended = dict(of_tasks.group_by(Task.work_order).tuples()) if ids else {}
    zone, today = ZoneInfo(site().timezone), settings().day(site().timezone)
    out = []
    for one in found:
        order = order_of[one.id]
        number, of_order = states.get(order, (None, None)) if order else (None, None)
        if of_order is None:
            declined = one.request_id in asking and asking[one.request_id].state == "declined"
            out.append(Followed(one, None, None, "left out" if declined else "raised", None))
            continue
        state, at = state_from_done(of_order), ended.get(order)
        day = at.replace(tzinfo=at.tzinfo or UTC).astimezone(zone).date() if at else today
        out.append(Followed(one, order, number, state, day if state == "done" else None))
    return out


def lasts_after(one: Occurrence, state: str, done: date | None) -> tuple[list[Any], list[Any]] | None:
    """The last times of the service behind an occurrence, as they stand and as they are once it is in a
    state; None where the service is no more."""
    service = Service.get_or_none((Service.plan == one.plan_id) & (Service.asset == one.asset_id))
    if service is None:
        return None
    fell = {name: date.fromisoformat(day) for name, day in one.rungs}
    now = {row[0]: row for row in service.lasts}
    then = {row[0]: row for row in one.lasts}
    for name, due in fell.items():
        if state == "raised":
            now[name] = then.get(name, now.get(name))
        elif name in now or name in then:
            start = (now.get(name) or then[name])[1]
            now[name] = [name, start, str(due), str(done) if done else None]
    return service.lasts, [row for row in now.values() if row]
