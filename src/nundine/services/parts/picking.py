"""The storekeeper's day: parts of work that stands in a week, by the day for which they are wanted; and
handing them out, whole kits at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import Any

from peewee import JOIN, SQL, Case, NodeList, fn

from nundine.core.parts.stock import DIGITS
from nundine.services.access import READ
from nundine.services.errors import Refused
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.parts.posting import Posting, post
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.part import Part, PartNeed, Stock, Storeroom
from nundine.store.site import Area
from nundine.store.week import Placement
from nundine.store.work_order import Task, WorkOrder

BETWEEN = " / "
"""Stands between the number of a WO, that of its task, and the part."""
MOST = 500
MET_BY_ALTERNATE = PartNeed.how == "alternate"


@listing("picking", "Parts to pick", READ)
def picking(around: Around) -> Listing:
    """What tasks of the week need that was not handed out yet."""
    N = PartNeed
    last = around.monday + timedelta(days=6)
    first = (
        Placement.select(Placement.task, fn.MIN(Placement.day).alias("day"))
        .where(Placement.day.between(around.monday, last))
        .group_by(Placement.task)
        .alias("first")
    )
    left = fn.ROUND(N.quantity - N.given, DIGITS)
    instead = Case(None, [(MET_BY_ALTERNATE, N.name)], "")
    columns = (
        Column("key", "Need", "text", fn.CONCAT(WorkOrder.number, BETWEEN, N.task, BETWEEN, Part.key),
               shown=False),
        Column("day", "For", "day", first.c.day, group=True, width=96, weight=1),
        Column("order", "WO", "text", WorkOrder.number, find=True, group=True, width=92, weight=1),
        Column("title", "Work", "text", WorkOrder.title, find=True, width=190, weight=3),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=170, weight=4),
        Column("area", "Area", "choice", Area.key, group=True, width=96, weight=4, choices=areas),
        Column("part", "Part", "text", Part.key, find=True, group=True, width=96, weight=1),
        Column("name", "Name", "text", Part.name, find=True, width=150, weight=2),
        Column("quantity", "Quantity", "number", left, width=80, weight=1),
        Column("unit", "Unit", "text", Part.unit, width=56, weight=3),
        Column("reserved", "Reserved", "number", N.reserved, width=80, weight=2),
        Column("instead", "Take instead", "text", instead, find=True, group=True, width=104, weight=2,
               hint="what does instead of what is not reserved"),
        Column("short", "Short", "yes", is_short(left), group=True, width=70, weight=1),
        Column("kit", "Set aside in", "text", WorkOrder.kit, find=True, group=True, width=104, weight=1),
        Column("lies", "Lies in", "text", fn.COALESCE(_places(), ""), find=True, group=True, width=150,
               weight=1),
    )  # fmt: skip
    of_task = (Task.work_order == N.order) & (Task.number == N.task)
    query = (
        N.select()
        .join(Part)
        .join_from(N, WorkOrder)
        .join_from(WorkOrder, Asset)
        .join_from(Asset, Area)
        .join_from(N, Task, JOIN.INNER, on=of_task)
        .join_from(Task, first, JOIN.INNER, on=(first.c.task_id == Task.id))
        .where(N.given < N.quantity)
    )
    return Listing(columns, query, N.id, "key", {}, (Sort("day"),))


def is_short(left: Any) -> Any:
    """As SQL 1 or 0: whether of a need, of which so much is to be handed out, some is neither reserved nor
    met by what does instead."""
    return Case(None, [((PartNeed.reserved < left) & ~MET_BY_ALTERNATE, 1)], 0)


def _places() -> Any:
    """Where the part of a need lies, or what does instead of it, one place after another."""
    lying: Any = Part.alias("lying")
    place = fn.TRIM(fn.CONCAT(Storeroom.key, " ", Stock.shelf))
    of_it = (lying.id == PartNeed.part) & (~MET_BY_ALTERNATE | (PartNeed.reserved > 0))
    does = MET_BY_ALTERNATE & (lying.key == PartNeed.name)
    named = Case(None, [(does, fn.CONCAT(place, " (", lying.key, ")"))], place)
    rows: Any = (
        Stock.select(fn.GROUP_CONCAT(NodeList((named, SQL("SEPARATOR ', '")))))
        .join(Storeroom)
        .join_from(Stock, lying)
    )
    return rows.where(of_it | does)


@dataclass(frozen=True)
class NotHanded:
    """A part of a WO that was not handed out, and why."""

    order: str
    part: str
    why: str


@dataclass(frozen=True)
class Handed:
    """How many needs were handed out in whole, and the others."""

    count: int
    failed: list[NotHanded]


def hand_out(account: Account, picked: Sequence[tuple[str, str, str]]) -> Handed:
    """Hand out what is left of needs, given by WO, task and part, from where it lies. Raises Refused for none
    or too many."""
    if not 1 <= len(picked) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} needs are handed out at once.", field="picked")
    needs = _needs(picked)
    stock = places_of({n.part.key for n in needs.values()} | {n.name for n in needs.values() if _other(n)})
    lines: list[Posting] = []
    of_line: list[tuple[str, str, str]] = []
    for key, need in needs.items():
        mine = _lines(need, stock)
        lines += mine
        of_line += [key] * len(mine)
    failed = {key: "Nothing is left to hand out of it." for key in picked if key not in needs}
    if lines:
        failed |= {of_line[f.line]: f.why for f in post(account, lines).failed}
    told = [NotHanded(order, part, why) for (order, _, part), why in failed.items()]
    return Handed(len(set(picked)) - len(failed), told)


def _needs(picked: Sequence[tuple[str, str, str]]) -> dict[tuple[str, str, str], PartNeed]:
    """Those of which something is left."""
    rows = (
        PartNeed.select(PartNeed, Part, WorkOrder, Storeroom)
        .join(Part)
        .switch(PartNeed)
        .join(WorkOrder)
        .switch(PartNeed)
        .join(Storeroom, JOIN.LEFT_OUTER)
        .where(WorkOrder.number.in_(sorted({p[0] for p in picked})) & (PartNeed.given < PartNeed.quantity))
    )
    found = {(n.order.number, n.task, n.part.key): n for n in rows}
    return {key: found[key] for key in dict.fromkeys(picked) if key in found}


def places_of(parts: set[str]) -> dict[str, list[list[Any]]]:
    """By part its places, those with the most first: storeroom, shelf, lot, how many. What is taken from them
    is written down in these lists."""
    out: dict[str, list[list[Any]]] = {part: [] for part in parts}
    rows: Any = Stock.select(Part.key, Storeroom.key, Stock.shelf, Stock.lot, Stock.on_hand)
    joined = rows.join(Storeroom).join_from(Stock, Part)
    chosen = joined.where(Part.key.in_(sorted(parts) or [""])).order_by(Stock.on_hand.desc())
    for part, *place in chosen.tuples():
        out[part].append(place)
    return out


def _other(need: PartNeed) -> str:
    """What does instead of the part of a need; empty: the part itself is handed out."""
    return str(need.name) if need.how == "alternate" else ""


def _lines(need: PartNeed, stock: dict[str, list[list[Any]]]) -> list[Posting]:
    """What is reserved, and of what does instead the rest."""
    own = need.storeroom.key if need.storeroom_id else None
    order, part, other = need.order.number, need.part.key, _other(need)
    left = round(need.quantity - need.given, DIGITS)
    itself = min(left, need.reserved) if other else left
    rest = round(left - itself, DIGITS)
    lines = lines_from(order, part, itself, own, stock[part]) if itself else []
    return [*lines, *(instead_from(order, part, other, rest, own, stock[other]) if rest else ())]


def instead_from(
    order: str, part: str, other: str, left: float, own: str | None, places: list[list[Any]]
) -> list[Posting]:
    """Hand-outs of what does instead of a part, which say so."""
    lines = lines_from(order, other, left, own, places)
    return [replace(line, reason=f"Instead of {part}.") for line in lines]


def in_all(places: list[list[Any]]) -> float:
    """How much lies in places as `places_of` gives them."""
    return round(sum(p[3] for p in places), DIGITS)


def lines_from(order: str, part: str, left: float, own: str | None, places: list[list[Any]]) -> list[Posting]:
    """Hand-outs to a WO, from its own storeroom first. Where too few lie anywhere, all are asked of one
    place, which says so: no need is handed out by half."""
    if in_all(places) < left:
        store, shelf, lot = places[0][:3] if places else (own or "", "", "")
        return [Posting("hand-out", part, store, left, shelf, lot, order=order)]
    out: list[Posting] = []
    for place in sorted(places, key=lambda p: p[0] != own):
        some = min(left, place[3])
        if some > 0:
            out.append(Posting("hand-out", part, place[0], some, place[1], place[2], order=order))
            place[3] = round(place[3] - some, DIGITS)
            left = round(left - some, DIGITS)
    return out
