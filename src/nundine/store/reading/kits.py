"""Where the parts of WOs were set aside."""

from __future__ import annotations

from nundine.store.work_order import WorkOrder


def kits_of(orders: set[str]) -> dict[str, str]:
    """The place by number, of those WOs of which parts were set aside."""
    rows = WorkOrder.select(WorkOrder.number, WorkOrder.kit)
    return dict(rows.where(WorkOrder.number.in_(sorted(orders) or [""]) & (WorkOrder.kit != "")).tuples())
