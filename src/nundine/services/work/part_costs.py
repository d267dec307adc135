"""What the parts of WOs cost: as planned at what a unit costs a job now, and as they were handed out,
or bought straight for it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from nundine.core.cost import cents
from nundine.store.buying import PurchaseLine
from nundine.store.part import Movement, Part
from nundine.store.work_order import Task

GIVEN = ("hand-out", "give-back", "straight")


@dataclass(frozen=True)
class PartCosts:
    """Cents as planned, and as used."""

    planned: int = 0
    used: int = 0


def of_orders(orders: Sequence[int]) -> defaultdict[int, PartCosts]:
    """By the row of the WO; of tasks that are not skipped what must be used counts as planned."""
    rows: Any = Task.select(Task.work_order, Task.parts)
    chosen = rows.where(Task.work_order.in_(list(orders) or [0]) & (Task.state != "skipped"))
    said = [
        (order, part, quantity)
        for order, needs in chosen.tuples()
        for part, _, quantity, _, must in needs
        if part and must
    ]
    prices = _prices({part for _, part, _ in said})
    planned: dict[int, int] = defaultdict(int)
    for order, part, quantity in said:
        planned[order] += cents(quantity, prices.get(part, 0.0))
    used: dict[int, int] = defaultdict(int)
    moved: Any = Movement.select(Movement.order, Movement.quantity, Movement.price)
    given = moved.where(Movement.order.in_(list(orders) or [0]) & Movement.kind.in_(GIVEN))
    for order, quantity, price in given.tuples():
        used[order] -= cents(quantity, price or 0.0)
    bought: Any = PurchaseLine.select(PurchaseLine.order, PurchaseLine.received, PurchaseLine.price)
    unmoved = PurchaseLine.part.is_null() | ~Part.tracked  # what has no movements
    straight = bought.left_outer_join(Part).where(PurchaseLine.order.in_(list(orders) or [0]) & unmoved)
    for order, received, price in straight.tuples():
        used[order] += cents(received, price or 0.0)
    return defaultdict(PartCosts, {o: PartCosts(planned[o], used[o]) for o in orders})


def _prices(parts: set[str]) -> dict[str, float]:
    """What a unit costs a job."""
    rows = Part.select(Part.key, Part.valued, Part.price, Part.average).where(
        Part.key.in_(sorted(parts) or [""])
    )
    out = {}
    for key, valued, price, average in rows.tuples():
        paid = price if valued == "standard" or average is None else average
        out[key] = paid or 0.0
    return out
