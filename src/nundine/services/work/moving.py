"""Many WOs moved, or given a crew or a date, at once: those that may, are; of each other it is said why not;
and all of it can be taken back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import IN_NO_WEEK, LIFECYCLES, OPEN_STATES, ORDER_STATES
from nundine.formats.bad import BadCell
from nundine.services.access import PLAN, may, require
from nundine.services.errors import NotAllowed, NotFound, Refused, Stale
from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.entries import changes_of
from nundine.services.ledger.stored import changes_to
from nundine.services.lifecycles import need, words
from nundine.services.numbering import WORK_ORDERS, turn
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.ledger import LedgerEntry
from nundine.store.placement import placed_in
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder

STREAM, MOST = "work orders", 5000


@dataclass(frozen=True)
class NotMoved:
    """A WO that stays as it is, and why."""

    number: str
    why: str


@dataclass(frozen=True)
class Moved:
    """How many were moved, which were not, and the deed by which it can be taken back; None if none was."""

    count: int
    to: str
    refused: list[NotMoved]
    deed: int | None


def move_all(account: Account, numbers: list[str], to: str) -> Moved:
    """Hold, release or cancel many. Raises NotAllowed, and Refused for no such state or too many at once."""
    if to not in ORDER_STATES:
        raise Refused("state", f"{to[:20]!r} is no state of a WO.", field="to")
    cycle = LIFECYCLES["work order"]

    def why_not(order: Found) -> str | None:
        if order.state == to:
            return f"It is {to} already."
        blocked = cycle.blocked(order.state, to, "hand", {"week": order.week})
        return words(blocked, order.number) if blocked else None

    return _change_all(account, numbers, {"state": to}, f"are {to}", why_not, to)


FIELDS = {"crew": "answerable", "earliest": "not before", "due": "due", "latest": "not after"}
"""Fields that are set for many at once, in words."""


def set_all(account: Account, numbers: list[str], name: str, cell: str) -> Moved:
    """The same answerable crew or date for many that are not over; an empty cell takes it off. Raises
    NotAllowed, and Refused for no such field, what can not be read, or too many at once."""
    column = next((c for c in KINDS["work_orders"].columns if c.name == name and name in FIELDS), None)
    if column is None:
        raise Refused("field", f"{name[:20]!r} is not set for many at once.", field="name")
    try:
        value = column.value(cell, ZoneInfo(site().timezone))
    except BadCell as bad:
        raise Refused("field", f"{FIELDS[name]}: {bad}", field="cell") from None

    def why_not(order: Found) -> str | None:
        over = order.state in ("done", "closed", "cancelled")
        return f"{order.number} is {order.state}; it stays as it is." if over else None

    told = f"have {FIELDS[name]} {cell}" if cell.strip() else f"have no {FIELDS[name]}"
    return _change_all(account, numbers, {name: value}, told, why_not, "set")


@dataclass(frozen=True)
class Found:
    """A WO as it stands; `week`: that in which it is placed."""

    number: str
    state: str
    area: str
    week: str | None


def _change_all(
    account: Account,
    numbers: list[str],
    wanted: dict[str, Any],
    told: str,
    why_not: Callable[[Found], str | None],
    to: str,
) -> Moved:
    """Change those of which nothing says why not, in one deed."""
    require(account, PLAN)
    if len(numbers) > MOST:
        raise Refused("many", f"More than {MOST} can not be changed at once. Filter them first.")
    with db.atomic():
        turn(WORK_ORDERS)
        found = _found(numbers)
        rows: dict[tuple[str], dict[str, Any]] = {}
        refused = []
        for number in dict.fromkeys(numbers):
            order = found.get(number)
            if order is None:
                why: str | None = f"There is no WO {number}."
            elif not may(account, PLAN, order.area):
                why = "It lies in an area in which you do not plan."
            else:
                why = why_not(order)
            if why:
                refused.append(NotMoved(number, why))
            else:
                rows[(number,)] = wanted
        changes = changes_to("work order", rows)
        if not changes:
            return Moved(len(rows), to, refused, None)
        first = changes[0].key[0]
        label = f"{len(changes)} WOs {told}" if len(changes) > 1 else f"{first}: {told}"
        deed = write(STREAM, account, Edit("states", label, changes), checked=True)
    return Moved(len(rows), to, refused, deed.id)


def _found(numbers: list[str]) -> dict[str, Found]:
    """Those that are there, locked."""
    rows = (
        WorkOrder.select(WorkOrder.number, WorkOrder.state, Area.key)
        .join(Asset)
        .join(Area)
        .where(WorkOrder.number.in_(numbers or [""]))
        .order_by(WorkOrder.number)
        .for_update()
    )
    states = list(rows.tuples())
    placed = placed_in([number for number, *_ in states])
    return {n: Found(n, state, area, placed.get(n)) for n, state, area in states}


def take_back(account: Account, deed: int) -> int:
    """Take back one's own move of many. Gives how many were moved back.

    Raises
    ------
    NotFound, NotAllowed, Refused, Stale
        If there is no such move, it is another's, it was taken back already, one of the WOs was placed or
        changed meanwhile. Then none moves.
    """
    with db.atomic():
        turn(WORK_ORDERS)
        entry = LedgerEntry.get_or_none(
            (LedgerEntry.id == deed) & (LedgerEntry.stream == STREAM) & (LedgerEntry.kind == "states")
        )
        if entry is None:
            raise NotFound("deed", "There is no such move.")
        if entry.account_id != account.id:
            raise NotAllowed("deed", "Somebody else moved these; ask them.")
        undone = (LedgerEntry.stream == STREAM) & (LedgerEntry.undoes == deed)
        if LedgerEntry.select().where(undone).exists():
            raise Stale("undone", "This was taken back already.")
        changes = [
            Change(c.noun, c.key, c.before, c.after).inverse() for c in changes_of(entry) if not c.derived
        ]
        back = [(c.key[0], (c.after or {}).get("state")) for c in changes]
        shut = [number for number, state in back if state is not None and state not in OPEN_STATES]
        for number, week in placed_in(shut).items():
            need(IN_NO_WEEK, number, {"week": week})
        write(STREAM, account, Edit("undo", f"Undo: {entry.label}", changes), undoes=deed)
    return len(changes)
