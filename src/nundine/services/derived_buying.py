"""How far requests to buy and orders are, as it follows from their lines; and what is on its way."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from datetime import date, timedelta
from typing import Any

from peewee import fn

from nundine.core.parts.buying import AskedLine, OrderedLine, purchase_state, request_state
from nundine.store.buying import BuyLine, BuyRequest, Purchase, PurchaseLine
from nundine.store.part import Part

Arrival = tuple[date, float, str]
"""Day, quantity, and number of the order."""
LONGEST_NAME = 60


def ordered_of(requests: Collection[int]) -> dict[tuple[int, str], float]:
    """By row of a request and its line how much of it stands in orders that are not cancelled."""
    rows: Any = PurchaseLine.select(
        PurchaseLine.request, PurchaseLine.request_line, fn.SUM(PurchaseLine.quantity)
    ).join(Purchase)
    chosen = rows.where(PurchaseLine.request.in_(list(requests) or [0]) & (Purchase.state != "cancelled"))
    grouped = chosen.group_by(PurchaseLine.request, PurchaseLine.request_line)
    return {(request, line): float(much) for request, line, much in grouped.tuples()}


def states_of_requests(numbers: Collection[str]) -> dict[str, tuple[str, str]]:
    """By number the state of a request, and the one that follows from its lines, where they differ."""
    there = {r.id: r for r in BuyRequest.select().where(BuyRequest.number.in_(sorted(numbers) or [""]))}
    ordered = ordered_of(there)
    lines: dict[int, list[AskedLine]] = defaultdict(list)
    for one in BuyLine.select().where(BuyLine.request.in_(list(there) or [0])):
        asked = AskedLine(one.quantity, ordered.get((one.request_id, one.line), 0.0), bool(one.settled))
        lines[one.request_id].append(asked)
    found = {r.number: (r.state, request_state(r.state, lines[r.id])) for r in there.values()}
    return {number: states for number, states in found.items() if states[0] != states[1]}


def states_of_purchases(numbers: Collection[str]) -> dict[str, tuple[str, str]]:
    """By number the state of an order, and the one that follows from its lines, where they differ."""
    there = {p.id: p for p in Purchase.select().where(Purchase.number.in_(sorted(numbers) or [""]))}
    lines: dict[int, list[OrderedLine]] = defaultdict(list)
    for one in PurchaseLine.select().where(PurchaseLine.purchase.in_(list(there) or [0])):
        lines[one.purchase_id].append(OrderedLine(one.quantity, one.received, one.awaited))
    found = {p.number: (p.state, purchase_state(p.state, lines[p.id])) for p in there.values()}
    return {number: states for number, states in found.items() if states[0] != states[1]}


def requests_in(purchases: Collection[str]) -> set[str]:
    """Requests of which these orders have lines."""
    rows = PurchaseLine.select(BuyRequest.number).join(BuyRequest).switch(PurchaseLine).join(Purchase)
    return {n for (n,) in rows.where(Purchase.number.in_(sorted(purchases) or [""])).tuples()}


def parts_in(purchases: Collection[str]) -> set[str]:
    """Parts that these orders are about."""
    if not purchases:
        return set()
    rows = PurchaseLine.select(Part.key).join(Part).switch(PurchaseLine).join(Purchase)
    return {k for (k,) in rows.where(Purchase.number.in_(sorted(purchases))).tuples()}


def on_their_way(
    parts: set[str], today: date
) -> tuple[dict[str, list[Arrival]], dict[tuple[int, str], list[Arrival]]]:
    """What is ordered and still to come: by part for storerooms, and by row of the WO and part what comes
    straight to it. What is late comes tomorrow at the earliest; without a day nobody counts on it."""
    rows: Any = (
        PurchaseLine.select(
            Part.key, PurchaseLine.order, PurchaseLine.day, PurchaseLine.quantity, PurchaseLine.received,
            Purchase.number,
        )
        .join(Part)
        .join_from(PurchaseLine, Purchase)
        .where(
            (Purchase.state == "placed")
            & PurchaseLine.awaited
            & (PurchaseLine.received < PurchaseLine.quantity)
            & PurchaseLine.day.is_null(False)
            & Part.key.in_(sorted(parts) or [""])
        )
    )  # fmt: skip
    stores: dict[str, list[Arrival]] = defaultdict(list)
    straight: dict[tuple[int, str], list[Arrival]] = defaultdict(list)
    for part, order, day, quantity, received, number in rows.tuples():
        comes = day if day >= today else today + timedelta(days=1)
        arrival = (comes, OrderedLine(quantity, received).to_come, number[:LONGEST_NAME])
        (stores[part] if order is None else straight[(order, part)]).append(arrival)
    return stores, straight
