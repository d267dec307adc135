"""Kits: the parts of a WO set aside in one place for its crew, until they are handed out or put back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from peewee import JOIN, Case, fn

from nundine.core.lifecycle import OPEN_STATES
from nundine.core.parts.stock import DIGITS
from nundine.services.access import READ
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.parts.picking import Handed, hand_out, is_short
from nundine.services.parts.posting import STREAM
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.part import Part, PartNeed
from nundine.store.site import Area
from nundine.store.week import Placement, Week
from nundine.store.work_order import Task, WorkOrder

MOST, LONGEST = 500, 60
"""WOs at once; characters of a place."""
STAGED, HANDED_OUT, TO_PUT_BACK = "staged", "handed out", "to put back"
KIT_STATES = (STAGED, TO_PUT_BACK, HANDED_OUT)
"""A kit is to be put back when its WO stands in no open week any more, or is over."""


def set_aside(account: Account, orders: Sequence[str], place: str) -> int:
    """The parts of these WOs were set aside in a place. Gives for how many that is new.

    Raises
    ------
    NotFound
        For a WO that there is not.
    Refused
        With the field: no place, a WO that waits for no part to be handed out.
    """
    place = place.strip()
    if not 1 <= len(place) <= LONGEST:
        raise Refused(
            "place", f"Write where they are set aside, in up to {LONGEST} characters.", field="place"
        )
    with db.atomic():
        _need_orders(orders)
        waiting = _waiting(orders)
        idle = next((n for n in orders if n not in waiting), None)
        if idle is not None:
            raise Refused("parts", f"No part of {idle} waits to be handed out.", field="orders", job=idle)
        return _write(account, orders, place, f"set aside in {place}")


def put_back(account: Account, orders: Sequence[str]) -> int:
    """The parts of these WOs lie in their places again. Gives how many kits were put back. Raises as
    `set_aside`."""
    with db.atomic():
        _need_orders(orders)
        return _write(account, orders, "", "put back")


def hand_out_kits(account: Account, orders: Sequence[str]) -> Handed:
    """Hand out all that is left of the parts of these WOs. Raises as `set_aside`."""
    _need_orders(orders)
    found = _waiting(orders)
    picked = [key for number in dict.fromkeys(orders) for key in found.get(number, ())]
    return hand_out(account, picked) if picked else Handed(0, [])


def _need_orders(orders: Sequence[str]) -> None:
    if not 1 <= len(orders) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} WOs at once.", field="orders")
    rows = WorkOrder.select(WorkOrder.number).where(WorkOrder.number.in_(list(orders)))
    there = {n for (n,) in rows.tuples()}
    missing = next((n for n in orders if n not in there), None)
    if missing is not None:
        raise NotFound("work order", f"There is no WO {missing[:40]}.")


def _waiting(orders: Sequence[str]) -> dict[str, list[tuple[str, str, str]]]:
    """By WO its needs (WO, task, part) of which something is to be handed out."""
    rows = (
        PartNeed.select(WorkOrder.number, PartNeed.task, Part.key)
        .join(WorkOrder)
        .join_from(PartNeed, Part)
        .where(WorkOrder.number.in_(list(orders)) & (PartNeed.given < PartNeed.quantity))
    )
    out: dict[str, list[tuple[str, str, str]]] = {}
    for key in rows.tuples():
        out.setdefault(key[0], []).append(key)
    return out


def _write(account: Account, orders: Sequence[str], place: str, what: str) -> int:
    changes = changes_to("work order", {(n,): {"kit": place} for n in dict.fromkeys(orders)})
    if changes:
        of = changes[0].key[0] if len(changes) == 1 else f"{len(changes)} WOs"
        write(STREAM, account, Edit("kit", f"Parts of {of} {what}", changes), checked=True)
    return len(changes)


@dataclass(frozen=True)
class _Standing:
    """WOs with a kit, and of each as SQL how many needs are left, how many of them are short, the first day
    on which it stands in an open week, and the state of its kit."""

    query: Any
    parts: Any
    short: Any
    day: Any
    state: Any


def _standing() -> _Standing:
    """Those that were handed out as long as their work is not over."""
    left = fn.ROUND(PartNeed.quantity - PartNeed.given, DIGITS)
    needs = (
        PartNeed.select(
            PartNeed.order.alias("order"),
            fn.COUNT(PartNeed.id).alias("parts"),
            fn.SUM(is_short(left)).cast("signed").alias("short"),
        )
        .where(left > 0)
        .group_by(PartNeed.order)
        .alias("waiting")
    )
    placed = (
        Placement.select(Task.work_order.alias("order"), fn.MIN(Placement.day).alias("day"))
        .join(Task)
        .join_from(Placement, Week)
        .where((Week.status != "closed") & (Task.state != "done"))
        .group_by(Task.work_order)
        .alias("placed")
    )
    is_open = WorkOrder.state.in_(OPEN_STATES)
    state = Case(
        None,
        [(needs.c.parts.is_null(), HANDED_OUT), (placed.c.day.is_null() | ~is_open, TO_PUT_BACK)],
        STAGED,
    )
    query = (
        WorkOrder.select()
        .join(Asset)
        .join_from(Asset, Area)
        .join_from(WorkOrder, needs, JOIN.LEFT_OUTER, on=WorkOrder.id == needs.c.order)
        .join_from(WorkOrder, placed, JOIN.LEFT_OUTER, on=WorkOrder.id == placed.c.order)
        .where((WorkOrder.kit != "") & (is_open | needs.c.parts.is_null(False)))
    )
    return _Standing(query, fn.COALESCE(needs.c.parts, 0), fn.COALESCE(needs.c.short, 0), placed.c.day, state)


@listing("kits", "Kits", READ)
def kits(around: Around) -> Listing:
    """WOs whose parts are set aside."""
    at = _standing()
    columns = (
        Column("order", "WO", "text", WorkOrder.number, find=True, width=92, weight=1),
        Column("title", "Work", "text", WorkOrder.title, find=True, width=230, weight=1),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=190, weight=3),
        Column("area", "Area", "choice", Area.key, group=True, width=96, weight=4, choices=areas),
        Column("day", "For", "day", at.day, group=True, width=96, weight=1),
        Column("kit", "Lies in", "text", WorkOrder.kit, find=True, group=True, width=140, weight=1),
        Column("state", "State", "choice", at.state, group=True, width=110, weight=1,
               choices=words(*KIT_STATES)),
        Column("parts", "Parts", "number", at.parts, width=70, weight=2, hint="to be handed out"),
        Column("short", "Short", "number", at.short, width=70, weight=3),
    )  # fmt: skip
    return Listing(columns, at.query, WorkOrder.id, "order", {}, (Sort("day"),))


@dataclass(frozen=True)
class KitToPutBack:
    """A kit whose WO stands in no open week any more, or is over: where it lies, how many parts of it."""

    order: str
    title: str
    kit: str
    parts: int


def to_put_back() -> list[KitToPutBack]:
    """By their WOs' numbers."""
    at = _standing()
    chosen = at.query.select(WorkOrder.number, WorkOrder.title, WorkOrder.kit, at.parts)
    rows = chosen.where(at.state == TO_PUT_BACK).order_by(WorkOrder.number)
    return [KitToPutBack(*row) for row in rows.limit(MOST).tuples()]
