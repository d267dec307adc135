"""When the parts of jobs are there: stock, what is to come and what can be bought is given to needs in their
order, so that a later need never takes what an earlier one gets."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

from nundine.core.parts.stock import DIGITS

TRANSFER_DAYS = 1
"""Days until a part of another storeroom is where it is needed (common practice, no source)."""
How = Literal["stock", "transfer", "alternate", "receipt", "bought", "unknown"]


@dataclass(frozen=True)
class Supply:
    """What there is of a part.

    Parameters
    ----------
    stock
        By storeroom how many lie there.
    receipts
        Day, quantity and name of what is on its way.
    lead_days
        Until it is there when it is bought today; None = it can not be bought.
    alternates
        Parts that do instead.
    """

    stock: Mapping[str, float]
    receipts: tuple[tuple[date, float, str], ...] = ()
    lead_days: int | None = None
    alternates: tuple[str, ...] = ()


@dataclass(frozen=True)
class Need:
    """What a job needs of a part, still to be handed out; `held`: how much was reserved for it so far;
    `reserves`: stock is kept for it; `straight`: day, quantity and name of what is on its way to this job
    alone."""

    id: str
    part: str
    quantity: float
    storeroom: str | None = None
    held: float = 0.0
    reserves: bool = True
    straight: tuple[tuple[date, float, str], ...] = ()


@dataclass(frozen=True)
class There:
    """From which day a need is met (None: nobody knows), how the last of it is, its name, and how much is
    reserved in stock."""

    day: date | None
    how: How
    name: str
    reserved: float


class _Shelf:
    """What is left of a part as one need after another takes from it."""

    def __init__(self, supply: Supply) -> None:
        self.supply = supply
        self.stock = dict(supply.stock)
        self.receipts = sorted(supply.receipts, key=lambda r: (r[0], r[2]))

    def free(self) -> float:
        return round(sum(self.stock.values()), DIGITS)

    def take(self, quantity: float, first: str | None) -> tuple[float, bool]:
        """Take from stock, of one storeroom first; gives how much there was, and whether some of it lies
        elsewhere."""
        got, elsewhere = 0.0, False
        for store in sorted(self.stock, key=lambda s: (s != first, -self.stock[s], s)):
            some = min(self.stock[store], round(quantity - got, DIGITS))
            if some <= 0:
                continue
            self.stock[store] = round(self.stock[store] - some, DIGITS)
            got = round(got + some, DIGITS)
            elsewhere |= first is not None and store != first
        return got, elsewhere

    def await_receipts(self, quantity: float) -> tuple[float, date, str]:
        """Take from what is on its way; gives how much, and the day and name of the last of it."""
        got, day, name = 0.0, date.min, ""
        for n, (comes, left, called) in enumerate(self.receipts):
            some = min(left, round(quantity - got, DIGITS))
            if some > 0:
                self.receipts[n] = (comes, round(left - some, DIGITS), called)
                got, day, name = round(got + some, DIGITS), comes, called
        return got, day, name


def allocate(supplies: Mapping[str, Supply], needs: Sequence[Need], today: date) -> dict[str, There]:
    """By need what becomes of it.

    What is on its way to a job alone is its own. What was reserved stays so, as far as it still lies there;
    then the needs that reserve, then the others, each group in the order given. A need takes from stock, from
    an alternate that is there in whole, from what is on its way, and is bought else. Raises KeyError for a
    part without supply.
    """
    shelves = {part: _Shelf(s) for part, s in supplies.items()}
    own = {need.id: _own(need) for need in needs}
    needs = [replace(n, quantity=round(n.quantity - own[n.id][0], DIGITS)) for n in needs]
    kept: dict[str, tuple[float, bool]] = {}
    for need in needs:
        if need.reserves and need.held > 0:
            wanted = min(need.held, need.quantity)
            kept[need.id] = shelves[need.part].take(wanted, need.storeroom)
    out: dict[str, There] = {}
    for need in [*(n for n in needs if n.reserves), *(n for n in needs if not n.reserves)]:
        found = _there(shelves, need, kept.get(need.id, (0.0, False)), today)
        out[need.id] = _with_own(found, need.quantity, own[need.id], today)
    return out


def _own(need: Need) -> tuple[float, date, str]:
    """How much of what is on its way to a job alone it takes, and the day and name of the last of it."""
    return _Shelf(Supply({}, need.straight)).await_receipts(need.quantity)


def _with_own(found: There, left: float, own: tuple[float, date, str], today: date) -> There:
    """What becomes of a need, of which all but `left` comes to its job alone."""
    much, day, name = own
    if not much:
        return found
    comes = max(day, today)
    if left <= 0 or (found.day is not None and found.day < comes):
        return There(comes, "receipt", name, found.reserved)
    return found


def _there(shelves: Mapping[str, _Shelf], need: Need, kept: tuple[float, bool], today: date) -> There:
    shelf = shelves[need.part]
    got, elsewhere = kept
    more, also = shelf.take(round(need.quantity - got, DIGITS), need.storeroom)
    got, elsewhere = round(got + more, DIGITS), elsewhere or also
    reserved = got if need.reserves else 0.0
    left = round(need.quantity - got, DIGITS)
    if left <= 0:
        if elsewhere:
            return There(today + timedelta(days=TRANSFER_DAYS), "transfer", "", reserved)
        return There(today, "stock", "", reserved)
    for other in shelf.supply.alternates:
        if other in shelves and shelves[other].free() >= left:
            shelves[other].take(left, need.storeroom)
            return There(today, "alternate", other, reserved)
    came, day, name = shelf.await_receipts(left)
    left = round(left - came, DIGITS)
    if left <= 0:
        return There(max(day, today), "receipt", name, reserved)
    if shelf.supply.lead_days is None:
        return There(None, "unknown", "", reserved)
    return There(today + timedelta(days=shelf.supply.lead_days), "bought", "", reserved)
