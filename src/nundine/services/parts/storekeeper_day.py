"""The storekeeper's day: what to pick for the next day with work, what came in or should have, and what is
short for the published weeks, with whom to tell."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date
from typing import Any

from peewee import fn

from nundine.core.parts.stock import DIGITS
from nundine.services.parts.kits import KitToPutBack, to_put_back
from nundine.services.parts.picking import is_short
from nundine.settings import settings
from nundine.store.account import Account, AccountRole, Role
from nundine.store.asset import Asset
from nundine.store.buying import Purchase, PurchaseLine
from nundine.store.part import Part, PartNeed
from nundine.store.reading.kept_parts import RESERVES
from nundine.store.roster import Person
from nundine.store.site import Area, site
from nundine.store.week import Placement, Seat, Week
from nundine.store.work_order import Task, WorkOrder

MOST = 200
BOUND = ("published", "agreed")
"""States of weeks whose work is told to crews."""


@dataclass(frozen=True)
class ToPick:
    """A job of the day: how many parts are still to be handed out for it, how many of them are not there,
    and where they were set aside (empty: nowhere)."""

    order: str
    title: str
    asset: str
    parts: int
    short: int
    kit: str


@dataclass(frozen=True)
class ComingIn:
    """A line of an order that is due by today, or that a delivery note says was brought: how much is to be
    taken in by the note, how much is awaited in all."""

    purchase: str
    line: str
    supplier: str
    what: str
    unit: str
    to_come: float
    brought: float
    day: date | None
    storeroom: str | None
    order: str | None


@dataclass(frozen=True)
class ShortPart:
    """A part that a job of a published week lacks on its day: how much, from when it is there (None = nobody
    knows), and who should know."""

    order: str
    title: str
    week: str
    day: date
    part: str
    name: str
    lacks: float
    comes: date | None
    tell: list[str]


@dataclass(frozen=True)
class StorekeeperDay:
    """`picking_for`: the next day on which work stands; None where none does."""

    today: date
    picking_for: date | None
    to_pick: list[ToPick]
    to_put_back: list[KitToPutBack]
    coming_in: list[ComingIn]
    short: list[ShortPart]


def the_day() -> StorekeeperDay:
    """As it is today at the site."""
    today = settings().day(site().timezone)
    following = Placement.select(fn.MIN(Placement.day)).where(Placement.day > today).scalar()
    return StorekeeperDay(
        today,
        following,
        _to_pick(following) if following else [],
        to_put_back(),
        _coming_in(today),
        _short(today),
    )


def _first_days(since: date) -> Any:
    """By task the first day from then on which it stands, and its week."""
    rows = Placement.select(
        Placement.task, fn.MIN(Placement.day).alias("day"), fn.MIN(Placement.week).alias("week")
    )
    return rows.where(Placement.day >= since).group_by(Placement.task).alias("first")


def _to_pick(day: date) -> list[ToPick]:
    left = fn.ROUND(PartNeed.quantity - PartNeed.given, DIGITS)
    placed = Placement.select(Placement.task).where(Placement.day == day)
    rows: Any = (
        PartNeed.select(
            WorkOrder.number, WorkOrder.title, Asset.name, fn.COUNT(PartNeed.id),
            fn.SUM(is_short(left)), WorkOrder.kit,
        )
        .join(WorkOrder)
        .join(Asset)
        .join_from(PartNeed, Task, on=(Task.work_order == PartNeed.order) & (Task.number == PartNeed.task))
        .where(Task.id.in_(placed) & (left > 0))
        .group_by(WorkOrder.number, WorkOrder.title, Asset.name, WorkOrder.kit)
        .order_by(WorkOrder.number)
        .limit(MOST)
    )  # fmt: skip
    return [
        ToPick(n, title, asset, int(parts), int(short), kit)
        for n, title, asset, parts, short, kit in rows.tuples()
    ]


def _coming_in(today: date) -> list[ComingIn]:
    L = PurchaseLine
    brought = fn.GREATEST(0, fn.ROUND(L.noted - L.received, DIGITS))
    to_come = fn.GREATEST(0, fn.ROUND(L.quantity - L.received, DIGITS))
    rows = (
        L.select(L, Purchase, brought.alias("brought"), to_come.alias("to_come"))
        .join(Purchase)
        .where(
            (Purchase.state == "placed") & L.awaited & ((brought > 0) | ((to_come > 0) & (L.day <= today)))
        )
        .order_by(brought == 0, L.day, Purchase.number, L.id)
        .limit(MOST)
    )
    return [
        ComingIn(
            r.purchase.number, r.line, r.purchase.supplier, r.part.name if r.part_id else r.words,
            r.part.unit if r.part_id else "", float(r.to_come), float(r.brought), r.day,
            r.storeroom.name if r.storeroom_id else None, r.order.number if r.order_id else None,
        )
        for r in rows
    ]  # fmt: skip


def _short(today: date) -> list[ShortPart]:
    first = _first_days(today)
    left = fn.ROUND(PartNeed.quantity - PartNeed.given - PartNeed.reserved, DIGITS)
    rows: Any = (
        PartNeed.select(
            WorkOrder.number, WorkOrder.title, Week.name, first.c.day, Part.key, Part.name, left,
            PartNeed.day, Task.id, Area.key,
        )
        .join(Part)
        .join_from(PartNeed, WorkOrder)
        .join_from(WorkOrder, Asset)
        .join_from(Asset, Area)
        .join_from(PartNeed, Task, on=(Task.work_order == PartNeed.order) & (Task.number == PartNeed.task))
        .join_from(Task, first, on=first.c.task_id == Task.id)
        .join_from(PartNeed, Week, on=Week.id == first.c.week)
        .where(
            PartNeed.must
            & WorkOrder.state.in_(RESERVES)
            & Week.status.in_(BOUND)
            & (left > 0)
            & (PartNeed.day.is_null() | (PartNeed.day > first.c.day))
        )
        .order_by(first.c.day, WorkOrder.number, Part.key)
        .limit(MOST)
    )  # fmt: skip
    found = list(rows.tuples())
    crews = _crews({task for *_, task, _ in found})
    leads = _supervisors()
    return [
        ShortPart(
            number, title, week, day, part, name, float(lacks), comes,
            _told(crews[task], leads, area),
        )
        for number, title, week, day, part, name, lacks, comes, task, area in found
    ]  # fmt: skip


def _told(crew: list[str], leads: list[tuple[str, list[str] | None]], area: str) -> list[str]:
    """The crew of a job, and who supervises its area; each once."""
    of_area = [who for who, areas in leads if areas is None or area in areas]
    return list(dict.fromkeys([*crew, *of_area]))


def _crews(tasks: set[int]) -> dict[int, list[str]]:
    """By row of a task the names of those who have a seat at it."""
    rows: Any = Seat.select(Placement.task, Person.name).join(Placement).join_from(Seat, Person)
    out: dict[int, list[str]] = defaultdict(list)
    for task, name in rows.where(Placement.task.in_(list(tasks) or [0])).order_by(Seat.position).tuples():
        out[task].append(name)
    return out


def _supervisors() -> list[tuple[str, list[str] | None]]:
    """Supervisors who may sign in, with the areas that they look after; None = all."""
    rows: Any = AccountRole.select(Account.full_name, AccountRole.areas).join(Account)
    of_role = rows.join_from(AccountRole, Role).where((Role.name == "supervisor") & Account.active)
    return list(of_role.order_by(Account.full_name).tuples())
