"""Stock: what lies where, and the price of a part, both from its movements alone.

The price is the moving average: a receipt at a price changes it, what goes out does not (the weighted average
cost of IAS 2, paragraphs 25 and 27, after each receipt).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

KINDS = ("receipt", "hand-out", "give-back", "count", "transfer", "return", "straight")
"""Returns go back to whoever delivered them; what goes straight to a job lies in no place."""
DIGITS = 3
"""Quantities are kept to a thousandth of a unit."""
Place = tuple[str, str, str]
"""Storeroom, shelf, lot."""


@dataclass(frozen=True)
class Move:
    """What came to a place (quantity > 0) or left it; `price` of a unit where it is known."""

    kind: str
    place: Place
    quantity: float
    price: float | None = None


@dataclass(frozen=True)
class Position:
    """What lies where, without places where nothing does, and the average price; None where none is known."""

    places: Mapping[Place, float] = field(default_factory=dict)
    average: float | None = None

    @property
    def on_hand(self) -> float:
        return round(sum(self.places.values()), DIGITS)


class NotThere(ValueError):
    """More was taken from a place than lay there."""

    def __init__(self, place: Place, there: float, wanted: float) -> None:
        super().__init__(f"{there:g} of {wanted:g} are there")
        self.place, self.there, self.wanted = place, there, wanted


def after(position: Position, move: Move) -> Position:
    """The position after a move. Raises NotThere."""
    there = position.places.get(move.place, 0.0)
    left = round(there + move.quantity, DIGITS)
    if left < 0:
        raise NotThere(move.place, there, -move.quantity)
    places = {**position.places, move.place: left}
    if not left:
        del places[move.place]
    return Position(places, _average(position, move))


def _average(position: Position, move: Move) -> float | None:
    """Receipts and what is given back bring their price; counts and transfers bring the one there is."""
    if move.quantity <= 0 or move.price is None or move.kind in ("count", "transfer"):
        return position.average
    before = position.on_hand
    if before <= 0 or position.average is None:
        return move.price
    return (before * position.average + move.quantity * move.price) / (before + move.quantity)


def position_of(moves: Iterable[Move]) -> Position:
    """What follows from moves in their order. Raises NotThere for the first that takes too much."""
    position = Position()
    for move in moves:
        position = after(position, move)
    return position
