"""Many WOs moved at once: those that may go, go; of each other it is said why not; and all of it can be taken
back."""

from __future__ import annotations

from dataclasses import dataclass

from nundine.core.lifecycle import IN_NO_WEEK, LIFECYCLES, OPEN_STATES, ORDER_STATES
from nundine.services.access import PLAN, may, require
from nundine.services.errors import NotAllowed, NotFound, Refused, Stale
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
from nundine.store.site import Area
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
    require(account, PLAN)
    if to not in ORDER_STATES:
        raise Refused("state", f"{to[:20]!r} is no state of a WO.", field="to")
    if len(numbers) > MOST:
        raise Refused("many", f"More than {MOST} can not be moved at once. Filter them first.")
    cycle = LIFECYCLES["work order"]
    with db.atomic():
        turn(WORK_ORDERS)
        rows = (
            WorkOrder.select(WorkOrder.number, WorkOrder.state, Area.key)
            .join(Asset)
            .join(Area)
            .where(WorkOrder.number.in_(numbers or [""]))
            .order_by(WorkOrder.number)
            .for_update()
        )
        found = {number: (state, area) for number, state, area in rows.tuples()}
        placed = placed_in(list(found))
        wanted, refused = {}, []
        for number in dict.fromkeys(numbers):
            if number not in found:
                refused.append(NotMoved(number, f"There is no WO {number}."))
                continue
            state, area = found[number]
            blocked = cycle.blocked(state, to, "hand", {"week": placed.get(number)})
            if not may(account, PLAN, area):
                refused.append(NotMoved(number, "It lies in an area in which you do not plan."))
            elif state == to:
                refused.append(NotMoved(number, f"It is {to} already."))
            elif blocked is not None:
                refused.append(NotMoved(number, words(blocked, number)))
            else:
                wanted[(number,)] = {"state": to}
        changes = changes_to("work order", wanted)
        if not changes:
            return Moved(0, to, refused, None)
        label = f"{len(changes)} WOs are {to}" if len(changes) > 1 else f"{changes[0].key[0]} is {to}"
        deed = write(STREAM, account, Edit("states", label, changes), checked=True)
    return Moved(len(changes), to, refused, deed.id)


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
        shut = [c.key[0] for c in changes if (c.after or {}).get("state") not in OPEN_STATES]
        for number, week in placed_in(shut).items():
            need(IN_NO_WEEK, number, {"week": week})
        write(STREAM, account, Edit("undo", f"Undo: {entry.label}", changes), undoes=deed)
    return len(changes)
