"""Assets put in store, and fitted again: in store their preventive services are held, and fitting says where
they are now."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from nundine.services.access import PLAN, require_in
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.site import Area

MOST = 500


def put_in_store(account: Account, keys: Sequence[str]) -> int:
    """Gives how many were not in store. Raises as `fit`."""
    return _change(account, keys, {"in_store": True}, "put in store", None)


def fit(account: Account, keys: Sequence[str], parent: str | None) -> int:
    """Fit assets where they were, or as parts of another, in its area. Gives how many changed.

    Raises
    ------
    NotFound
        For an asset that there is not.
    NotAllowed
        For one in an area in which the account does not plan.
    Refused
        For an asset fitted into itself or a part of itself; for none or too many.
    """
    if parent is None:
        return _change(account, keys, {"in_store": False}, "fitted again", None)
    place = Asset.get_or_none(Asset.key == parent)
    if place is None:
        raise NotFound("asset", f"There is no asset {parent[:60]}.")
    need_no_ring(keys, place)
    row = {"in_store": False, "parent": parent, "area": place.area.key}
    return _change(account, keys, row, f"fitted into {parent}", place.area.key)


def need_no_ring(keys: Sequence[str], place: Asset | None) -> None:
    """Raises Refused where an asset of these would be a part of itself."""
    up, into = place, place.key if place else ""
    while up is not None:
        if up.key in keys:
            raise Refused(
                "part", f"{up.key} can not be a part of {into}, which is part of it.", field="parent"
            )
        up = up.parent


def _change(account: Account, keys: Sequence[str], row: dict[str, Any], what: str, area: str | None) -> int:
    if not 1 <= len(keys) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} assets at once.", field="assets")
    with db.atomic():
        rows = Asset.select(Asset.key, Area.key).join(Area).where(Asset.key.in_(list(keys)))
        areas = dict(rows.for_update().tuples())
        missing = next((k for k in keys if k not in areas), None)
        if missing is not None:
            raise NotFound("asset", f"There is no asset {missing[:60]}.")
        require_in(account, PLAN, sorted({*areas.values(), *([area] if area else [])}))
        changes = changes_to("asset", {(k,): row for k in keys})
        if changes:
            named = keys[0] if len(keys) == 1 else f"{len(keys)} assets"
            write("files", account, Edit("fit", f"{named} {what}", changes), checked=True)
    return len(changes)
