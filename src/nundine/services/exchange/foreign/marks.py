"""Placed work that an export changed: marked until somebody has seen it."""

from __future__ import annotations

from dataclasses import dataclass

from nundine.services.errors import NotFound
from nundine.store.foreign import OrderChange
from nundine.store.work_order import WorkOrder


@dataclass(frozen=True)
class MarkLine:
    """A field of a WO that an export changed, in words; which source said so, and when."""

    source: str
    at: str
    field: str
    what: str
    before: str
    after: str
    by_hand: bool


def changes_of(number: str) -> list[MarkLine]:
    """What was changed of a WO, a line for each field."""
    rows = (
        OrderChange.select()
        .join(WorkOrder)
        .where(~OrderChange.seen & (WorkOrder.number == number))
        .order_by(OrderChange.id)
    )
    return [MarkLine(r.source, r.at.isoformat(), **line) for r in rows for line in r.changes]


def marked(jobs: set[str]) -> list[str]:
    """Which of these jobs are marked."""
    rows = OrderChange.select(WorkOrder.number).join(WorkOrder).where(~OrderChange.seen).distinct().tuples()
    return sorted(n for (n,) in rows if n in jobs)


def seen(number: str) -> None:
    """Somebody has looked at the changes of a WO."""
    order = WorkOrder.get_or_none(WorkOrder.number == number)
    if order is None:
        raise NotFound("job", f"There is no work order {number}.")
    OrderChange.update(seen=True).where(OrderChange.work_order == order).execute()
