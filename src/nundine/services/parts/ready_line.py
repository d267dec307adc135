"""From which day the parts of a WO are there, and why: what lies there, who takes of it before, what comes
and when; and what would change if the WO came before all others, tried without saving."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from nundine.core.parts.ready import Need, Supply, There, allocate
from nundine.core.parts.stock import DIGITS
from nundine.services.derived_parts import NeedRow, in_turn, parts_of
from nundine.services.errors import NotFound
from nundine.store.part import Part
from nundine.store.work_order import WorkOrder

MOST_AHEAD = 8


@dataclass(frozen=True)
class Taker:
    """A WO that takes of a part before: how much it still gets, and from which day it has it (None: nobody
    knows)."""

    order: str
    title: str
    quantity: float
    day: date | None


@dataclass(frozen=True)
class Coming:
    """What is on its way of a part: the day, how much, with which order, and the WO to which it goes
    straight."""

    day: date
    quantity: float
    purchase: str
    straight: bool


@dataclass(frozen=True)
class PartReady:
    """A part that a WO needs: how much is still to be handed out, what lies there, who is before it, what
    comes, when it is there and how; `name` is the order or the alternate by which."""

    part: str
    title: str
    unit: str
    wanted: float
    on_hand: float
    reserved: float
    day: date | None
    how: str
    name: str
    lead_days: int | None
    must: bool
    ahead: list[Taker]
    coming: list[Coming]


@dataclass(frozen=True)
class Shifted:
    """A WO whose parts would be there on another day."""

    order: str
    title: str
    was: date | None
    becomes: date | None


@dataclass(frozen=True)
class ReadyLine:
    """`ready`: the day on which all that must be used is there; None: `known` says whether nobody knows.
    `first`: the same if the WO came before all others, and `shifted` whose parts would come later then."""

    order: str
    today: date
    ready: date | None
    known: bool
    parts: list[PartReady]
    first: date | None
    first_known: bool
    shifted: list[Shifted]


def ready_line(number: str) -> ReadyLine:
    """Raises NotFound."""
    if not WorkOrder.select().where(WorkOrder.number == number).exists():
        raise NotFound("work order", f"There is no WO {number[:40]}.")
    rows, supplies, today = in_turn(parts_of({number}))
    needs = {r.id: r.need() for r in rows}
    now = allocate(supplies, list(needs.values()), today)
    turned = allocate(supplies, _first(rows, needs, number), today)
    titles = _titles({r.order for r in rows})
    mine = [r for r in rows if r.order == number and needs[r.id].quantity > 0]
    named = {p.key: p for p in Part.select().where(Part.key.in_({r.part for r in mine} or {""}))}
    known, ready = _all_there(mine, now, today)
    first_known, first = _all_there(mine, turned, today)
    return ReadyLine(
        number, today, ready, known,
        [_part(r, rows, needs, now, supplies[r.part], titles, named[r.part]) for r in mine],
        first, first_known, _shifted(rows, number, now, turned, titles),
    )  # fmt: skip


def _first(rows: list[NeedRow], needs: dict[str, Need], number: str) -> list[Need]:
    """All needs, those of one WO before the others, as if all that they want were kept for them."""
    mine = [replace(needs[r.id], held=needs[r.id].quantity, reserves=True) for r in rows if r.order == number]
    return [*mine, *(needs[r.id] for r in rows if r.order != number)]


def _all_there(mine: list[NeedRow], found: dict[str, There], today: date) -> tuple[bool, date | None]:
    days = [found[r.id].day for r in mine if r.stored["must"]]
    known = [d for d in days if d is not None]
    return len(known) == len(days), max(known, default=today) if len(known) == len(days) else None


def _part(
    row: NeedRow,
    rows: list[NeedRow],
    needs: dict[str, Need],
    found: dict[str, There],
    supply: Supply,
    titles: dict[str, str],
    part: Part,
) -> PartReady:
    turn = (not row.reserves, rows.index(row))  # those for which stock is kept come first
    others = [r for r in rows if r.part == row.part and r.order != row.order]
    before = [r for r in others if (not r.reserves, rows.index(r)) < turn]
    ahead = [
        Taker(r.order, titles[r.order], needs[r.id].quantity, found[r.id].day)
        for r in before
        if needs[r.id].quantity > 0
    ]
    coming = [Coming(day, much, name, False) for day, much, name in supply.receipts]
    coming += [Coming(day, much, name, True) for day, much, name in row.straight]
    there = found[row.id]
    return PartReady(
        row.part, part.name, part.unit, needs[row.id].quantity,
        round(sum(supply.stock.values()), DIGITS), there.reserved, there.day, there.how, there.name,
        supply.lead_days, row.stored["must"], ahead[:MOST_AHEAD], sorted(coming, key=lambda c: c.day),
    )  # fmt: skip


def _shifted(
    rows: list[NeedRow],
    number: str,
    now: dict[str, There],
    turned: dict[str, There],
    titles: dict[str, str],
) -> list[Shifted]:
    """Each WO once, with the part that is worst for it."""
    out: dict[str, Shifted] = {}
    for r in rows:
        was, becomes = now[r.id].day, turned[r.id].day
        if r.order != number and was != becomes and r.order not in out:
            out[r.order] = Shifted(r.order, titles[r.order], was, becomes)
    return list(out.values())


def _titles(orders: set[str]) -> dict[str, str]:
    rows = WorkOrder.select(WorkOrder.number, WorkOrder.title)
    return dict(rows.where(WorkOrder.number.in_(sorted(orders) or [""])).tuples())
