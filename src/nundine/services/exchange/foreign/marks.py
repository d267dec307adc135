"""Placed work that an export changed: marked until somebody has seen it."""

from __future__ import annotations

from typing import Any

from nundine.services.errors import NotFound
from nundine.store.foreign import OrderChange
from nundine.store.work_order import WorkOrder


def changes_of(number: str) -> list[dict[str, Any]]:
    """What was changed of a WO, a line for each field."""
    rows = (
        OrderChange.select()
        .join(WorkOrder)
        .where(~OrderChange.seen & (WorkOrder.number == number))
        .order_by(OrderChange.id)
    )
    return [{"source": r.source, "at": r.at.isoformat(), **line} for r in rows for line in r.changes]


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
