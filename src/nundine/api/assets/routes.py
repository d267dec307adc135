"""Assets: put in store, fitted again."""

from __future__ import annotations

from fastapi import APIRouter

from nundine.api.assets.schemas import Fitting
from nundine.api.http import DbRoute, Planner
from nundine.services.assets import fitting

router = APIRouter(prefix="/api/assets", tags=["assets"], route_class=DbRoute)


@router.post("/fitting")
def fit(form: Fitting, account: Planner) -> int:
    """Put assets in store, or fit them; gives how many changed."""
    if form.in_store:
        return fitting.put_in_store(account, form.assets)
    return fitting.fit(account, form.assets, form.parent)
