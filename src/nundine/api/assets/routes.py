"""Assets: kept by hand, put in store, fitted again."""

from __future__ import annotations

from fastapi import APIRouter

from nundine.api.assets.schemas import AssetRemoval, AssetRow, Fitting
from nundine.api.http import DbRoute, Planner, Reader
from nundine.services.assets import fitting, keeping
from nundine.services.exchange.registers import RegisterRow

router = APIRouter(prefix="/api/assets", tags=["assets"], route_class=DbRoute)


@router.post("/fitting")
def fit(form: Fitting, account: Planner) -> int:
    """Put assets in store, or fit them; gives how many changed."""
    if form.in_store:
        return fitting.put_in_store(account, form.assets)
    return fitting.fit(account, form.assets, form.parent)


@router.post("", status_code=204)
def save(form: AssetRow, account: Planner) -> None:
    """Make an asset, or change it."""
    keeping.save(account, form.cells, form.revision)


@router.post("/removal", status_code=204)
def remove(form: AssetRemoval, account: Planner) -> None:
    """Take an asset away on which nothing hangs."""
    keeping.remove(account, form.key, form.revision)


@router.get("/{key:path}")
def the_asset(key: str, _: Reader) -> RegisterRow:
    """An asset as its form shows it."""
    return keeping.asset_row(key)
