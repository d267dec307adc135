"""What a job really used of parts, told at its end: what must be used is asked for, as planned unless
somebody says otherwise, and what was handed out beyond it goes back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from nundine.core.parts.stock import DIGITS
from nundine.services.access import REPORT, STOCK, may, require_in
from nundine.services.errors import Refused
from nundine.services.parts.picking import in_all, instead_from, lines_from, places_of
from nundine.services.parts.posting import Posting, post
from nundine.services.parts.use_lines import UseLine, planned
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.part import Movement, Part, Storeroom
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder

MOST = 500


@dataclass(frozen=True)
class Used:
    """How much of a part a task used in all."""

    order: str
    task: str
    part: str
    quantity: float


@dataclass(frozen=True)
class NotUsed:
    """A part whose use could not be posted, and why."""

    order: str
    task: str
    part: str
    why: str


@dataclass(frozen=True)
class UsesPosted:
    """How many were posted, or needed no posting, and the others."""

    count: int
    failed: list[NotUsed]


def post_used(account: Account, used: Sequence[Used]) -> UsesPosted:
    """Post what was used beyond what was handed out, from where it lies, and take back what was not. Raises
    Refused for none or too many, and NotAllowed for work of areas in which one neither keeps parts nor
    reports."""
    if not 1 <= len(used) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} parts are told at once.", field="used")
    if not may(account, STOCK):
        require_in(account, REPORT, _areas({u.order for u in used}))
    now = {(li.order, li.task, li.part): li for li in planned([(u.order, u.task) for u in used])}
    lying = places_of({p for li in now.values() for p in (li.part, li.instead) if p})
    lines: list[Posting] = []
    of_line: list[Used] = []
    failed: dict[Used, str] = {}
    for u in used:
        line = now.get((u.order, u.task, u.part))
        if line is None:
            failed[u] = f"Task {u.task} of {u.order} plans no {u.part}."
            continue
        mine = _lines(u, line, lying)
        lines += mine
        of_line += [u] * len(mine)
    if lines:
        failed |= {of_line[f.line]: f.why for f in post(account, lines).failed}
    told = [NotUsed(u.order, u.task, u.part, why) for u, why in failed.items()]
    return UsesPosted(len(used) - len(told), told)


def _areas(orders: set[str]) -> set[str | None]:
    rows = WorkOrder.select(Area.key).join(Asset).join(Area).where(WorkOrder.number.in_(sorted(orders)))
    return {area for (area,) in rows.tuples()}


def _lines(used: Used, line: UseLine, lying: dict[str, list[list[Any]]]) -> list[Posting]:
    """What was used beyond what its WO got, or what it got beyond what was used."""
    differs = round(used.quantity - line.given, DIGITS)
    if differs > 0:
        itself, other = lying[used.part], line.instead
        there = min(differs, in_all(itself)) if other else differs
        lines = lines_from(used.order, used.part, there, None, itself) if there else []
        rest = round(differs - there, DIGITS)
        if rest:
            lines += instead_from(used.order, used.part, other, rest, None, lying[other])
        return lines
    return _back(used, line, -differs)


def _back(used: Used, line: UseLine, quantity: float) -> list[Posting]:
    """To where the WO got the last of it from; first what does instead."""
    out = []
    for part, much in sorted(line.as_parts.items(), key=lambda of: of[0] == used.part):
        some = min(quantity, much)
        if some > 0:
            store, shelf, lot = _came_from(used.order, part)
            out.append(Posting("give-back", part, store, some, shelf, lot, order=used.order))
            quantity = round(quantity - some, DIGITS)
    return out


def _came_from(order: str, part: str) -> tuple[str, str, str]:
    """Storeroom, shelf and lot from which the WO got the last of a part."""
    came: Any = (
        Movement.select(Storeroom.key, Movement.shelf, Movement.lot)
        .join(Storeroom)
        .join_from(Movement, WorkOrder)
        .join_from(Movement, Part)
        .where((WorkOrder.number == order) & (Part.key == part) & (Movement.kind == "hand-out"))
        .order_by(Movement.id.desc())
    )
    place: tuple[str, str, str] | None = came.tuples().first()
    if place is None:  # it went straight to the WO: what is left lies where the first storeroom is
        return Storeroom.select(Storeroom.key).order_by(Storeroom.key).scalar() or "", "", ""
    return place
