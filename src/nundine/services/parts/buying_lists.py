"""What is to be bought, what is asked for and what is ordered, as lists."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date
from typing import Any

from peewee import JOIN, Case, fn

from nundine.core.lifecycle import BUY_STATES, PURCHASE_STATES
from nundine.core.parts.stock import DIGITS
from nundine.services.access import READ
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.buying import BuyLine, BuyRequest, Purchase, PurchaseLine
from nundine.store.part import Part, PartNeed, Storeroom
from nundine.store.reading.kept_parts import kept_of_parts
from nundine.store.work_order import WorkOrder

BETWEEN = " / "
"""Stands between the number of a request or an order and that of its line."""
OPEN_PURCHASES = ("written", "placed")
SHORT = ("bought", "unknown")
"""How needs come that neither lie there nor are on their way."""


def _coming() -> Any:
    """By part what stands in orders and is still to come, straight to WOs or not."""
    left = fn.SUM(fn.GREATEST(0, PurchaseLine.quantity - PurchaseLine.received))
    rows = PurchaseLine.select(PurchaseLine.part, left.alias("much")).join(Purchase)
    awaited = Purchase.state.in_(OPEN_PURCHASES) & PurchaseLine.awaited & PurchaseLine.part.is_null(False)
    return rows.where(awaited).group_by(PurchaseLine.part).alias("coming")


def _asked() -> Any:
    """By part what open requests ask for beyond what of them is ordered."""
    ordered = (
        PurchaseLine.select(
            PurchaseLine.request, PurchaseLine.request_line, fn.SUM(PurchaseLine.quantity).alias("much")
        )
        .join(Purchase)
        .where((Purchase.state != "cancelled") & PurchaseLine.request.is_null(False))
        .group_by(PurchaseLine.request, PurchaseLine.request_line)
        .alias("ordered")
    )
    left = fn.GREATEST(0, BuyLine.quantity - fn.COALESCE(ordered.c.much, 0))
    same = (ordered.c.request_id == BuyLine.request) & (ordered.c.request_line == BuyLine.line)
    return (
        BuyLine.select(BuyLine.part, fn.SUM(left).alias("much"))
        .join(BuyRequest)
        .join_from(BuyLine, ordered, JOIN.LEFT_OUTER, on=same)
        .where(
            BuyRequest.state.in_(("written", "asked", "approved"))
            & (BuyLine.settled == "")
            & BuyLine.part.is_null(False)
        )
        .group_by(BuyLine.part)
        .alias("asked")
    )


def _unmet() -> Any:
    """By part what WOs want that neither lies there nor is on its way, until when, and the WO first in
    turn."""
    rows = PartNeed.select(
        PartNeed.part,
        fn.SUM(PartNeed.quantity - PartNeed.given - PartNeed.reserved).alias("much"),
        fn.MIN(fn.DATE(WorkOrder.due)).alias("due"),
        fn.COUNT(WorkOrder.id.distinct()).alias("orders"),
    ).join(WorkOrder)
    wanted = PartNeed.how.in_(SHORT) & PartNeed.must & (PartNeed.given < PartNeed.quantity)
    return rows.where(wanted).group_by(PartNeed.part).alias("unmet")


@dataclass(frozen=True)
class Lacking:
    """A part that is to be bought: how much, and until when."""

    part: str
    quantity: float
    day: date | None


def lacking_of(parts: Collection[str]) -> list[Lacking]:
    """What the list of parts to buy says of these, of those alone that stand in it."""
    shown = _to_buy()
    picked = [shown.column(name).sql for name in ("part", "quantity", "due")]
    rows = shown.query.select(*picked).where(Part.key.in_(sorted(parts) or [""])).order_by(Part.key)
    return [Lacking(part, float(much), due) for part, much, due in rows.tuples()]


@listing("to buy", "Parts to buy", READ)
def to_buy(_: Around) -> Listing:
    return _to_buy()


def _to_buy() -> Listing:
    """Parts that WOs lack, or of which less is free than their minimum, and is neither ordered nor asked
    for."""
    P = Part
    coming, asked, unmet, kept = _coming(), _asked(), _unmet(), kept_of_parts()

    def much(of: Any) -> Any:
        return fn.COALESCE(of.c.much, 0)

    free = fn.ROUND(fn.GREATEST(0, P.on_hand - much(kept)), DIGITS)
    under_way = fn.ROUND(much(coming) + much(asked), DIGITS)
    lacking = much(unmet) + fn.GREATEST(0, P.minimum - free) - under_way
    at_once = fn.ROUND(fn.GREATEST(lacking, fn.COALESCE(P.reorder, 0)), DIGITS)
    price = Case(None, [(P.valued == "standard", P.price)], fn.COALESCE(P.price, P.average))
    why = Case(None, [(much(unmet) > 0, "work waits")], "below minimum")
    columns = (
        Column("part", "Part", "text", P.key, find=True, width=110, weight=1),
        Column("name", "Name", "text", P.name, find=True, width=230, weight=1),
        Column("quantity", "To buy", "number", at_once, width=80, weight=1),
        Column("unit", "Unit", "text", P.unit, width=60, weight=3),
        Column("why", "Why", "choice", why, group=True, width=120, weight=1,
               choices=words("work waits", "below minimum")),
        Column("orders", "WOs waiting", "number", fn.COALESCE(unmet.c.orders, 0), width=90, weight=2),
        Column("due", "First due", "day", unmet.c.due, width=100, weight=1),
        Column("free", "Free", "number", free, width=70, weight=2),
        Column("minimum", "Minimum", "number", P.minimum, width=80, weight=3),
        Column("coming", "Ordered or asked", "number", under_way, width=90, weight=2),
        Column("lead_days", "Lead time", "number", P.lead_days, width=80, weight=3),
        Column("price", "Price", "money", price, width=80, weight=3),
        Column("value", "Amount", "money", fn.ROUND(fn.COALESCE(price, 0) * at_once, 2), total=True,
               width=90, weight=2),
        Column("maker", "Maker", "text", P.maker, find=True, group=True, width=130, weight=4),
        Column("group", "Group", "text", P.group, find=True, group=True, width=130, shown=False),
    )  # fmt: skip
    query = (
        P.select()
        .join(coming, JOIN.LEFT_OUTER, on=coming.c.part_id == P.id)
        .join_from(P, asked, JOIN.LEFT_OUTER, on=asked.c.part_id == P.id)
        .join_from(P, unmet, JOIN.LEFT_OUTER, on=unmet.c.part_id == P.id)
        .join_from(P, kept, JOIN.LEFT_OUTER, on=kept.c.part_id == P.id)
        .where((lacking > 0) & P.tracked & P.lead_days.is_null(False))
    )
    return Listing(columns, query, P.id, "part", {}, (Sort("why", down=True), Sort("due")), dear=True)


def _wanted(T: Any) -> tuple[Column, ...]:
    """What lines of requests and of orders say alike."""
    return (
        Column("part", "Part", "text", fn.COALESCE(Part.key, ""), find=True, group=True, width=100, weight=1),
        Column("name", "What", "text", fn.COALESCE(Part.name, T.words), find=True, width=220, weight=1),
        Column("quantity", "Quantity", "number", T.quantity, width=80, weight=1),
        Column("unit", "Unit", "text", fn.COALESCE(Part.unit, ""), width=56, weight=4),
        Column("price", "Price", "money", T.price, width=76, weight=3),
        Column("value", "Amount", "money", fn.ROUND(fn.COALESCE(T.price, 0) * T.quantity, 2), total=True,
               width=90, weight=2),
        Column("goes", "Goes to", "text", fn.COALESCE(WorkOrder.number, Storeroom.name, ""), find=True,
               group=True, width=120, weight=2),
    )  # fmt: skip


def _joined(T: Any, owner: Any) -> Any:
    return (
        T.select()
        .join(owner)
        .join_from(T, Part, JOIN.LEFT_OUTER)
        .join_from(T, Storeroom, JOIN.LEFT_OUTER)
        .join_from(T, WorkOrder, JOIN.LEFT_OUTER)
    )


@listing("buy lines", "Requests to buy", READ)
def buy_lines(_: Around) -> Listing:
    """Lines of requests to buy, with how much of each is ordered."""
    L, R = BuyLine, BuyRequest
    of_line = (PurchaseLine.request == L.request) & (PurchaseLine.request_line == L.line)
    ordered = fn.COALESCE(
        PurchaseLine.select(fn.SUM(PurchaseLine.quantity))
        .join(Purchase)
        .where(of_line & (Purchase.state != "cancelled")),
        0,
    )
    left = Case(None, [(L.settled != "", 0)], fn.GREATEST(0, fn.ROUND(L.quantity - ordered, DIGITS)))
    columns = (
        Column("key", "Line", "text", fn.CONCAT(R.number, BETWEEN, L.line), shown=False),
        Column("number", "Request", "text", R.number, find=True, group=True, width=92, weight=1),
        Column("state", "State", "choice", R.state, group=True, width=100, weight=1,
               choices=words(*BUY_STATES)),
        *_wanted(L),
        Column("left", "To order", "number", left, width=80, weight=1),
        Column("day", "Wanted by", "day", L.day, width=100, weight=2),
        Column("settled", "Dealt with", "text", L.settled, find=True, width=130, weight=4),
        Column("by", "By", "text", R.by, find=True, group=True, width=120, weight=3),
        Column("made", "Made", "moment", R.made, width=140, weight=4),
        Column("decided", "Decided by", "text", R.decided, find=True, group=True, width=120, shown=False),
    )  # fmt: skip
    return Listing(columns, _joined(L, R), L.id, "key", {}, (Sort("made", down=True),))


@listing("purchase lines", "Orders of parts", READ)
def purchase_lines(around: Around) -> Listing:
    """Lines of orders, with what came of each."""
    L, O = PurchaseLine, Purchase  # noqa: E741
    to_come = Case(None, [(~L.awaited, 0)], fn.GREATEST(0, fn.ROUND(L.quantity - L.received, DIGITS)))
    late = Case(None, [((O.state == "placed") & (to_come > 0) & (L.day < around.today), 1)], 0)
    brought = fn.GREATEST(0, fn.ROUND(L.noted - L.received, DIGITS))
    columns = (
        Column("key", "Line", "text", fn.CONCAT(O.number, BETWEEN, L.line), shown=False),
        Column("number", "Order", "text", O.number, find=True, group=True, width=92, weight=1),
        Column("supplier", "Supplier", "text", O.supplier, find=True, group=True, width=150, weight=2),
        Column("state", "State", "choice", O.state, group=True, width=100, weight=1,
               choices=words(*PURCHASE_STATES)),
        *_wanted(L),
        Column("to_come", "To come", "number", to_come, width=80, weight=1),
        Column("day", "Comes", "day", L.day, width=96, weight=1),
        Column("confirmed", "Confirmed", "yes", L.confirmed, group=True, width=84, weight=3),
        Column("late", "Late", "yes", late, group=True, width=70, weight=2),
        Column("brought", "To take in", "number", brought, width=84, weight=2,
               hint="What a delivery note says was brought, and nobody took in yet"),
        Column("received", "Received", "number", L.received, width=80, weight=3),
        Column("placed", "Placed", "day", O.placed, width=96, weight=4),
        Column("by", "By", "text", O.by, find=True, group=True, width=120, shown=False),
    )  # fmt: skip
    return Listing(columns, _joined(L, O), L.id, "key", {}, (Sort("number", down=True),))
