"""Raising: WOs for services that fall due within their notice, by hand or each morning by itself. Twice is
once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.preventive.due import Due
from nundine.core.preventive.ladder import Ladder, next_occurrence, tasks_of
from nundine.core.preventive.rung_text import raise_day, rung_of
from nundine.core.timeline import at_local
from nundine.services.access import PLAN, where
from nundine.services.background.periodic import Daily, periodic
from nundine.services.errors import NotAllowed, NotFound, Refused
from nundine.services.exchange import importing
from nundine.services.exchange.cells import write_cell
from nundine.services.exchange.forms import Cells, filled
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PREVENTIVE_PLANS, WORK_ORDERS, take_own, turn
from nundine.services.work.job_plans import copy_for_order
from nundine.services.work.work_orders import OWN
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import Grounds, as_moved, grounds, last_rows, last_times
from nundine.store.shutdown import Shutdown
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder

STREAM, MOST = "preventive", 1000
EVENING = time(18)
"""The hour of its due day by which work is due."""


@dataclass(frozen=True)
class RaisedLine:
    """A service that was raised, or why it was not; `plan` and `asset` by key."""

    plan: str
    title: str
    asset: str
    asset_name: str
    due: date
    order: str | None
    why: str | None


@dataclass(frozen=True)
class Raised:
    """What was raised, and what was not."""

    made: list[RaisedLine]
    not_made: list[RaisedLine]


@dataclass(frozen=True)
class _Ready:
    """A service that is to be raised now, with the rungs of what falls due and its last times."""

    plan: PreventivePlan
    service: Service
    asset: Asset
    due: date
    rungs: tuple[tuple[str, date], ...]
    shutdown: str | None


def raise_due(account: Account | None, areas: Sequence[str] = ()) -> Raised:
    """Raise all that falls due within its notice, of some areas or all. Raises NotAllowed for who plans in
    none of them."""
    with db.atomic():
        counter = _locked()
        return _raise(account, counter, [r for r in _ready(areas) if _is_time(r)])


def raise_picked(account: Account, picked: Sequence[tuple[str, str]]) -> Raised:
    """Raise what falls due next of these plans and assets, whenever that is. Raises Refused for none or too
    many."""
    if not 1 <= len(picked) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} services are raised at once.", field="picked")
    wanted = set(picked)
    with db.atomic():
        counter = _locked()
        ready = [r for r in _ready(()) if (r.plan.number, r.asset.key) in wanted]
        return _raise(account, counter, ready)


IS_DUE = (PreventivePlan.state == "running") & ~Service.held & ~Asset.in_store
"""Of services: they fall due."""


def _locked() -> Any:
    """Wait for one's turn at raising, and at the numbers of WOs."""
    turn(PREVENTIVE_PLANS)
    return turn(WORK_ORDERS)


def _ready(areas: Sequence[str]) -> list[_Ready]:
    """Running services that are not held and of which nothing is raised, by due date."""
    open_ = Occurrence.select(Occurrence.plan, Occurrence.asset).where(Occurrence.state == "raised").tuples()
    taken = set(open_)
    query = (
        Service.select(Service, PreventivePlan, Asset)
        .join(PreventivePlan)
        .switch(Service)
        .join(Asset)
        .where(IS_DUE & Service.next_due.is_null(False))
        .order_by(Service.next_due, PreventivePlan.number, Asset.key)
    )
    if areas:
        query = query.where(Asset.area.in_(Area.select(Area.id).where(Area.key.in_(list(areas)))))
    today = settings().day(site().timezone)
    shutdowns = {(d.series, d.first): d.key for d in Shutdown.select()}
    out: list[_Ready] = []
    ladders: dict[int, Ladder] = {}
    found = list(query)
    known: Grounds = grounds({s.plan_id: s.plan.rungs for s in found}.values())
    for s in found:
        if (s.plan_id, s.asset_id) in taken:
            continue
        if s.plan_id not in ladders:
            ladders[s.plan_id] = known.ladder(s.plan)
        rungs, counter = ladders[s.plan_id], known.counter(s.plan.rungs, s.asset_id)
        one = next_occurrence(rungs, last_times(rungs, s.lasts, today, counter), counter)
        if one is not None:
            one = as_moved(one, s.moved)
            fell = tuple(zip(one.rungs, (d.day for d in one.dues), strict=True))
            hangs = any(d.by == "shutdown" for d in one.dues)
            with_it = next(iter(k for k in map(shutdowns.get, _hung(s.plan, one.dues)) if k), None)
            out.append(_Ready(s.plan, s, s.asset, one.day, fell, with_it if hangs else None))
    return out


def _hung(plan: PreventivePlan, dues: Sequence[Due]) -> list[tuple[str, date]]:
    """The series and first days of the shutdowns with which rungs fell due."""
    days = {d.day for d in dues if d.by == "shutdown"}
    rungs = [r for r in map(rung_of, plan.rungs) if r.series]
    return [(r.series, day - timedelta(days=r.offset)) for r in rungs for day in sorted(days)]


def ready_with(one: Shutdown) -> list[_Ready]:
    """What falls due with a shutdown next and is not raised."""
    return [r for r in _ready(()) if r.shutdown == one.key]


def raise_with(account: Account, key: str) -> Raised:
    """Raise all that falls due with a shutdown, whenever that is. Raises NotFound."""
    one = Shutdown.get_or_none(Shutdown.key == key)
    if one is None:
        raise NotFound("shutdown", f"There is no shutdown {key[:40]}.")
    with db.atomic():
        counter = _locked()
        return _raise(account, counter, ready_with(one))


def _is_time(one: _Ready) -> bool:
    """Whether it is raised by today."""
    days = [d for row in one.service.lasts for d in (row[3] or row[2] or row[1],) if d]
    before = max((date.fromisoformat(d) for d in days), default=one.due)
    return raise_day(one.due, before, one.plan.notice) <= settings().day(site().timezone)


def _raise(account: Account | None, counter: Any, ready: list[_Ready]) -> Raised:
    """WOs for these, in one command; the others say why not."""
    mine = where(account, PLAN) if account else None
    if mine is not None and not mine:
        raise NotAllowed("area", "No area was given to you yet, in which you may plan work.")
    zone = ZoneInfo(site().timezone)
    copies: dict[str, tuple[Cells, list[Cells]]] = {}
    areas = dict(Area.select(Area.id, Area.key).tuples())
    orders: list[Cells] = []
    tasks: list[Cells] = []
    made: list[RaisedLine] = []
    not_made: list[RaisedLine] = []
    wanted: dict[Any, Any] = {}
    for one in ready[:MOST]:
        plan = one.plan
        try:
            if mine is not None and areas[one.asset.area_id] not in mine:
                raise Refused("area", "It lies in an area in which you do not plan.")
            if plan.number not in copies:
                copies[plan.number] = _copy(plan)
            order, its = copies[plan.number]
            chosen = set(tasks_of([n for n, _ in one.rungs], {t["task"]: _belongs(plan, t) for t in its}))
            parts = [_after_those(t, chosen) for t in its if t["task"] in chosen]
            if not parts:
                raise Refused("tasks", "None of its tasks belongs to these rungs.")
        except Refused as bad:
            not_made.append(_line(one, None, bad.text))
            continue
        number = take_own(counter, WorkOrder, OWN, 999) if not orders else _next(orders[-1]["number"])
        orders.append(_order(one, order, number, zone))
        tasks += [{**t, "number": number, "state": ""} for t in parts]
        wanted[(plan.number, one.asset.key, one.due.isoformat())] = {
            "rungs": [[name, day.isoformat()] for name, day in one.rungs],
            "state": "raised",
            "done": None,
            "order": number,
            "lasts": one.service.lasts or last_rows({}),
            "reason": "",
        }
        made.append(_line(one, number, None))
    if orders:
        _write(account, counter, orders, tasks, wanted)
    return Raised(made, not_made)


def _write(
    account: Account | None, counter: Any, orders: list[Cells], tasks: list[Cells], wanted: dict[Any, Any]
) -> None:
    given = {"work_orders": [filled(o) for o in orders], "tasks": [filled(t) for t in tasks]}
    report, changes = importing.checked_rows(given)
    if report.errors:
        first = report.errors[0]
        raise Refused("field", f"{first.file} {first.row}: {first.column}: {first.reason}")
    last = int(orders[-1]["number"].removeprefix(OWN))
    type(counter).update(last=last).where(type(counter).id == counter.id).execute()
    every: list[Change] = [*changes, *changes_to("occurrence", wanted)]
    what = orders[0]["number"] if len(orders) == 1 else f"{len(orders)} preventive WOs"
    write(STREAM, account, Edit("raise", f"Raise {what}", every), checked=True)


def _next(number: str) -> str:
    return f"{OWN}{int(number.removeprefix(OWN)) + 1}"


def _copy(plan: PreventivePlan) -> tuple[Cells, list[Cells]]:
    """What a WO of a plan says, and its tasks. Raises Refused."""
    if plan.job_plan is None:
        return {"description": ""}, [_typed_in(plan)]
    copied = copy_for_order(plan.job_plan.number)
    return copied.order, copied.tasks


def _typed_in(plan: PreventivePlan) -> Cells:
    """The one task of a plan whose work is typed in. Raises Refused."""
    if plan.hours is None:
        raise Refused("plan", "It has neither a job plan nor hours of its own that say what is to be done.")
    needs = write_cell("needs", tuple(tuple(n) for n in plan.needs), ZoneInfo(site().timezone))
    return {"task": "10", "title": plan.title, "hours": repr(plan.hours), "needs": str(needs), "after": ""}


def _belongs(plan: PreventivePlan, task: Cells) -> list[str]:
    return next((list(rungs) for name, rungs in plan.grid if name == task["task"]), [])


def _after_those(task: Cells, chosen: set[str]) -> Cells:
    """A task that follows only those that are there."""
    before = [p.strip() for p in task["after"].split(";") if p.strip()]
    return {**task, "after": "; ".join(p for p in before if p.partition("+")[0].strip() in chosen)}


def _order(one: _Ready, copied: Cells, number: str, zone: ZoneInfo) -> Cells:
    plan = one.plan
    due: datetime = at_local(one.due, EVENING, zone)
    rungs = ", ".join(name for name, _ in one.rungs) if len(plan.rungs) > 1 else ""
    return {
        **copied,
        "number": number,
        "title": f"{plan.title}: {rungs}"[:200] if rungs else plan.title,
        "asset": one.asset.key,
        "kind": plan.kind,
        "state": "approved",
        "raised": settings().day(site().timezone).isoformat(),
        "must": "yes" if plan.kind == "statutory" else "no",
        "due": due.isoformat(),
        "crew": plan.crew,
        "shutdown": one.shutdown or "",
        "description": plan.description or copied["description"],
    }


def _line(one: _Ready, order: str | None, why: str | None) -> RaisedLine:
    asset = one.asset
    return RaisedLine(one.plan.number, one.plan.title, asset.key, asset.name, one.due, order, why)


@periodic("raising", "preventive work that falls due", Daily(time(5)))
def raise_each_morning() -> Raised:
    """Before the day begins."""
    return raise_due(None)
