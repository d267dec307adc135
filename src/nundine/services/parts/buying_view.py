"""A request to buy and an order, with all that is known of their lines."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from peewee import JOIN, fn

from nundine.core.parts.buying import AskedLine, OrderedLine, amount
from nundine.services.admin.approvals import limit_of
from nundine.services.derived_buying import ordered_of
from nundine.services.lifecycles import Offer, offers
from nundine.services.parts import asking, ordering
from nundine.store.account import Account
from nundine.store.buying import BuyLine, BuyRequest, Purchase, PurchaseLine
from nundine.store.part import Part, Storeroom
from nundine.store.work_order import WorkOrder


@dataclass(frozen=True)
class WantedDocument:
    """What a line wants; `name`: of its part, or its words."""

    line: str
    part: str | None
    name: str
    unit: str
    quantity: float
    price: float | None
    storeroom: str | None
    order: str | None
    day: date | None


@dataclass(frozen=True)
class OrderedIn:
    """An order that has a line, and how much of it."""

    purchase: str
    state: str
    quantity: float


@dataclass(frozen=True)
class BuyLineDocument(WantedDocument):
    """`left`: still to be ordered; `settled`: how it was dealt with otherwise."""

    left: float
    settled: str
    orders: list[OrderedIn]


@dataclass(frozen=True)
class BuyRequestDocument:
    """`amount`: what it comes to, None where a line has no price; `limit`: what whoever looks may approve."""

    number: str
    state: str
    made: datetime
    by: str
    decided: str
    remark: str
    revision: int
    amount: float | None
    limit: float | None
    moves: list[Offer]
    lines: list[BuyLineDocument]


@dataclass(frozen=True)
class PurchaseLineDocument(WantedDocument):
    """`request`: the line of a request that it is of, as "RB-1001 / 10"; `to_come`: still awaited."""

    request: str | None
    confirmed: bool
    noted: float
    received: float
    awaited: bool
    to_come: float


@dataclass(frozen=True)
class PurchaseDocument:
    number: str
    supplier: str
    state: str
    made: datetime
    placed: date | None
    by: str
    remark: str
    revision: int
    amount: float | None
    moves: list[Offer]
    lines: list[PurchaseLineDocument]


@dataclass(frozen=True)
class WrittenPurchase:
    """An order that is being written, and how many lines it has."""

    number: str
    supplier: str
    lines: int


def written() -> list[WrittenPurchase]:
    """The newest first."""
    rows: Any = Purchase.select(Purchase.number, Purchase.supplier, fn.COUNT(PurchaseLine.id))
    of_state = rows.left_outer_join(PurchaseLine).where(Purchase.state == "written")
    newest = (
        of_state.group_by(Purchase.id, Purchase.number, Purchase.supplier)
        .order_by(Purchase.id.desc())
        .limit(50)
    )
    return [WrittenPurchase(*r) for r in newest.tuples()]


def suppliers() -> list[str]:
    """Each once, in the order of words."""
    rows = Purchase.select(Purchase.supplier).where(Purchase.supplier != "").distinct()
    return [name for (name,) in rows.order_by(Purchase.supplier).tuples()]


def _lines(table: Any, owner: Any, one: Any) -> list[tuple[Any, dict[str, Any]]]:
    """Rows of lines, each with what its document says first."""
    query = (
        table.select(table, Part, Storeroom, WorkOrder)
        .join(Part, JOIN.LEFT_OUTER)
        .join_from(table, Storeroom, JOIN.LEFT_OUTER)
        .join_from(table, WorkOrder, JOIN.LEFT_OUTER)
        .where(owner == one)
        .order_by(table.id)
    )
    return [
        (
            r,
            {
                "line": r.line,
                "part": r.part.key if r.part_id else None,
                "name": r.part.name if r.part_id else r.words,
                "unit": r.part.unit if r.part_id else "",
                "quantity": r.quantity,
                "price": r.price,
                "storeroom": r.storeroom.key if r.storeroom_id else None,
                "order": r.order.number if r.order_id else None,
                "day": r.day,
            },
        )
        for r in query
    ]


def request(account: Account, number: str) -> BuyRequestDocument:
    """Raises NotFound."""
    one = asking.found(number)
    ordered = ordered_of([one.id])
    orders: dict[str, list[OrderedIn]] = {}
    rows = PurchaseLine.select(PurchaseLine, Purchase).join(Purchase).where(PurchaseLine.request == one)
    for r in rows.order_by(Purchase.id):
        in_one = OrderedIn(r.purchase.number, r.purchase.state, r.quantity)
        orders.setdefault(r.request_line, []).append(in_one)
    lines = []
    for r, said in _lines(BuyLine, BuyLine.request, one):
        left = AskedLine(r.quantity, ordered.get((one.id, r.line), 0.0), bool(r.settled)).left
        lines.append(BuyLineDocument(**said, left=left, settled=r.settled, orders=orders.get(r.line, [])))
    return BuyRequestDocument(
        one.number, one.state, one.made, one.by, one.decided, one.remark, one.revision,
        amount((line.quantity, line.price) for line in lines),
        limit_of(account),
        offers(asking.NOUN, one.number, one.state, asking.facts_of(account, one)),
        lines,
    )  # fmt: skip


def purchase(number: str) -> PurchaseDocument:
    """Raises NotFound."""
    one = ordering.found(number)
    asked = dict(
        BuyRequest.select(BuyRequest.id, BuyRequest.number)
        .where(BuyRequest.id.in_([line.request_id for line in one.lines if line.request_id] or [0]))
        .tuples()
    )
    lines = [
        PurchaseLineDocument(
            **said,
            request=f"{asked[r.request_id]} / {r.request_line}" if r.request_id else None,
            confirmed=r.confirmed,
            noted=r.noted,
            received=r.received,
            awaited=r.awaited,
            to_come=OrderedLine(r.quantity, r.received, r.awaited).to_come,
        )
        for r, said in _lines(PurchaseLine, PurchaseLine.purchase, one)
    ]
    return PurchaseDocument(
        one.number, one.supplier, one.state, one.made, one.placed, one.by, one.remark, one.revision,
        amount((line.quantity, line.price) for line in lines),
        offers(ordering.NOUN, one.number, one.state, ordering.facts_of(one)),
        lines,
    )  # fmt: skip
