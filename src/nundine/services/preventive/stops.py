"""Preventive work around a week and around a WO: what falls due soon and is not raised, what else falls due
on the same asset, and putting it off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from peewee import Expression

from nundine.core.preventive.due import EVENING, window
from nundine.core.timeline import at_local
from nundine.services import access
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PREVENTIVE_PLANS, WORK_ORDERS, turn
from nundine.services.preventive.raising import IS_DUE, STREAM
from nundine.services.wording.phrases import day_words
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import grounds, natural
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder

TOGETHER = 14
"""Days around the due day of a WO in which other services of its asset are offered with it (common practice,
no source)."""
STATUTORY = "statutory"


@dataclass(frozen=True)
class ComingService:
    """A service that falls due and is not raised; it may be done from `first` to `last`."""

    plan: str
    title: str
    kind: str
    asset: str
    asset_name: str
    area: str
    due: date
    first: date
    last: date
    rungs: list[str]


@dataclass(frozen=True)
class OfPlan:
    """The preventive service that a WO is: the day on which it fell due, and until when it may be done."""

    plan: str
    asset: str
    due: date
    last: date
    rungs: list[str]
    reason: str


@dataclass(frozen=True)
class OneStop:
    """What a WO is of preventive work, and what else of its asset falls due within so many days."""

    of_plan: OfPlan | None
    days: int
    beside: list[ComingService]


def coming(until: date, areas: Sequence[str] = ()) -> list[ComingService]:
    """What falls due until a day and is not raised, the soonest first."""
    return _coming(Service.next_due <= until, areas)


def _coming(chosen: Expression, areas: Sequence[str] = ()) -> list[ComingService]:
    taken = set(
        Occurrence.select(Occurrence.plan, Occurrence.asset).where(Occurrence.state == "raised").tuples()
    )
    rows = (
        Service.select(Service, PreventivePlan, Asset, Area)
        .join(PreventivePlan)
        .switch(Service)
        .join(Asset)
        .join(Area)
        .where(IS_DUE & chosen)
        .order_by(Service.next_due, PreventivePlan.number, Asset.key)
    )
    if areas:
        rows = rows.where(Area.key.in_(list(areas)))
    return [
        ComingService(
            s.plan.number,
            s.plan.title,
            s.plan.kind,
            s.asset.key,
            s.asset.name,
            s.asset.area.key,
            s.next_due,
            *window(s.next_due, s.plan.days_before, s.plan.days_behind),
            s.next_rungs,
        )
        for s in rows
        if (s.plan_id, s.asset_id) not in taken
    ]


def one_stop(number: str) -> OneStop:
    """Raises NotFound."""
    order = WorkOrder.get_or_none(WorkOrder.number == number)
    if order is None:
        raise NotFound("work order", f"There is no WO {number[:40]}.")
    found = Occurrence.get_or_none((Occurrence.order == order) & (Occurrence.state == "raised"))
    mine = None
    if found is not None:
        last = window(found.due, 0, found.plan.days_behind)[1]
        names = [name for name, _ in found.rungs]
        mine = OfPlan(found.plan.number, found.asset.key, found.due, last, names, found.reason)
    if order.state not in ("draft", "approved", "under way"):
        return OneStop(mine, TOGETHER, [])
    zone = ZoneInfo(site().timezone)
    day = max(order.due.astimezone(zone).date() if order.due else date.min, settings().day(site().timezone))
    same = (Asset.id == order.asset_id) | (Asset.parent == order.asset_id)
    near = Service.next_due.between(date.min, day + timedelta(days=TOGETHER))
    return OneStop(mine, TOGETHER, _coming(same & near))


def put_off(account: Account, number: str, asset: str, to: date, reason: str) -> None:
    """Put what falls due next of a service, or is raised of it, on another day.

    Raises
    ------
    NotFound
        For a service that is not there, or of which nothing falls due.
    NotAllowed
        For statutory work past its tolerance by whoever may not change the set-up.
    Refused
        For a day that is over, or past tolerance without a reason.
    """
    today = settings().day(site().timezone)
    if to < today:
        raise Refused("to", f"{day_words(to)} is over.", field="to")
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        turn(WORK_ORDERS)
        one = service_of(number, asset)
        access.require_in(account, access.PLAN, [one.asset.area.key])
        plan: PreventivePlan = one.plan
        raised = Occurrence.get_or_none(
            (Occurrence.plan == plan) & (Occurrence.asset == one.asset_id) & (Occurrence.state == "raised")
        )
        if raised is not None and raised.order is None and raised.request is not None:
            told = f"It is asked for with {raised.request.number}; planners decide on that first."
            raise Refused("request", told)
        due = raised.due if raised is not None else _natural_due(one)
        last = window(due, 0, plan.days_behind)[1]
        if to > last:
            if plan.kind == STATUTORY:
                access.require(account, access.MANAGE)
            if not reason.strip():
                told = f"It may be done until {day_words(last)}. Say why it waits longer."
                raise Refused("reason", told, field="reason")
        changes = _put(one, raised, due, to, reason.strip())
        if changes:
            label = f"Put {number} on {asset} off to {to}" + (f": {reason.strip()}" if reason.strip() else "")
            write(STREAM, account, Edit("put off", label, changes), checked=True)


def _put(one: Service, raised: Occurrence | None, due: date, to: date, reason: str) -> list[Change]:
    if raised is None:
        return changes_to("service", {(one.plan.number, one.asset.key): {"moved": [str(due), str(to)]}})
    zone = ZoneInfo(site().timezone)
    key = (one.plan.number, one.asset.key, str(raised.due))
    changes = changes_to("occurrence", {key: {"reason": reason[:400]}})
    if raised.order is not None:
        wanted = {(raised.order.number,): {"due": at_local(to, EVENING, zone)}}
        changes += changes_to("work order", wanted)
    return changes


def service_of(number: str, asset: str) -> Service:
    """A service with its plan and asset. Raises NotFound."""
    found: Service | None = (
        Service.select(Service, PreventivePlan, Asset)
        .join(PreventivePlan)
        .switch(Service)
        .join(Asset)
        .where((PreventivePlan.number == number) & (Asset.key == asset))
        .first()
    )
    if found is None:
        raise NotFound("service", f"{number[:40]} has no service on {asset[:60]}.")
    return found


def _natural_due(one: Service) -> date:
    """The day on which it falls due next by its rungs."""
    found = natural(grounds([one.plan.rungs]), one, settings().day(site().timezone))
    if found is None:
        raise NotFound("service", f"Nothing falls due of {one.plan.number} on {one.asset.key}.")
    return found.day
