"""What a job really used of parts, told at its end: what must be used is asked for, as planned unless
somebody says otherwise, and what was handed out beyond it goes back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from nundine.core.parts.stock import DIGITS
from nundine.services.access import REPORT, STOCK, may, require_in
from nundine.services.derived_parts import given_to
from nundine.services.errors import Refused
from nundine.services.parts.picking import lines_from, places_of
from nundine.services.parts.posting import Posting, post
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.part import Movement, Part, Storeroom
from nundine.store.site import Area
from nundine.store.work_order import Task, WorkOrder

MOST = 500
TaskKey = tuple[str, str]


@dataclass(frozen=True)
class UseLine:
    """A part that a task plans: how much, how much its WO got of it so far, and whether it is asked for."""

    order: str
    title: str
    task: str
    part: str
    name: str
    unit: str
    planned: float
    given: float
    must: bool


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


def planned(tasks: Sequence[TaskKey]) -> list[UseLine]:
    """What these tasks plan of parts whose movements are kept, in their order. What their WO got is counted
    to its tasks in turn, and to the last of them what is more than they plan."""
    wanted = set(tasks)
    rows: Any = (
        Task.select(WorkOrder.number, WorkOrder.title, WorkOrder.id, Task.number, Task.parts)
        .join(WorkOrder)
        .where(WorkOrder.number.in_(sorted({order for order, _ in tasks}) or [""]))
        .order_by(WorkOrder.number, Task.id)
    )
    said = [(*head, need) for *head, needs in rows.tuples() for need in needs if need[0]]
    keys = sorted({need[0] for *_, need in said})
    known = {p.key: p for p in Part.select().where(Part.key.in_(keys or [""]) & Part.tracked)}
    got = given_to({row for _, _, row, _, _ in said}, {p.id for p in known.values()})
    last = {(row, need[0]): n for n, (_, _, row, _, need) in enumerate(said)}
    out = []
    for n, (order, title, row, task, (key, _, quantity, _, must)) in enumerate(said):
        part = known.get(key)
        if part is None:
            continue
        mine = got[(row, part.id)]
        if n != last[(row, key)]:
            mine = min(quantity, mine)
        got[(row, part.id)] = round(got[(row, part.id)] - mine, DIGITS)
        if (order, task) in wanted:
            out.append(UseLine(order, title, task, key, part.name, part.unit, quantity, mine, must))
    return out


def post_used(account: Account, used: Sequence[Used]) -> UsesPosted:
    """Post what was used beyond what was handed out, from where it lies, and take back what was not. Raises
    Refused for none or too many, and NotAllowed for work of areas in which one neither keeps parts nor
    reports."""
    if not 1 <= len(used) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} parts are told at once.", field="used")
    if not may(account, STOCK):
        require_in(account, REPORT, _areas({u.order for u in used}))
    now = {(li.order, li.task, li.part): li for li in planned([(u.order, u.task) for u in used])}
    lying = places_of({u.part for u in used})
    lines: list[Posting] = []
    of_line: list[Used] = []
    failed: dict[Used, str] = {}
    for u in used:
        line = now.get((u.order, u.task, u.part))
        if line is None:
            failed[u] = f"Task {u.task} of {u.order} plans no {u.part}."
            continue
        differs = round(u.quantity - line.given, DIGITS)
        mine: list[Posting] = []
        if differs > 0:
            mine = lines_from(u.order, u.part, differs, None, lying[u.part])
        elif differs < 0:
            mine = [_back(u, -differs)]
        lines += mine
        of_line += [u] * len(mine)
    if lines:
        failed |= {of_line[f.line]: f.why for f in post(account, lines).failed}
    told = [NotUsed(u.order, u.task, u.part, why) for u, why in failed.items()]
    return UsesPosted(len(used) - len(told), told)


def _areas(orders: set[str]) -> set[str | None]:
    rows = WorkOrder.select(Area.key).join(Asset).join(Area).where(WorkOrder.number.in_(sorted(orders)))
    return {area for (area,) in rows.tuples()}


def _back(used: Used, quantity: float) -> Posting:
    """To where the WO got the last of it from."""
    came: Any = (
        Movement.select(Storeroom.key, Movement.shelf, Movement.lot)
        .join(Storeroom)
        .join_from(Movement, WorkOrder)
        .join_from(Movement, Part)
        .where((WorkOrder.number == used.order) & (Part.key == used.part) & (Movement.kind == "hand-out"))
        .order_by(Movement.id.desc())
    )
    place = came.tuples().first()
    if place is None:  # it went straight to the WO: what is left lies where the first storeroom is
        place = (Storeroom.select(Storeroom.key).order_by(Storeroom.key).scalar() or "", "", "")
    store, shelf, lot = place
    return Posting("give-back", used.part, store, quantity, shelf, lot, order=used.order)
