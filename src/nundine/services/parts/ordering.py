"""Orders: of lines of requests, in whole or part and of several, or made from scratch; placed, promised,
cancelled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from nundine.core.parts.buying import AskedLine
from nundine.core.parts.stock import DIGITS
from nundine.services.derived_buying import ordered_of
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.services.lifecycles import need_move
from nundine.services.numbering import PURCHASES, take_own, turn
from nundine.services.parts import asking
from nundine.services.parts.wanted import MOST_LINES, WantedLine, numbered, rows_of
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.buying import BuyLine, BuyRequest, Purchase, PurchaseLine
from nundine.store.part import Part
from nundine.store.site import site

NOUN, LINE, OWN, STREAM = "purchase", "purchase line", "PO-", "buying"
LONGEST_SUPPLIER = 120
FRESH = {"confirmed": False, "noted": 0.0, "received": 0.0, "awaited": True}


@dataclass(frozen=True)
class PickedLine:
    """A line of a request that is to be ordered; `quantity`: how much of it, None = all that is left."""

    request: str
    line: str
    quantity: float | None = None


def found(number: str) -> Purchase:
    """Raises NotFound."""
    one: Purchase | None = Purchase.get_or_none(Purchase.number == number)
    if one is None:
        raise NotFound(NOUN, f"There is no order {number[:40]}.")
    return one


def order(account: Account, picked: Sequence[PickedLine], supplier: str, into: str | None = None) -> str:
    """Put lines of requests into a new order, or into one that is being written; gives its number.

    Raises
    ------
    NotFound
        For an order or a line that is not there.
    Refused
        For requests that are not approved, more than is left of a line, none or too many lines.
    """
    if not 1 <= len(picked) <= MOST_LINES:
        raise Refused("many", f"Between 1 and {MOST_LINES} lines are ordered at once.", field="picked")
    with db.atomic():
        counter = turn(PURCHASES)
        rows = _of_requests(picked)
        number, changes = _into(account, counter, supplier, into)
        had = _lines_of(number)
        if len(had) + len(rows) > MOST_LINES:
            raise Refused("many", f"Up to {MOST_LINES} lines stand in one order.", field="picked")
        keyed = zip(numbered(had, len(rows)), rows, strict=True)
        changes += changes_to(LINE, {(number, key): row for key, row in keyed})
        label = f"{len(rows)} line{'s' * (len(rows) > 1)} into order {number}"
        write(STREAM, account, Edit("buying", label, changes), checked=True)
    return number


def _of_requests(picked: Sequence[PickedLine]) -> list[dict[str, Any]]:
    wanted = {(p.request, p.line): p for p in picked}
    numbers = sorted({p.request for p in picked})
    rows = list(
        BuyLine.select(BuyLine, BuyRequest)
        .join(BuyRequest)
        .where(BuyRequest.number.in_(numbers))
        .order_by(BuyRequest.number, BuyLine.id)
    )
    there = {(r.request.number, r.line): r for r in rows}
    ordered = ordered_of({r.request_id for r in rows})
    out = []
    for (number, line), pick in wanted.items():
        one = there.get((number, line))
        if one is None:
            raise NotFound("buy line", f"There is no line {line[:20]} of {number[:40]}.")
        if one.request.state not in ("approved", "closed"):
            raise Refused("state", f"{number} is {one.request.state}; approved requests are ordered.")
        left = AskedLine(one.quantity, ordered.get((one.request_id, line), 0.0), bool(one.settled)).left
        quantity = left if pick.quantity is None else round(pick.quantity, DIGITS)
        if not left:
            raise Refused("left", f"Nothing is left to order of line {line} of {number}.")
        if not 0 < quantity <= left:
            raise Refused("left", f"{left:g} of line {line} of {number} are left to order.", field="quantity")
        out.append(
            {
                "part": one.part.key if one.part else None,
                "words": one.words,
                "quantity": quantity,
                "price": one.price,
                "storeroom": one.storeroom.key if one.storeroom else None,
                "order": one.order.number if one.order else None,
                "day": one.day,
                "request": number,
                "request_line": line,
                **FRESH,
            }
        )
    return out


def _into(account: Account, counter: Any, supplier: str, into: str | None) -> tuple[str, list[Change]]:
    """The number of the order that lines go into, and what makes it where it is new."""
    if into is not None:
        one = found(into)
        if one.state != "written":
            raise Refused("state", f"{into} is {one.state}; lines go into orders that are being written.")
        return into, []
    number = take_own(counter, Purchase, OWN, 1000)
    head = {
        "supplier": supplier.strip()[:LONGEST_SUPPLIER],
        "state": "written",
        "made": settings().now(),
        "placed": None,
        "by": account.full_name,
        "remark": "",
    }
    return number, changes_to(NOUN, {(number,): head})


def make(account: Account, supplier: str, lines: Sequence[WantedLine], remark: str = "") -> str:
    """An order from scratch, with lines or without; gives its number. Raises Refused."""
    with db.atomic():
        counter = turn(PURCHASES)
        number, changes = _into(account, counter, supplier, None)
        if remark.strip():
            changes[0].after = {**(changes[0].after or {}), "remark": remark.strip()}
        rows = rows_of(lines)
        keyed = zip(numbered((), len(rows)), rows, strict=True)
        nobody = {"request": None, "request_line": ""}
        changes += changes_to(LINE, {(number, key): {**row, **nobody, **FRESH} for key, row in keyed})
        write(STREAM, account, Edit("buying", f"Write order {number}", changes), checked=True)
    return number


def _lines_of(number: str) -> list[str]:
    rows = PurchaseLine.select(PurchaseLine.line).join(Purchase).where(Purchase.number == number)
    return [line for (line,) in rows.tuples()]


def change(
    account: Account,
    number: str,
    revision: int,
    supplier: str,
    lines: Sequence[tuple[str | None, WantedLine]],
    remark: str,
) -> None:
    """What an order that is being written says; lines that stay keep the request that they are of. A line
    that goes leaves its request open again. Raises NotFound, Stale, Refused."""
    with db.atomic():
        turn(PURCHASES)
        need_revision(NOUN, [number], revision)
        one = found(number)
        if one.state != "written":
            raise Refused("state", f"{number} is {one.state}; its lines are changed one by one.")
        head = {"supplier": supplier.strip()[:LONGEST_SUPPLIER], "remark": remark.strip()}
        changes = changes_to(NOUN, {(number,): head})
        had = _lines_of(number)
        keys = asking.keys_for(had, [key for key, _ in lines])
        wanted = dict(zip(keys, rows_of([line for _, line in lines]), strict=True))
        _need_within_requests(one, wanted)
        changes += removals(LINE, [(number, key) for key in had if key not in wanted])
        nobody = {"request": None, "request_line": "", **FRESH}
        changes += changes_to(
            LINE, {(number, k): row if k in had else {**row, **nobody} for k, row in wanted.items()}
        )
        if changes:
            write(STREAM, account, Edit("buying", f"Change order {number}", changes), checked=True)


def _need_within_requests(one: Purchase, wanted: dict[str, dict[str, Any]]) -> None:
    """Raises Refused for a line that orders more than is left of the line of a request that it is of."""
    rows = PurchaseLine.select(PurchaseLine, BuyRequest).join(BuyRequest).where(PurchaseLine.purchase == one)
    of = {r.line: r for r in rows if r.line in wanted and wanted[r.line]["quantity"] > r.quantity}
    if not of:
        return
    ordered = ordered_of({r.request_id for r in of.values()})
    for line, row in of.items():
        asked = BuyLine.get((BuyLine.request == row.request_id) & (BuyLine.line == row.request_line))
        others = ordered.get((row.request_id, row.request_line), 0.0) - row.quantity
        left = round(asked.quantity - others, DIGITS)
        if wanted[line]["quantity"] > left:
            told = f"Line {row.request_line} of {row.request.number} asks for {left:g}."
            raise Refused("left", f"{told} Order more in a line of its own.", field="quantity")


def facts_of(one: Purchase) -> dict[str, Any]:
    """What moves of an order look at."""
    lines = PurchaseLine.select().where(PurchaseLine.purchase == one)
    return {
        "without_lines": not lines.exists() or lines.where(PurchaseLine.price.is_null()).exists(),
        "received": lines.where(PurchaseLine.received > 0).exists(),
    }


def move(account: Account, number: str, to: str, revision: int) -> None:
    """Place an order, whose lines without a day get the one that follows from the lead time, or cancel it.
    Raises NotFound, Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = found(number)
        need_move(NOUN, number, one.state, to, facts_of(one))
        wanted: dict[str, Any] = {"state": to}
        changes: list[Change] = []
        if to == "placed":
            wanted["placed"] = settings().day(site().timezone)
            changes = changes_to(LINE, _expected(one, wanted["placed"]))
        changes += changes_to(NOUN, {(number,): wanted})
        label = f"Order {number}: {one.state} becomes {to}"
        write(STREAM, account, Edit("buying", label, changes), checked=True)


def _expected(one: Purchase, today: date) -> dict[tuple[str, str], dict[str, Any]]:
    """When lines are to be there by the lead time of their part; days that were wanted sooner give way, for
    nobody has promised them."""
    rows: Any = PurchaseLine.select(PurchaseLine.line, PurchaseLine.day, Part.lead_days).left_outer_join(Part)
    out: dict[Any, dict[str, Any]] = {}
    for line, day, lead in rows.where(PurchaseLine.purchase == one).tuples():
        comes = None if lead is None else today + timedelta(days=lead)
        if comes is not None and (day is None or day < comes):
            out[(one.number, line)] = {"day": comes}
    return out


def promise(
    account: Account, number: str, line: str, day: date | None, confirmed: bool, awaited: bool, revision: int
) -> None:
    """When a line of a placed order comes, whether the supplier says so, and whether the rest is still
    awaited. Raises NotFound, Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        _need_line(number, line, ("placed", "delivered"))
        wanted = {"day": day, "confirmed": confirmed, "awaited": awaited}
        changes = changes_to(LINE, {(number, line): wanted})
        if changes:
            said = f"comes on {day}" if awaited and day else "comes some day" if awaited else "is complete"
            write(STREAM, account, Edit("buying", f"{number} line {line} {said}", changes), checked=True)


def take_off(account: Account, number: str, line: str, revision: int) -> None:
    """Take a line of which nothing came off an order; its request is open again. Raises NotFound, Stale,
    Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = _need_line(number, line, ("written", "placed"))
        if one.received:
            raise Refused("received", "Some of it came. Say that nothing more is awaited.", field="line")
        changes = removals(LINE, [(number, line)])
        write(STREAM, account, Edit("buying", f"Take line {line} off {number}", changes), checked=True)


def _need_line(number: str, line: str, states: tuple[str, ...]) -> PurchaseLine:
    """Raises NotFound, and Refused for an order in another state."""
    one = found(number)
    if one.state not in states:
        raise Refused("state", f"{number} is {one.state}.", field="state")
    of: PurchaseLine | None = PurchaseLine.get_or_none(
        (PurchaseLine.purchase == one) & (PurchaseLine.line == line)
    )
    if of is None:
        raise NotFound(LINE, f"There is no line {line[:20]} of {number}.")
    return of
