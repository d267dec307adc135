"""WOs that are done are closed: their costs are final and charged to accounts; tried before it is done."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from nundine.core.lifecycle import CHARGING
from nundine.services.access import PLAN, may, require
from nundine.services.errors import Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import WORK_ORDERS, turn
from nundine.services.work.costs import NO_ACCOUNT, Charge, OrderCosts, costs_of
from nundine.services.work.moving import MOST, STREAM, Moved, NotMoved
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder


@dataclass(frozen=True)
class ClosingTrial:
    """What closing would do: WOs that can be closed with what they cost and by how much that differs from
    the plan (`actual - planned`, cents), what each account would bear, and those that can not, with why."""

    currency: str
    orders: list[OrderCosts]
    accounts: list[Charge]
    planned: int
    actual: int
    refused: list[NotMoved]


def trial(account: Account, numbers: list[str]) -> ClosingTrial:
    """Changes nothing. Raises NotAllowed, and Refused for too many at once."""
    require(account, PLAN)
    if len(numbers) > MOST:
        raise Refused("many", f"More than {MOST} can not be closed at once. Filter them first.")
    found = {c.number: c for c in costs_of(numbers)}
    area_of = dict(
        WorkOrder.select(WorkOrder.number, Area.key)
        .join(Asset)
        .join(Area)
        .where(WorkOrder.number.in_(list(found) or [""]))
        .tuples()
    )
    orders, refused = [], []
    for number in dict.fromkeys(numbers):
        one = found.get(number)
        if one is None:
            refused.append(NotMoved(number, f"There is no WO {number}."))
            continue
        why = (
            _why_not(one)
            if may(account, PLAN, area_of[number])
            else "It lies in an area in which you do not plan."
        )
        if why:
            refused.append(NotMoved(number, why))
        else:
            orders.append(one)
    accounts: dict[str, int] = defaultdict(int)
    for one in orders:
        for charge in one.charges:
            accounts[charge.account] += charge.amount
    return ClosingTrial(
        str(site().settings.get("currency", "")),
        orders,
        [Charge(a, amount) for a, amount in sorted(accounts.items())],
        sum(one.planned for one in orders),
        sum(one.actual or 0 for one in orders),
        refused,
    )


def _why_not(one: OrderCosts) -> str | None:
    """What stands in the way of closing a WO."""
    if one.state != "done":
        return f"{one.number} is {one.state}; a WO is closed once it is done."
    if one.actual is None:
        return f"No hours are reported for {one.number}. Report them under Run, or it would cost nothing."
    if any(c.account == NO_ACCOUNT for c in one.charges):
        return f"{one.number} has no cost account. Give one to it, or to its asset."
    return None


def close(account: Account, numbers: list[str]) -> Moved:
    """Close those that can be; each keeps what it cost and what was charged to whom. Raises NotAllowed,
    Refused."""
    with db.atomic():
        turn(WORK_ORDERS)
        list(WorkOrder.select(WorkOrder.id).where(WorkOrder.number.in_(numbers or [""])).for_update())
        tried = trial(account, numbers)
        wanted = {
            (one.number,): {
                "state": "closed",
                "cost_planned": one.planned,
                "cost_actual": one.actual,
                "charges": [[c.account, c.amount] for c in one.charges],
            }
            for one in tried.orders
        }
        if not wanted:
            return Moved(0, "closed", tried.refused, None)
        label = f"{len(wanted)} WOs are closed" if len(wanted) > 1 else f"{tried.orders[0].number} is closed"
        edit = Edit("states", label, changes_to("work order", wanted), by=CHARGING)
        deed = write(STREAM, account, edit, checked=True)
    return Moved(len(wanted), "closed", tried.refused, deed.id)
