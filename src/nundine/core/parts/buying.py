"""Buying: how far requests to buy and orders are, and who may approve what.

A request is closed when each of its lines is in orders in whole, or dealt with otherwise, and open again when
a line leaves its order. An order is delivered when nothing of it is awaited any more.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nundine.core.parts.stock import DIGITS


@dataclass(frozen=True)
class AskedLine:
    """How much a line of a request wants, how much of it stands in orders that are not cancelled, and whether
    it was dealt with otherwise."""

    quantity: float
    ordered: float = 0.0
    settled: bool = False

    @property
    def left(self) -> float:
        """How much is still to be ordered."""
        return 0.0 if self.settled else max(0.0, round(self.quantity - self.ordered, DIGITS))


@dataclass(frozen=True)
class OrderedLine:
    """How much a line of an order is about, how much came, and whether the rest is awaited."""

    quantity: float
    received: float = 0.0
    awaited: bool = True

    @property
    def to_come(self) -> float:
        return max(0.0, round(self.quantity - self.received, DIGITS)) if self.awaited else 0.0


def request_state(now: str, lines: Sequence[AskedLine]) -> str:
    """The state of a request as it follows from its lines; only one that was approved follows them."""
    if now not in ("approved", "closed"):
        return now
    return "closed" if lines and not any(line.left for line in lines) else "approved"


def purchase_state(now: str, lines: Sequence[OrderedLine]) -> str:
    """The state of an order as it follows from its lines; only one that was placed follows them."""
    if now not in ("placed", "delivered"):
        return now
    return "delivered" if lines and not any(line.to_come for line in lines) else "placed"


def amount(lines: Iterable[tuple[float, float | None]]) -> float | None:
    """What quantities at prices come to; None where one has no price."""
    total = 0.0
    for quantity, price in lines:
        if price is None:
            return None
        total += quantity * price
    return round(total, 2)


def may_approve(wanted: float | None, limit: float | None) -> bool:
    """Whether an amount lies within a limit, None = approves nothing; what has no price is never approved."""
    return wanted is not None and limit is not None and wanted <= limit
