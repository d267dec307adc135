"""Lines of requests to buy and of orders, as they come in: filled with what is known of their part, and
checked by what holds in files."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date
from typing import Any

from peewee import fn

from nundine.core.parts.stock import DIGITS
from nundine.services.errors import Refused
from nundine.services.exchange.kinds.wanted import check
from nundine.store.part import Part, Stock, Storeroom
from nundine.store.work_order import OPEN_STATES, WorkOrder

MOST_LINES = 200


@dataclass(frozen=True)
class WantedLine:
    """What is to be bought. `price` of one, None = as it is usually paid. Without a storeroom and a WO it
    goes where most of it lies."""

    part: str | None
    quantity: float
    words: str = ""
    price: float | None = None
    storeroom: str | None = None
    order: str | None = None
    day: date | None = None


def rows_of(lines: Sequence[WantedLine]) -> list[dict[str, Any]]:
    """Lines as records keep them. Raises Refused with the line (`n`, from 0) and the field that is wrong."""
    if len(lines) > MOST_LINES:
        raise Refused("many", f"Up to {MOST_LINES} lines stand in one.", field="lines")
    parts = {p.key: p for p in Part.select().where(Part.key.in_([w.part for w in lines if w.part] or [""]))}
    stores = _usual_stores({p.id for p in parts.values()})
    there = [key for (key,) in Storeroom.select(Storeroom.key).order_by(Storeroom.key).tuples()]
    numbers = [w.order for w in lines if w.order]
    chosen = WorkOrder.select(WorkOrder.number).where(
        WorkOrder.number.in_(numbers or [""]) & WorkOrder.state.in_((*OPEN_STATES, "draft", "on hold"))
    )
    orders = {number for (number,) in chosen.tuples()}
    out = []
    for n, line in enumerate(lines):
        row = asdict(line)
        row["words"], row["quantity"] = line.words.strip()[:200], round(line.quantity, DIGITS)
        part = parts.get(line.part or "")
        if line.part and part is None:
            raise Refused("part", f"There is no part {line.part[:40]}.", field="part", n=n)
        if line.order and line.order not in orders:
            raise Refused("order", f"There is no open WO {line.order[:40]}.", field="order", n=n)
        if line.storeroom and line.storeroom not in there:
            raise Refused(
                "storeroom", f"There is no storeroom {line.storeroom[:40]}.", field="storeroom", n=n
            )
        if part is not None and line.price is None:
            row["price"] = part.price if part.price is not None else part.average
        if part is not None and not line.order and not line.storeroom:
            row["storeroom"] = stores.get(part.id) or next(iter(there), None)
        if row["quantity"] <= 0:
            raise Refused("quantity", "Say how many, more than 0.", field="quantity", n=n)
        for column, fault in check(row, {}):
            raise Refused(column, f"The {column} {fault}.", field=column, n=n)
        out.append(row)
    return out


def _usual_stores(parts: set[int]) -> dict[int, str]:
    """By row of a part the storeroom in which most of it lies."""
    rows: Any = Stock.select(Stock.part, Storeroom.key, fn.SUM(Stock.on_hand).alias("much")).join(Storeroom)
    grouped = rows.where(Stock.part.in_(list(parts) or [0])).group_by(Stock.part, Storeroom.key)
    return {part: store for part, store, _ in sorted(grouped.tuples(), key=lambda r: (r[2], r[1]))}


def numbered(taken: Sequence[str], count: int) -> list[str]:
    """So many numbers of lines after those taken: 10, 20, ..."""
    last = max((int(t) for t in taken if t.isdecimal()), default=0) // 10 * 10
    return [str(last + 10 * (n + 1)) for n in range(count)]
