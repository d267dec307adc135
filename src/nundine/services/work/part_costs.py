"""What the parts of WOs cost: as planned at what a unit costs a job now, and as they were handed out, or
bought straight for it; in all, and part by part."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from peewee import Select, fn

from nundine.core.cost import cents
from nundine.core.parts.stock import DIGITS
from nundine.store.buying import PurchaseLine
from nundine.store.part import Movement, Part
from nundine.store.work_order import Task

GIVEN = ("hand-out", "give-back", "straight")


@dataclass
class PartCost:
    """A part of a WO, or what was bought for it in words: how much is planned and was used, and the cents of
    both."""

    name: str
    unit: str = ""
    planned: float = 0.0
    used: float = 0.0
    planned_cents: int = 0
    used_cents: int = 0


@dataclass(frozen=True)
class PartCosts:
    """Part by part, those planned first."""

    lines: tuple[PartCost, ...] = ()

    @property
    def planned(self) -> int:
        """Cents as planned."""
        return sum(line.planned_cents for line in self.lines)

    @property
    def used(self) -> int:
        """Cents as used."""
        return sum(line.used_cents for line in self.lines)


def of_orders(orders: Sequence[int]) -> defaultdict[int, PartCosts]:
    """By the row of the WO; of tasks that are not skipped what must be used counts as planned."""
    lines: dict[int, dict[str, PartCost]] = defaultdict(dict)

    def line(order: int, key: str, name: str, unit: str = "") -> PartCost:
        return lines[order].setdefault(key, PartCost(name, unit))

    said = _planned(orders)
    prices = _prices({part for _, part, _ in said})
    for order, part, quantity in said:
        price, name, unit = prices.get(part, (0.0, part, ""))
        one = line(order, part, name, unit)
        one.planned = round(one.planned + quantity, DIGITS)
        one.planned_cents += cents(quantity, price)
    for order, part, name, unit, quantity, price in _given(orders):
        one = line(order, part, name, unit)
        one.used = round(one.used - quantity, DIGITS)
        one.used_cents -= cents(quantity, price or 0.0)
    for order, part, name, words, received, price in _straight(orders):
        one = line(order, part or words, name or words)
        one.used = round(one.used + received, DIGITS)
        one.used_cents += cents(received, price or 0.0)
    return defaultdict(PartCosts, {o: PartCosts(tuple(lines[o].values())) for o in orders})


def _planned(orders: Sequence[int]) -> list[tuple[int, str, float]]:
    """WO, part and quantity of what must be used."""
    rows: Any = Task.select(Task.work_order, Task.parts)
    chosen = rows.where(Task.work_order.in_(list(orders) or [0]) & (Task.state != "skipped"))
    return [
        (order, part, quantity)
        for order, needs in chosen.tuples()
        for part, _, quantity, _, must in needs
        if part and must
    ]


def _given(orders: Sequence[int]) -> list[tuple[Any, ...]]:
    """WO, part, its name and unit, quantity and price of what WOs got, or gave back."""
    moved: Any = Movement.select(
        Movement.order, Part.key, Part.name, Part.unit, Movement.quantity, Movement.price
    ).join(Part)
    chosen = moved.where(Movement.order.in_(list(orders) or [0]) & Movement.kind.in_(GIVEN))
    return list(chosen.order_by(Movement.id).tuples())


def _straight(orders: Sequence[int]) -> list[tuple[Any, ...]]:
    """WO, part, its name, words, quantity and price of what came straight for WOs and has no movements."""
    bought: Any = PurchaseLine.select(
        PurchaseLine.order, Part.key, Part.name, PurchaseLine.words, PurchaseLine.received, PurchaseLine.price
    ).left_outer_join(Part)
    unmoved = PurchaseLine.part.is_null() | ~Part.tracked
    came = PurchaseLine.order.in_(list(orders) or [0]) & unmoved & (PurchaseLine.received > 0)
    return list(bought.where(came).order_by(PurchaseLine.id).tuples())


def used_by_order() -> Any:
    """A query of WOs, `order_id`, and what the parts that they got cost, `amount` in units of the currency;
    those that got none are not in it."""
    cost = Movement.quantity * fn.COALESCE(Movement.price, 0) * -1
    given = Movement.select(Movement.order.alias("order_id"), cost.alias("cost"))
    given = given.where(Movement.order.is_null(False) & Movement.kind.in_(GIVEN))
    cost = PurchaseLine.received * fn.COALESCE(PurchaseLine.price, 0)
    bought: Any = PurchaseLine.select(PurchaseLine.order.alias("order_id"), cost.alias("cost"))
    unmoved = PurchaseLine.part.is_null() | ~Part.tracked
    bought = bought.left_outer_join(Part).where(PurchaseLine.order.is_null(False) & unmoved)
    every = (given + bought).alias("every")
    amount = fn.ROUND(fn.SUM(every.c.cost), 2).alias("amount")
    return Select([every], [every.c.order_id, amount]).group_by(every.c.order_id)


def _prices(parts: set[str]) -> dict[str, tuple[float, str, str]]:
    """What a unit costs a job, the name of the part and its unit."""
    rows = Part.select(Part.key, Part.valued, Part.price, Part.average, Part.name, Part.unit).where(
        Part.key.in_(sorted(parts) or [""])
    )
    out = {}
    for key, valued, price, average, name, unit in rows.tuples():
        paid = price if valued == "standard" or average is None else average
        out[key] = (paid or 0.0, name, unit)
    return out
