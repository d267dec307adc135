"""Movements by hand: receipts, hand-outs to WOs and what comes back, counts, transfers. Each line is posted,
or fails with its reason; none is posted by half."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from nundine.core.parts.stock import DIGITS, Move, NotThere, Place, Position, after
from nundine.services.errors import Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import MOVEMENTS, take_several, turn
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.part import Movement, Part, Stock, Storeroom
from nundine.store.work_order import WorkOrder

STREAM, OWN, MOST = "parts", "M-", 1000
Kind = Literal["receipt", "hand-out", "give-back", "count", "transfer"]
Bought = Literal["return", "straight"]
"""Movements that only orders bring about."""
OPEN_FOR_PARTS = ("approved", "under way", "done")
"""States of WOs to which parts are handed out; of those that are done what was used is told later."""


@dataclass(frozen=True)
class Posting:
    """One line. `quantity` is what moves, of a count what was found; `price` of a unit of a receipt; `order`
    the WO that gets the parts or gives them back; `to` and `to_shelf` where a transfer goes; `purchase` the
    line of an order with which it came. What goes straight to a WO, or back from it to whoever delivered it
    (`quantity` < 0), has no storeroom."""

    kind: Kind | Bought
    part: str
    storeroom: str
    quantity: float
    shelf: str = ""
    lot: str = ""
    price: float | None = None
    order: str | None = None
    reason: str = ""
    to: str | None = None
    to_shelf: str = ""
    purchase: str = ""


@dataclass(frozen=True)
class NotPosted:
    """The place of a line among those that were sent, from 0, its field that is wrong, and why."""

    line: int
    field: str
    why: str


@dataclass(frozen=True)
class Posted:
    """How many lines were posted, and the others."""

    count: int
    failed: list[NotPosted]


def post(account: Account, lines: Sequence[Posting]) -> Posted:
    """Post what can be. Raises Refused for no line, or too many."""
    if not 1 <= len(lines) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} movements are posted at once.", field="lines")
    with db.atomic():
        counter = turn(MOVEMENTS)
        shelves = _Shelves(lines)
        failed: list[NotPosted] = []
        rows: list[dict[str, Any]] = []
        for n, line in enumerate(lines):
            try:
                rows += shelves.move(line)
            except Refused as bad:
                failed.append(NotPosted(n, str(bad.facts.get("field", "")), bad.text))
        numbers = take_several(counter, Movement, OWN, 100_000, len(rows))
        said = {"at": settings().now(), "by": account.full_name}
        changes = changes_to(
            "movement", {(n,): {**row, **said} for n, row in zip(numbers, rows, strict=True)}
        )
        if changes:
            write(STREAM, account, Edit("movement", _label(rows), changes), checked=True)
    return Posted(len(lines) - len(failed), failed)


class _Shelves:
    """What lies where of the parts of some lines, as one line after another moves it."""

    def __init__(self, lines: Sequence[Posting]) -> None:
        keys = sorted({line.part for line in lines})
        self._parts = {p.key: p for p in Part.select().where(Part.key.in_(keys))}
        self._stores = {key for (key,) in Storeroom.select(Storeroom.key).tuples()}
        wanted = sorted({line.order for line in lines if line.order})
        rows: Any = WorkOrder.select(WorkOrder.number, WorkOrder.state, WorkOrder.id)
        chosen = rows.where(WorkOrder.number.in_(wanted or [""])).tuples()
        self._orders: dict[str, tuple[str, int]] = {n: (state, id_) for n, state, id_ in chosen}
        self._positions = self._stock()

    def _stock(self) -> dict[str, Position]:
        names = {p.id: p for p in self._parts.values()}
        rows: Any = Stock.select(Stock.part, Storeroom.key, Stock.shelf, Stock.lot, Stock.on_hand)
        places: dict[int, dict[Place, float]] = {id_: {} for id_ in names}
        for part, store, shelf, lot, there in (
            rows.join(Storeroom).where(Stock.part.in_(list(names))).tuples()
        ):
            places[part][(store, shelf, lot)] = there
        return {p.key: Position(places[id_], p.average) for id_, p in names.items()}

    def move(self, line: Posting) -> list[dict[str, Any]]:
        """The rows of its movements; what lies where is as it is after them. Raises Refused."""
        part = self._checked(line)
        if line.kind == "straight":
            return [self._straight(line, part)]
        position = self._positions[part.key]
        moves = self._moves(line, part, position)
        for move in moves:
            try:
                position = after(position, move)
            except NotThere as bad:
                where = ", ".join(p for p in bad.place if p)
                raise Refused("stock", f"{bad} in {where}.", field="quantity") from None
        self._positions[part.key] = position
        return [
            {
                "kind": m.kind,
                "part": part.key,
                "storeroom": m.place[0],
                "shelf": m.place[1],
                "lot": m.place[2],
                "quantity": m.quantity,
                "price": m.price,
                **_beside(line),
            }
            for m in moves
        ]

    def _straight(self, line: Posting, part: Part) -> dict[str, Any]:
        """What lies nowhere: it went from whoever delivered it to the WO, or back."""
        if line.quantity < 0:
            self._need_given(line, part, -line.quantity)
        quantity = -round(line.quantity, DIGITS)
        nowhere = {"storeroom": None, "shelf": "", "lot": ""}
        return {
            "kind": line.kind,
            "part": part.key,
            **nowhere,
            "quantity": quantity,
            "price": line.price,
            **_beside(line),
        }

    def _checked(self, line: Posting) -> Part:
        part = self._parts.get(line.part)
        if part is None:
            raise Refused("part", f"There is no part {line.part[:40]}.", field="part")
        if not part.tracked:
            raise Refused("part", f"{part.key} is a consumable; its movements are not kept.", field="part")
        if part.blocked and line.kind == "hand-out":
            raise Refused("blocked", f"{part.key} is blocked.", field="part")
        straight = line.kind == "straight"
        for field, store in (("storeroom", line.storeroom), ("to", line.to)):
            if straight:
                break
            if store is not None and store not in self._stores:
                raise Refused(
                    "storeroom", f"There is no storeroom {store[:40] or 'without a name'}.", field=field
                )
        if (line.quantity < 0 and not straight) or (not line.quantity and line.kind != "count"):
            raise Refused("quantity", "Say how many, more than 0.", field="quantity")
        if line.order and line.quantity >= 0:
            self._need_open(line.order)
        elif line.kind == "give-back":
            raise Refused("order", "Say the WO that gives them back.", field="order")
        return part

    def _need_open(self, order: str) -> None:
        if order not in self._orders:
            raise Refused("order", f"There is no WO {order[:40]}.", field="order")
        state, _ = self._orders[order]
        if state not in OPEN_FOR_PARTS:
            raise Refused("order", f"{order} is {state}; parts go to WOs that are approved.", field="order")

    def _moves(self, line: Posting, part: Part, position: Position) -> list[Move]:
        quantity = round(line.quantity, DIGITS)
        place = (line.storeroom, line.shelf.strip(), line.lot.strip())
        price = part.price if part.valued == "standard" else position.average
        if price is None:
            price = part.price
        one = Move(line.kind, place, quantity, price)
        if line.kind == "receipt":
            return [replace(one, price=part.price if line.price is None else line.price)]
        if line.kind in ("hand-out", "return"):
            return [replace(one, quantity=-quantity)]
        if line.kind == "give-back":
            self._need_given(line, part, quantity)
            return [one]
        if line.kind == "count":
            differs = round(quantity - position.places.get(place, 0.0), DIGITS)
            if differs and not line.reason.strip():
                told = f"{position.places.get(place, 0.0):g} should lie there. Say why it differs."
                raise Refused("reason", told, field="reason")
            return [replace(one, quantity=differs)] if differs else []
        other = (line.to or line.storeroom, line.to_shelf.strip(), place[2])
        if other == place:
            raise Refused("to", "Say where they go: another storeroom or shelf.", field="to")
        return [replace(one, quantity=-quantity), replace(one, place=other)]

    def _need_given(self, line: Posting, part: Part, quantity: float) -> None:
        """Raises Refused for more than the WO got."""
        _, order = self._orders[line.order or ""]
        moved = Movement.select(Movement.quantity).where((Movement.order == order) & (Movement.part == part))
        got = -sum(q for (q,) in moved.tuples())
        if quantity > round(got, DIGITS):
            raise Refused("quantity", f"{line.order} got {got:g} of {part.key}.", field="quantity")


def _beside(line: Posting) -> dict[str, Any]:
    return {"order": line.order or None, "reason": line.reason.strip()[:400], "purchase": line.purchase}


VERBS = {"receipt": "Receive", "hand-out": "Hand out", "give-back": "Take back", "count": "Count",
         "transfer": "Move", "return": "Send back", "straight": "Deliver"}  # fmt: skip


def _label(rows: Sequence[dict[str, Any]]) -> str:
    if not rows:
        return ""
    one = rows[0]
    if len(rows) > 1 and not (len(rows) == 2 and one["kind"] == "transfer"):
        return f"{len(rows)} movements of parts"
    to = f" for {one['order']}" if one["order"] else ""
    return f"{VERBS[one['kind']]} {abs(one['quantity']):g} of {one['part']}{to}"
