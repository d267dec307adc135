"""Shutdowns by hand: what hangs on one and when it is done, and what moves when its date does."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from peewee import fn

from nundine.core.lifecycle import BEGUN
from nundine.core.preventive.critical import Step, critical
from nundine.core.timeline import at_local
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange.forms import Cells, cells_of
from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.entries import key_text
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PREVENTIVE_PLANS, WORK_ORDERS, turn
from nundine.services.preventive.availability import hours_by_day
from nundine.services.preventive.raising import ready_with
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.ledger import LedgerChange, LedgerEntry
from nundine.store.shutdown import Shutdown
from nundine.store.site import Area, Craft, site
from nundine.store.week import Placement
from nundine.store.work_order import CrewNeed, Task, TaskAfter, WorkOrder

NOUN = "shutdown"
CLOSED = ("cancelled",)
MOVED = ("earliest", "due", "latest")
"""Moments of a WO that move with its shutdown."""


@dataclass(frozen=True)
class ShutdownLine:
    """A shutdown with how many WOs hang on it, and their hours of work."""

    shutdown: str
    name: str
    series: str
    first: date
    last: date
    moves_work: bool
    orders: int
    done: int
    hours: float
    revision: int


@dataclass(frozen=True)
class ShutdownJob:
    """A WO of a shutdown: planned from its first to its last placement, required by `due`, begun and done as
    reported. `slack`: elapsed hours by which its tasks may slip before all takes longer."""

    number: str
    title: str
    asset: str
    area: str
    state: str
    hours: float
    planned_start: datetime | None
    planned_end: datetime | None
    due: datetime | None
    began: datetime | None
    ended: datetime | None
    slack: float


@dataclass(frozen=True)
class CraftDay:
    day: date
    planned: float
    there: float


@dataclass(frozen=True)
class ShutdownCraft:
    """Hours that a craft is needed for, and what it has over the days of a shutdown; `days`: what is placed
    on each."""

    craft: str
    name: str
    needed: float
    there: float
    days: list[CraftDay]


@dataclass(frozen=True)
class HangingService:
    """A preventive service that falls due with a shutdown and is not raised."""

    plan: str
    title: str
    asset: str
    asset_name: str
    due: date


@dataclass(frozen=True)
class ShutdownDocument:
    """A shutdown as text cells; `path`: elapsed hours that all takes at least."""

    today: date
    shutdown: Cells
    revision: int
    jobs: list[ShutdownJob]
    path: float
    crafts: list[ShutdownCraft]
    services: list[HangingService]


@dataclass(frozen=True)
class MovedOrder:
    """A WO whose required day moves."""

    number: str
    title: str
    due: datetime | None
    to: datetime | None


@dataclass(frozen=True)
class Moving:
    """What moves with a shutdown: by how many days, which WOs, how many services fall due anew."""

    days: int
    orders: list[MovedOrder]
    services: int


def shutdowns() -> list[ShutdownLine]:
    """All, the next first, those that are over last."""
    counted: dict[int, tuple[int, int, float]] = {}
    rows = WorkOrder.select(
        WorkOrder.shutdown,
        fn.COUNT(WorkOrder.id),
        fn.SUM(WorkOrder.state.in_(("done", "closed"))),
        fn.SUM(WorkOrder.hours),
    )
    found = list(Shutdown.select())
    rows = rows.where(WorkOrder.shutdown.in_(found or [0]) & WorkOrder.state.not_in(CLOSED))
    for one, orders, done, hours in rows.group_by(WorkOrder.shutdown).tuples():
        counted[one] = (int(orders), int(done or 0), float(hours or 0))
    today = settings().day(site().timezone)
    found.sort(key=lambda s: (s.last < today, s.first, s.key))
    return [
        ShutdownLine(
            s.key,
            s.name,
            s.series,
            s.first,
            s.last,
            s.moves_work,
            *counted.get(s.id, (0, 0, 0.0)),
            s.revision,
        )
        for s in found
    ]


def _found(key: str) -> Shutdown:
    found: Shutdown | None = Shutdown.get_or_none(Shutdown.key == key)
    if found is None:
        raise NotFound(NOUN, f"There is no shutdown {key[:40]}.")
    return found


def document(key: str) -> ShutdownDocument:
    """Raises NotFound."""
    one = _found(key)
    (row,) = KINDS["shutdowns"].rows(list(NOUNS[NOUN].read([(key,)]).values()))
    cells = cells_of("shutdowns", row, ZoneInfo(site().timezone))
    orders = list(
        WorkOrder.select(WorkOrder, Asset, Area)
        .join(Asset)
        .join(Area)
        .where((WorkOrder.shutdown == one) & WorkOrder.state.not_in(CLOSED))
        .order_by(WorkOrder.due, WorkOrder.number)
    )
    tasks = list(Task.select().where(Task.work_order.in_(orders or [0])))
    jobs, path = _jobs(orders, tasks)
    today = settings().day(site().timezone)
    return ShutdownDocument(today, cells, one.revision, jobs, path, _crafts(one, tasks), hanging(one))


def _jobs(orders: list[WorkOrder], tasks: list[Task]) -> tuple[list[ShutdownJob], float]:
    """Jobs with their times, and the hours that the longest chain of tasks takes."""
    ids = [t.id for t in tasks] or [0]
    after: dict[int, list[tuple[int, float]]] = defaultdict(list)
    for task, before, lag in (
        TaskAfter.select(TaskAfter.task, TaskAfter.before, TaskAfter.lag)
        .where(TaskAfter.task.in_(ids))
        .tuples()
    ):
        after[task].append((before, lag))
    times = critical({t.id: Step(t.hours, after[t.id]) for t in tasks})
    of_order: dict[int, list[Task]] = defaultdict(list)
    for t in tasks:
        of_order[t.work_order_id].append(t)
    placed = {
        row[0]: row[1:]
        for row in Placement.select(
            Task.work_order,
            fn.MIN(fn.COALESCE(Placement.start, Placement.day)),
            fn.MAX(fn.COALESCE(Placement.end, Placement.day)),
        )
        .join(Task)
        .where(Placement.task.in_(ids))
        .group_by(Task.work_order)
        .tuples()
    }
    began = _began(tasks, {o.id: o.number for o in orders})
    out = []
    for o in orders:
        its = of_order[o.id]
        start, end = (_moment(m) for m in placed.get(o.id, (None, None)))
        done = o.state in ("done", "closed")
        ended = max((t.ended for t in its if t.ended), default=None) if done else None
        slack = min((times[t.id].slack for t in its), default=0.0)
        whole = sum(t.hours for t in its)
        out.append(
            ShutdownJob(
                o.number, o.title, o.asset.name, o.asset.area.key, o.state, round(o.hours or whole, 2),
                start, end, o.due, _unless_after(began.get(o.number), ended), ended, round(slack, 2),
            )
        )  # fmt: skip
    return out, round(max((t.end for t in times.values()), default=0.0), 2)


def _unless_after(began: datetime | None, ended: datetime | None) -> datetime | None:
    """A beginning that was told only after the end says nothing."""
    return None if began and ended and began > ended else began


def _moment(value: Any) -> datetime | None:
    """A moment, or the morning of a day, as the database's functions give it."""
    if value is None:
        return None
    if isinstance(value, str):
        value = datetime.fromisoformat(value)
    if isinstance(value, datetime):
        return value if value.tzinfo else value.replace(tzinfo=ZoneInfo("UTC"))
    return at_local(value, datetime.min.time(), ZoneInfo(site().timezone))


def _began(tasks: list[Task], numbers: dict[int, str]) -> dict[str, datetime]:
    """When the first task of each WO was reported as begun or done, by the ledger."""
    keys = {key_text([numbers[t.work_order_id], t.number]): numbers[t.work_order_id] for t in tasks}
    if not keys:
        return {}
    rows = (
        LedgerChange.select(LedgerChange.key, LedgerChange.after, LedgerEntry.at)
        .join(LedgerEntry)
        .where((LedgerChange.noun == "task") & LedgerChange.key.in_(list(keys)))
        .order_by(LedgerEntry.id)
    )
    out: dict[str, datetime] = {}
    for key, after, at in rows.tuples():
        if after and after.get("state") in BEGUN:
            out.setdefault(keys[key], at)
    return out


def _crafts(one: Shutdown, tasks: list[Task]) -> list[ShutdownCraft]:
    """Hours by craft of what is not done, against those that its people have over the days."""
    hours = {t.id: t.hours for t in tasks if t.state not in ("done", "skipped")}
    needed: dict[str, float] = defaultdict(float)
    by_task: dict[int, dict[str, float]] = defaultdict(dict)
    needs = CrewNeed.select(CrewNeed.task, Craft.key, CrewNeed.people).join(Craft)
    for task, craft, people in needs.where(CrewNeed.task.in_(list(hours) or [0])).tuples():
        needed[craft] += hours[task] * people
        by_task[task][craft] = by_task[task].get(craft, 0.0) + people
    planned: dict[tuple[str, date], float] = defaultdict(float)
    rows = Placement.select(Placement.task, Placement.day, Placement.hours)
    for task, day, part in rows.where(Placement.task.in_(list(hours) or [0])).tuples():
        for craft, people in by_task[task].items():
            planned[(craft, day)] += (part or hours[task]) * people
    there = hours_by_day(one.first, one.last)
    days = [one.first + timedelta(days=n) for n in range((one.last - one.first).days + 1)]
    return [
        ShutdownCraft(
            c.key,
            c.name,
            round(needed[c.key], 2),
            round(sum(there.get((c.key, d), 0.0) for d in days), 2),
            [CraftDay(d, round(planned[(c.key, d)], 2), round(there.get((c.key, d), 0.0), 2)) for d in days],
        )
        for c in Craft.select().order_by(Craft.id)
        if needed[c.key]
    ]


def hanging(one: Shutdown) -> list[HangingService]:
    """Running services that fall due with a shutdown next, and are not raised."""
    if not one.series:
        return []
    return [
        HangingService(r.plan.number, r.plan.title, r.asset.key, r.asset.name, r.due) for r in ready_with(one)
    ]


def move(account: Account, key: str, first: date, last: date, revision: int, trial: bool) -> Moving:
    """Move a shutdown, and the required days of its WOs if it says so; `trial` only tells what would move.

    Raises
    ------
    NotFound, Stale
        For one that is not there, or was changed meanwhile.
    Refused
        For days that are no range.
    """
    if last < first:
        raise Refused("last", "It ends before it begins.", field="last")
    zone = ZoneInfo(site().timezone)
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        turn(WORK_ORDERS)
        need_revision(NOUN, [key], revision)
        one = _found(key)
        days = (first - one.first).days
        orders = _open_orders(one) if one.moves_work and days else []
        moved = {(o.number,): _later(o, days, zone) for o in orders}
        told = [MovedOrder(o.number, o.title, o.due, moved[(o.number,)].get("due", o.due)) for o in orders]
        services = len(hanging(one)) if days else 0
        if not trial:
            changes: list[Change] = changes_to(NOUN, {(key,): {"first": first, "last": last}})
            changes += changes_to("work order", moved)
            if changes:
                write(f"{NOUN} {key}", account, Edit(NOUN, f"{key} moves to {first}", changes), checked=True)
    return Moving(days, told, services)


def _open_orders(one: Shutdown) -> Sequence[WorkOrder]:
    rows = WorkOrder.select().where(
        (WorkOrder.shutdown == one) & WorkOrder.state.not_in(("done", "closed", "cancelled"))
    )
    return [o for o in rows.order_by(WorkOrder.number) if any(getattr(o, name) for name in MOVED)]


def _later(order: WorkOrder, days: int, zone: ZoneInfo) -> dict[str, Any]:
    """The moments of a WO so many days later, at the same hour of the clock."""
    out = {}
    for name in MOVED:
        moment = getattr(order, name)
        if moment is not None:
            local = moment.astimezone(zone)
            later = at_local(local.date() + timedelta(days=days), local.time(), zone)
            out[name] = later.astimezone(UTC)
    return out
