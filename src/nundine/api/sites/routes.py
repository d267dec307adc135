"""The sites of the installation, for those who look after it."""

from __future__ import annotations

from fastapi import APIRouter

from nundine.api import schemas
from nundine.api.http import Administrator, DbRoute
from nundine.services.admin import sites
from nundine.store.belonging import Site

router = APIRouter(prefix="/api/sites", tags=["sites"], route_class=DbRoute)


@router.get("", response_model=list[schemas.SiteShape])
def the_sites(_: Administrator) -> list[Site]:
    return sites.listed()


@router.post("", response_model=list[schemas.SiteShape])
def make(form: schemas.SiteForm, account: Administrator) -> list[Site]:
    """A new site, without areas and people; crafts and tools that are shared are there."""
    sites.make(account, form.key, form.name, form.timezone)
    return sites.listed()


@router.post("/shared-crafts", status_code=204)
def share_crafts(account: Administrator) -> None:
    """Crafts and tools of this site are known at all others from now on."""
    sites.share_crafts(account)
