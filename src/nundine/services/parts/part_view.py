"""Where is it? All that is known of a part: what lies where, which assets use it, what does instead, what
moved."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from peewee import JOIN, fn

from nundine.core.parts.stock import DIGITS
from nundine.services.errors import NotFound
from nundine.services.exchange.forms import Cells, cells_of
from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.nouns import NOUNS
from nundine.services.work import attachments
from nundine.services.work.attachments import AttachedFile
from nundine.store.asset import Asset
from nundine.store.buying import Purchase, PurchaseLine
from nundine.store.part import AssetPart, Movement, Part, PartNeed, Stock, Storeroom
from nundine.store.reading.alternates import all_alternates
from nundine.store.reading.kept_parts import LEFT, instead, kept_of_parts
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder

NOUN = "part"
MOST_MOVES = 30


@dataclass(frozen=True)
class PlaceLine:
    """What lies in a place."""

    storeroom: str
    name: str
    shelf: str
    lot: str
    on_hand: float


@dataclass(frozen=True)
class UsedOn:
    """An asset that has the part, how many, and where."""

    asset: str
    name: str
    area: str
    quantity: float
    remark: str


@dataclass(frozen=True)
class Alternate:
    """A part that does instead, and how many of it there are."""

    part: str
    name: str
    on_hand: float


@dataclass(frozen=True)
class WantedBy:
    """A WO that needs the part, or another `instead_of` which it does: how much still, how much is kept for
    it, and from which day the rest is there, None = nobody knows."""

    order: str
    title: str
    wanted: float
    reserved: float
    day: date | None
    how: str
    instead_of: str = ""


@dataclass(frozen=True)
class OnOrder:
    """What is on its way of the part: how much, when it comes (None = nobody knows), whether the supplier
    says so, and the WO to which it goes straight."""

    purchase: str
    supplier: str
    quantity: float
    day: date | None
    confirmed: bool
    order: str | None


@dataclass(frozen=True)
class MoveLine:
    number: str
    at: datetime
    kind: str
    storeroom: str | None
    shelf: str
    lot: str
    quantity: float
    price: float | None
    order: str | None
    by: str
    reason: str


@dataclass(frozen=True)
class PartDocument:
    """A part as text cells; `average`: what a unit cost on average, `value`: what all that is there is
    worth."""

    part: Cells
    revision: int
    on_hand: float
    reserved: float
    average: float | None
    value: float | None
    places: list[PlaceLine]
    on_order: list[OnOrder]
    wanted_by: list[WantedBy]
    used_on: list[UsedOn]
    alternates: list[Alternate]
    moves: list[MoveLine]
    files: list[AttachedFile]


@dataclass(frozen=True)
class WordsUsed:
    """Groups and makers that stand on parts."""

    groups: list[str]
    makers: list[str]


def words_used() -> WordsUsed:
    """Each once, in the order of words."""
    groups, makers = (
        [word for (word,) in Part.select(field).where(field != "").distinct().order_by(field).tuples()]
        for field in (Part.group, Part.maker)
    )
    return WordsUsed(groups, makers)


def document(key: str) -> PartDocument:
    """Raises NotFound."""
    one = found(key)
    (row,) = KINDS["parts"].rows(list(NOUNS[NOUN].read([(key,)]).values()))
    wanted = _wanted_by(one)
    price = one.price if one.valued == "standard" else one.average
    return PartDocument(
        cells_of("parts", row, ZoneInfo(site().timezone)),
        one.revision,
        one.on_hand,
        _kept(one),
        one.average,
        None if price is None else round(price * one.on_hand, 2),
        _places(one),
        _on_order(one),
        wanted,
        _used_on(one),
        _alternates(one),
        _moves(one),
        attachments.attached(NOUN, key),
    )


def found(key: str) -> Part:
    """Raises NotFound."""
    one: Part | None = Part.get_or_none(Part.key == key)
    if one is None:
        raise NotFound(NOUN, f"There is no part {key[:40]}.")
    return one


def _kept(part: Part) -> float:
    kept = kept_of_parts()
    found = Part.select(kept.c.much).join(kept, on=kept.c.part_id == Part.id).where(Part.id == part.id)
    return float(found.scalar() or 0.0)


def _places(part: Part) -> list[PlaceLine]:
    rows: Any = Stock.select(Storeroom.key, Storeroom.name, Stock.shelf, Stock.lot, Stock.on_hand)
    rows = rows.join(Storeroom).where(Stock.part == part)
    return [PlaceLine(*r) for r in rows.order_by(Storeroom.name, Stock.shelf, Stock.lot).tuples()]


def _on_order(part: Part) -> list[OnOrder]:
    """What is still to come of orders that were placed, the first to come first."""
    L = PurchaseLine
    rows: Any = L.select(
        Purchase.number, Purchase.supplier, L.quantity, L.received, L.day, L.confirmed, WorkOrder.number
    ).join(Purchase).join_from(L, WorkOrder, JOIN.LEFT_OUTER)  # fmt: skip
    awaited = (L.part == part) & (Purchase.state == "placed") & L.awaited & (L.received < L.quantity)
    return [
        OnOrder(number, supplier, round(quantity - received, DIGITS), day, confirmed, order)
        for number, supplier, quantity, received, day, confirmed, order in (
            rows.where(awaited).order_by(L.day.is_null(), L.day).tuples()
        )
    ]


def _wanted_by(part: Part) -> list[WantedBy]:
    """Those for which something is reserved first, then by when it is there."""
    rows: Any = PartNeed.select(
        WorkOrder.number, WorkOrder.title, PartNeed.quantity, PartNeed.given, PartNeed.reserved, PartNeed.day,
        PartNeed.how,
    ).join(WorkOrder)  # fmt: skip
    of_part = rows.where((PartNeed.part == part) & (PartNeed.given < PartNeed.quantity))
    chosen = of_part.order_by(PartNeed.reserved.desc(), PartNeed.day, WorkOrder.number).limit(MOST_MOVES)
    own = [
        WantedBy(number, title, round(quantity - given, 3), reserved, day, how)
        for number, title, quantity, given, reserved, day, how in chosen.tuples()
    ]
    return [*own, *_instead(part)]


def _instead(part: Part) -> list[WantedBy]:
    """WOs that take the part instead of another."""
    rows = instead().join_from(PartNeed, Part).where(PartNeed.name == part.key)
    wanted = rows.select(WorkOrder.number, WorkOrder.title, LEFT, PartNeed.day, PartNeed.how, Part.key)
    return [
        WantedBy(number, title, round(much, 3), round(much, 3), day, how, other)
        for number, title, much, day, how, other in wanted.order_by(WorkOrder.number).tuples()
    ]


def _used_on(part: Part) -> list[UsedOn]:
    rows: Any = AssetPart.select(Asset.key, Asset.name, Area.name, AssetPart.quantity, AssetPart.remark)
    rows = rows.join(Asset).join(Area).where(AssetPart.part == part).order_by(Asset.name)
    return [UsedOn(*r) for r in rows.tuples()]


def _alternates(part: Part) -> list[Alternate]:
    """Those that it names, and those that name it as one that does both ways."""
    named = all_alternates().get(part.key, ())
    rows: Any = Part.select(Part.key, Part.name, Part.on_hand).where(Part.key.in_(named or ("",)))
    return [Alternate(*r) for r in rows.order_by(Part.key).tuples()]


def _moves(part: Part) -> list[MoveLine]:
    rows: Any = (
        Movement.select(
            Movement.number, Movement.at, Movement.kind, Storeroom.name, Movement.shelf, Movement.lot,
            Movement.quantity, Movement.price, WorkOrder.number, Movement.by, Movement.reason,
        )
        .join(Storeroom, JOIN.LEFT_OUTER)
        .join_from(Movement, WorkOrder, JOIN.LEFT_OUTER)
        .where(Movement.part == part)
        .order_by(Movement.at.desc(), fn.LENGTH(Movement.number).desc(), Movement.number.desc())
        .limit(MOST_MOVES)
    )  # fmt: skip
    return [MoveLine(*r) for r in rows.tuples()]
