"""Assets kept by hand, one by one: made, changed, taken away."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from nundine.services.access import PLAN, require_in
from nundine.services.assets.fitting import need_no_ring
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange import registers
from nundine.services.exchange.forms import Cells, cells_of
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.registers import RegisterRow
from nundine.services.ledger.nouns import NOUNS
from nundine.store.account import Account
from nundine.store.asset import Asset, AssetWindow
from nundine.store.base import db
from nundine.store.part import AssetPart
from nundine.store.site import Area, site


def asset_row(key: str) -> RegisterRow:
    """An asset as text cells, and its revision. Raises NotFound."""
    found = Asset.get_or_none(Asset.key == key)
    if found is None:
        raise NotFound("asset", f"There is no asset {key[:60]}.")
    (row,) = KINDS["assets"].rows(list(NOUNS["asset"].read([(key,)]).values()))
    return RegisterRow(cells_of("assets", row, ZoneInfo(site().timezone)), found.revision)


def save(account: Account, cells: Cells, revision: int | None) -> None:
    """Make an asset (`revision` None), or change one that was seen at a revision.

    Raises
    ------
    NotAllowed
        For one in an area, or that goes to one, in which the account does not plan.
    Refused
        With the field: a cell that can not be read, an asset that would be a part of itself.
    NotFound, Stale
    """
    key = (cells.get("asset") or "").strip()
    with db.atomic():
        areas = {(cells.get("area") or "").strip() or None, *_area_of(key)}
        require_in(account, PLAN, areas)
        if parent := (cells.get("parent") or "").strip():
            need_no_ring([key], Asset.get_or_none(Asset.key == parent))
        registers.save(account, "assets", cells, revision)


def remove(account: Account, key: str, revision: int) -> None:
    """Take an asset away. Raises NotAllowed, NotFound, Stale, and Refused for one on which anything hangs."""
    with db.atomic():
        require_in(account, PLAN, _area_of(key))
        for table, what in ((AssetWindow, "windows"), (AssetPart, "a parts list")):
            if table.select().join(Asset).where(Asset.key == key).exists():
                raise Refused("used", f"Asset {key} has {what}; nothing was taken away.")
        registers.remove(account, "assets", key, revision)


def _area_of(key: str) -> list[str]:
    """The area of an asset, in a list; empty where there is no such asset."""
    return [area for (area,) in Asset.select(Area.key).join(Area).where(Asset.key == key).tuples()]
