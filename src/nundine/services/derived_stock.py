"""What lies where and what it cost, as it follows from movements."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from peewee import fn

from nundine.core.parts.stock import Move, NotThere, Position, position_of
from nundine.services.errors import Refused
from nundine.store.bulk import insert_rows
from nundine.store.part import Movement, Part, Stock, Storeroom


def refresh(parts: set[str]) -> None:
    """Compute anew the stock and the average price of these parts, by key. Inside the caller's
    transaction. Raises Refused where more was taken than there was."""
    ids = dict(Part.select(Part.id, Part.key).where(Part.key.in_(sorted(parts) or [""])).tuples())
    if not ids:
        return
    stores = {key: id_ for id_, key in Storeroom.select(Storeroom.id, Storeroom.key).tuples()}
    try:
        positions = {part: position_of(moves) for part, moves in _moves(ids).items()}
    except NotThere as bad:
        told = f"More was taken since than would be left: {bad} in {', '.join(p for p in bad.place if p)}."
        raise Refused("stock", told) from None
    Stock.delete().where(Stock.part.in_(list(ids))).execute()
    rows = [
        {"part": part, "storeroom": stores[store], "shelf": shelf, "lot": lot, "on_hand": there}
        for part in ids
        for (store, shelf, lot), there in positions.get(part, Position()).places.items()
    ]
    insert_rows(Stock, rows)
    for part in ids:
        position = positions.get(part, Position())
        now = {"on_hand": position.on_hand, "average": position.average}
        Part.update(now).where(Part.id == part).execute()


def _moves(parts: dict[int, str]) -> dict[int, list[Move]]:
    """Moves by the row of their part, in their order."""
    rows: Any = (
        Movement.select(
            Movement.part, Movement.kind, Storeroom.key, Movement.shelf, Movement.lot, Movement.quantity,
            Movement.price,
        )
        .join(Storeroom)
        .where(Movement.part.in_(list(parts)))
        .order_by(Movement.at, fn.LENGTH(Movement.number), Movement.number)
        .tuples()
    )  # fmt: skip
    out: dict[int, list[Move]] = defaultdict(list)
    for part, kind, store, shelf, lot, quantity, price in rows:
        out[part].append(Move(kind, (store, shelf, lot), quantity, price))
    return out
