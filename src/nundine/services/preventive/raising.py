"""Raising: WOs, or requests, for services that fall due within their notice, by hand or each morning by
itself. Twice is once."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, time, timedelta
from typing import Any

from nundine.core.preventive.due import Due
from nundine.core.preventive.ladder import Ladder, next_occurrence
from nundine.core.preventive.rung_text import raise_day, rung_of
from nundine.services.access import PLAN, where
from nundine.services.background.periodic import Daily, periodic
from nundine.services.errors import NotAllowed, NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PREVENTIVE_PLANS, WORK_ORDERS, turn
from nundine.services.people.stand_ins import standing_in
from nundine.services.preventive.raised_as import Asked, Ready, Work
from nundine.services.preventive.service_list import KEY_AND_ASSET
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import Grounds, as_moved, grounds, last_rows, last_times
from nundine.store.shutdown import Shutdown
from nundine.store.site import Area, site

STREAM, MOST = "preventive", 1000


@dataclass(frozen=True)
class RaisedLine:
    """A service that was raised as a WO or a request, or why it was not; `plan` and `asset` by key."""

    plan: str
    title: str
    asset: str
    asset_name: str
    due: date
    order: str | None
    request: str | None
    why: str | None


@dataclass(frozen=True)
class Raised:
    """What was raised, and what was not."""

    made: list[RaisedLine]
    not_made: list[RaisedLine]


def raise_due(account: Account | None, among: Collection[str] | None = None) -> Raised:
    """Raise all that falls due within its notice, `among` some services by their keys in the list of
    services, or all. Raises NotAllowed for who plans in no area."""
    with db.atomic():
        counter = _locked()
        ready = [r for r in _ready() if among is None or _key(r) in among]
        return _raise(account, counter, [r for r in ready if _is_time(r)])


def raise_picked(account: Account, picked: Sequence[tuple[str, str]]) -> Raised:
    """Raise what falls due next of these plans and assets, whenever that is. Raises Refused for none or too
    many."""
    if not 1 <= len(picked) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} services are raised at once.", field="picked")
    wanted = set(picked)
    with db.atomic():
        counter = _locked()
        ready = [r for r in _ready() if (r.plan.number, r.asset.key) in wanted]
        return _raise(account, counter, ready)


IS_DUE = (PreventivePlan.state == "running") & ~Service.held & ~Asset.in_store
"""Of services: they fall due."""


def _locked() -> Any:
    """Wait for one's turn at raising, and at the numbers of WOs."""
    turn(PREVENTIVE_PLANS)
    return turn(WORK_ORDERS)


def _ready() -> list[Ready]:
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
    today = settings().day(site().timezone)
    shutdowns = {(d.series, d.first): d.key for d in Shutdown.select()}
    out: list[Ready] = []
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
            out.append(Ready(s.plan, s, s.asset, one.day, fell, with_it if hangs else None))
    return out


def _hung(plan: PreventivePlan, dues: Sequence[Due]) -> list[tuple[str, date]]:
    """The series and first days of the shutdowns with which rungs fell due."""
    days = {d.day for d in dues if d.by == "shutdown"}
    rungs = [r for r in map(rung_of, plan.rungs) if r.series]
    return [(r.series, day - timedelta(days=r.offset)) for r in rungs for day in sorted(days)]


def ready_with(one: Shutdown) -> list[Ready]:
    """What falls due with a shutdown next and is not raised."""
    return [r for r in _ready() if r.shutdown == one.key]


def raise_with(account: Account, key: str) -> Raised:
    """Raise all that falls due with a shutdown, whenever that is. Raises NotFound."""
    one = Shutdown.get_or_none(Shutdown.key == key)
    if one is None:
        raise NotFound("shutdown", f"There is no shutdown {key[:40]}.")
    with db.atomic():
        counter = _locked()
        return _raise(account, counter, ready_with(one))


def _key(one: Ready) -> str:
    """As the list of services knows it."""
    return f"{one.plan.number}{KEY_AND_ASSET}{one.asset.key}"


def _is_time(one: Ready) -> bool:
    """Whether it is raised by today."""
    days = [d for row in one.service.lasts for d in (row[3] or row[2] or row[1],) if d]
    before = max((date.fromisoformat(d) for d in days), default=one.due)
    return raise_day(one.due, before, one.plan.notice) <= settings().day(site().timezone)


def _raise(account: Account | None, counter: Any, ready: list[Ready]) -> Raised:
    """WOs and requests for these, in one command; the others say why not."""
    mine = where(account, PLAN) if account else None
    if mine is not None and not mine:
        raise NotAllowed("area", "No area was given to you yet, in which you may plan work.")
    areas = dict(Area.select(Area.id, Area.key).tuples())
    work = Work(counter)
    asked = Asked(account)
    made: list[RaisedLine] = []
    not_made: list[RaisedLine] = []
    wanted: dict[Any, Any] = {}
    instead = standing_in({one.due for one in ready[:MOST]})
    for one in ready[:MOST]:
        by_request = one.plan.raises == "request"
        try:
            if mine is not None and areas[one.asset.area_id] not in mine:
                raise Refused("area", "It lies in an area in which you do not plan.")
            crew = instead.get((one.plan.crew, one.due), one.plan.crew)
            number = asked.add(one) if by_request else work.add(one, crew)
        except Refused as bad:
            not_made.append(_line(one, None, bad.text))
            continue
        wanted[(one.plan.number, one.asset.key, one.due.isoformat())] = {
            "rungs": [[name, day.isoformat()] for name, day in one.rungs],
            "state": "raised",
            "done": None,
            "order": None if by_request else number,
            "request": number if by_request else None,
            "lasts": one.service.lasts or last_rows({}),
            "reason": "",
        }
        made.append(_line(one, number, None))
    if wanted:
        every = [*work.changes(), *asked.changes(), *changes_to("occurrence", wanted)]
        what = f"{made[0].order or made[0].request}" if len(made) == 1 else f"{len(made)} preventive services"
        write(STREAM, account, Edit("raise", f"Raise {what}", every), checked=True)
    return Raised(made, not_made)


def _line(one: Ready, number: str | None, why: str | None) -> RaisedLine:
    asset, plan = one.asset, one.plan
    order, request = (None, number) if plan.raises == "request" else (number, None)
    return RaisedLine(plan.number, plan.title, asset.key, asset.name, one.due, order, request, why)


@periodic("raising", "preventive work that falls due", Daily(time(5)))
def raise_each_morning() -> Raised:
    """Before the day begins."""
    return raise_due(None)
