"""Requests and WOs that may say the same as a new request."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from nundine.core.lifecycle import OPEN_REQUESTS
from nundine.core.likeness import likeness
from nundine.store.asset import Asset
from nundine.store.request import WorkRequest
from nundine.store.work_order import OPEN_STATES, WorkOrder

MOST, ALIKE = 6, 0.34
"""So many are offered; texts at least so alike are, elsewhere on the same machine too."""


Kind = Literal["request", "work order"]


@dataclass(frozen=True)
class Double:
    """`alike`: how alike the words are, from 0 to 1; `here`: on the very same asset."""

    kind: Kind
    number: str
    title: str
    state: str
    asset: str
    here: bool
    alike: float


def doubles(one: WorkRequest) -> list[Double]:
    """Open work on the same asset, and on its neighbours in the tree where the words are alike; the likest
    first. None for a request that names no asset."""
    if one.asset is None:
        return []
    near = _near(one.asset)
    text = f"{one.title} {one.description}"
    out: list[Double] = []
    found: dict[Kind, Any] = {"request": _requests(one, near), "work order": _orders(one, near)}
    for kind, rows in found.items():
        for number, title, state, asset, name in rows:
            alike = max(likeness(one.title, title), likeness(text, title))
            here = asset == one.asset_id
            if here or alike >= ALIKE:
                out.append(Double(kind, number, title, state, name, here, round(alike, 2)))
    return sorted(out, key=lambda d: (-(d.alike + 0.2 * d.here), d.number))[:MOST]


def _near(asset: Asset) -> list[int]:
    """The asset, what it is part of, and the parts of both."""
    ids = [asset.id] + ([asset.parent_id] if asset.parent_id else [])
    parts = Asset.select(Asset.id).where(Asset.parent.in_(ids)).tuples()
    return [*ids, *(i for (i,) in parts)]


def _requests(one: WorkRequest, near: list[int]) -> Any:
    return (
        WorkRequest.select(
            WorkRequest.number, WorkRequest.title, WorkRequest.state, WorkRequest.asset, Asset.name
        )
        .join(Asset)
        .where(
            WorkRequest.asset.in_(near)
            & (WorkRequest.id != one.id)
            & WorkRequest.state.in_((*OPEN_REQUESTS, "in work"))
        )
        .order_by(WorkRequest.id.desc())
        .limit(200)
        .tuples()
    )


def _orders(one: WorkRequest, near: list[int]) -> Any:
    return (
        WorkOrder.select(WorkOrder.number, WorkOrder.title, WorkOrder.state, WorkOrder.asset, Asset.name)
        .join(Asset)
        .where(WorkOrder.asset.in_(near) & WorkOrder.state.in_((*OPEN_STATES, "draft", "on hold")))
        .order_by(WorkOrder.id.desc())
        .limit(200)
        .tuples()
    )
