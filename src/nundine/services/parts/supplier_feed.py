"""What suppliers say of orders: each hour their files are taken in. A line confirms when a line of an order
comes, or says that so much of it was brought; whoever takes it in says so by hand."""

from __future__ import annotations

from datetime import date
from typing import Any

from nundine.core.parts.stock import DIGITS
from nundine.services.background.periodic import Hourly, periodic
from nundine.services.exchange.feed import BadLine, Fed, Feed
from nundine.services.exchange.forms import Cells
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PURCHASES, turn
from nundine.store.buying import Purchase, PurchaseLine

STREAM, MOST = "supplier feed", 10**6
SAYS = ("confirms", "brings")


@periodic("supplier feed", "what suppliers say of orders", Hourly(25))
def take_each_hour() -> list[Fed]:
    return FEED.take()


def _keep(lines: list[Cells], name: str) -> tuple[int, list[BadLine]]:
    turn(PURCHASES)
    stand = _standing({line["purchase"] for line in lines})
    wanted: dict[tuple[str, str], dict[str, Any]] = {}
    bad: list[BadLine] = []
    for line in lines:
        key = (line["purchase"], line["line"])
        try:
            said = _said(line, {**stand[key], **wanted.get(key, {})} if key in stand else None)
        except ValueError as why:
            bad.append(BadLine(line, str(why)))
            continue
        wanted[key] = {**wanted.get(key, {}), **said}
    changes = changes_to("purchase line", wanted)
    if changes:
        label = f"Suppliers said something of {len(changes)} lines with {name}"
        write(STREAM, None, Edit("buying", label, changes), checked=True)
    return len(changes), bad


FEED = Feed(
    "suppliers", STREAM, "buying", "suppliers", ("purchase", "line", "says", "day", "quantity"), _keep
)


def _standing(numbers: set[str]) -> dict[tuple[str, str], dict[str, Any]]:
    rows = PurchaseLine.select(PurchaseLine, Purchase).join(Purchase).where(Purchase.number.in_(numbers))
    return {
        (r.purchase.number, r.line): {"state": r.purchase.state, "noted": r.noted, "quantity": r.quantity}
        for r in rows
    }


def _said(line: Cells, stands: dict[str, Any] | None) -> dict[str, Any]:
    """What a line says of a line of an order. Raises ValueError."""
    if stands is None:
        raise ValueError("there is no such line of an order")
    if stands["state"] not in ("placed", "delivered"):
        raise ValueError(f"the order is {stands['state']}")
    if line["says"] not in SAYS:
        raise ValueError(f"says must be {' or '.join(SAYS)}")
    if line["says"] == "confirms":
        return {"day": _day(line["day"]), "confirmed": True}
    quantity = _quantity(line["quantity"])
    if quantity < stands["noted"]:
        raise ValueError(f"{stands['noted']:g} were brought by now; say how many in all")
    return {"noted": quantity}


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise ValueError(f"{text!r} is no day such as 2026-12-04") from None


def _quantity(text: str) -> float:
    """How many were brought in all, so that the same file twice changes nothing."""
    try:
        found = round(float(text), DIGITS)
    except ValueError:
        raise ValueError(f"{text!r} is no quantity") from None
    if not 0 < found <= MOST:
        raise ValueError(f"a quantity lies between 0 and {MOST}")
    return found
