"""A simulated supplier of everything: it confirms what was ordered, some of it later than wanted, and brings
it when its day has come, now and then in two parts or one too many."""

from __future__ import annotations

from datetime import date, timedelta
from pathlib import Path
from random import Random

from nundine.services.parts.supplier_feed import FEED
from nundine.store.buying import Purchase, PurchaseLine

LATER, IN_PARTS, TOO_MANY = 0.25, 0.2, 0.1
"""Shares of lines that it delays, brings in two parts, and brings one too many of."""
DELAYS = (1, 10)
"""Days by which it is late."""
USUAL_DAYS = 14
"""Until it brings what nobody gave a day for."""


def write_file(day: date) -> Path | None:
    """What it says on a day of all that is ordered and still to come; None where that is nothing new."""
    rows = (
        PurchaseLine.select(PurchaseLine, Purchase)
        .join(Purchase)
        .where((Purchase.state == "placed") & PurchaseLine.awaited)
        .order_by(PurchaseLine.id)
    )
    lines = [said for row in rows for said in (_said(row, day),) if said is not None]
    return FEED.put(f"supplier-{day}.csv", lines) if lines else None


def _said(row: PurchaseLine, day: date) -> tuple[str, ...] | None:
    """It confirms first; a line comes on a later day than that on which it was confirmed."""
    dice = Random(f"{row.purchase.number} {row.line}")
    late, parts, many = dice.random() < LATER, dice.random() < IN_PARTS, dice.random() < TOO_MANY
    key = (row.purchase.number, row.line)
    if not row.confirmed:
        wanted = row.day or day + timedelta(days=USUAL_DAYS)
        comes = wanted + timedelta(days=dice.randint(*DELAYS) if late else 0)
        return (*key, "confirms", comes.isoformat(), "")
    if row.day is None or row.day > day:
        return None
    whole = row.quantity + (1 if many and float(row.quantity).is_integer() else 0)
    half = row.quantity // 2
    brought = half if parts and half and not row.noted else whole
    return None if brought <= row.noted else (*key, "brings", "", f"{brought:g}")
