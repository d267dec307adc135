"""What was ordered comes, in parts, too much or too little, and goes back; into a storeroom, or straight to
its WO."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from nundine.core.parts.stock import DIGITS
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to
from nundine.services.parts.ordering import LINE, NOUN, STREAM, found
from nundine.services.parts.posting import Posting, post
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.buying import PurchaseLine


@dataclass(frozen=True)
class Came:
    """How much of a line came, and where it lies now."""

    line: str
    quantity: float
    shelf: str = ""
    lot: str = ""


def receive(account: Account, number: str, came: Sequence[Came], revision: int) -> None:
    """Take in what came with an order, all of it or nothing; more than was ordered is taken in, too. Raises
    NotFound, Stale, and Refused with the line and why."""
    _book(account, number, came, revision, back=False)


def send_back(account: Account, number: str, came: Came, reason: str, revision: int) -> None:
    """Send some of what came back to whoever delivered it; it is awaited again unless that is said
    otherwise. Raises NotFound, Stale, Refused."""
    if not reason.strip():
        raise Refused("reason", "Say why it goes back.", field="reason")
    _book(account, number, [came], revision, back=True, reason=reason)


def _book(
    account: Account, number: str, came: Sequence[Came], revision: int, *, back: bool, reason: str = ""
) -> None:
    if not came:
        raise Refused("lines", "Say what came.", field="lines")
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = found(number)
        if one.state not in ("placed", "delivered"):
            raise Refused("state", f"{number} is {one.state}; place it first.", field="state")
        lines = {r.line: r for r in PurchaseLine.select().where(PurchaseLine.purchase == one)}
        postings: list[tuple[str, Posting]] = []
        wanted: dict[str, float] = {}
        for c in came:
            line = lines.get(c.line)
            if line is None or c.line in wanted:
                raise NotFound(LINE, f"There is no line {c.line[:20]} of {number} to take in.")
            quantity = round(c.quantity, DIGITS)
            if quantity <= 0:
                raise Refused("quantity", "Say how many, more than 0.", field="quantity", line=c.line)
            if back and quantity > line.received:
                told = f"{line.received:g} of line {c.line} came so far."
                raise Refused("quantity", told, field="quantity", line=c.line)
            wanted[c.line] = round(line.received + (-quantity if back else quantity), DIGITS)
            if line.part_id is not None and line.part.tracked:
                postings.append((c.line, _posting(number, line, c, quantity, back, reason)))
        failed = post(account, [p for _, p in postings]).failed if postings else []
        for bad in failed:
            raise Refused("not posted", bad.why, field=bad.field, line=postings[bad.line][0])
        changes = changes_to(LINE, {(number, line): _now(lines[line], has) for line, has in wanted.items()})
        told = f"{len(wanted)} line{'s' * (len(wanted) > 1)} of order {number}"
        label = f"Send back of {told}" if back else f"Take in {told}"
        write(STREAM, account, Edit("buying", label, changes), checked=True)


def _now(line: PurchaseLine, received: float) -> dict[str, Any]:
    """What went back is no more on a delivery note, and awaited again."""
    if received >= line.received:
        return {"received": received}
    return {"received": received, "noted": min(line.noted, received), "awaited": True}


def _posting(
    number: str, line: PurchaseLine, came: Came, quantity: float, back: bool, reason: str
) -> Posting:
    purchase = f"{number}/{line.line}"
    if line.storeroom_id is None:
        order = line.order.number if line.order_id else None
        if order is None:
            raise Refused("order", f"The WO of line {line.line} is no more.", field="order", line=line.line)
        much = -quantity if back else quantity
        return Posting(
            "straight",
            line.part.key,
            "",
            much,
            price=line.price,
            order=order,
            reason=reason,
            purchase=purchase,
        )
    place = (line.storeroom.key, quantity, came.shelf, came.lot)
    kind: Any = "return" if back else "receipt"
    return Posting(kind, line.part.key, *place, price=line.price, reason=reason, purchase=purchase)
