"""Signing in and out."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response

from nundine.api.http import DbRoute, cookie, current, is_active, waits
from nundine.api.schemas import CodeNeeded, Me, SignInForm, SiteName
from nundine.core.timeline import week_name
from nundine.services import access
from nundine.services.admin import sign_in, sign_in_rules
from nundine.services.admin.look import look_of
from nundine.services.errors import NotAllowed, NotSignedIn
from nundine.services.week.state import has_work
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.belonging import choose, first_site, here, site

FIRST_STEP = {"supervisor": "run", "operations": "agree", "reader": "publish"}
"""Where a role begins; others go on where they were."""

router = APIRouter(prefix="/api/session", tags=["session"], route_class=DbRoute)


def me(account: Account) -> Me:
    seen = access.sites_of(account)
    if seen and here() not in {s.id for s in seen}:
        choose(seen[0].id)
    rights, roles = access.rights_of(account), access.roles_of(account)
    first = next(iter(roles), "reader")
    today = settings().day(site().timezone)
    planned, running = week_name(today + timedelta(days=7)), week_name(today)
    runs = first == "supervisor" and has_work(running)
    return Me(
        name=account.name,
        full_name=account.full_name,
        role=" and ".join(roles),
        rights=sorted(rights),
        week=running if runs else planned,
        step=FIRST_STEP.get(first),
        one_time=account.one_time,
        factor=account.factor is not None,
        factor_wanted=account.factor is None and sign_in_rules.demands_factor(account),
        areas=access.areas_of(account),
        site=site().key,
        timezone=site().timezone,
        look=look_of(account),
        first=here() == first_site(),
        sites=[SiteName(key=s.key, name=s.name) for s in seen],
    )


@router.post("", response_model=Me | CodeNeeded)
@waits
def sign_in_here(form: SignInForm, request: Request, response: Response) -> Me | CodeNeeded:
    """Who signed in; or that the code of the second factor is still to be given with the same again."""
    if request.headers.get("x-nundine") != "1":
        raise NotAllowed("origin", "This request did not come from Nundine's own page.")
    address = request.client.host if request.client else "?"
    browser = request.cookies.get(cookie("browser"))
    try:
        made = sign_in.sign_in(form.name, form.password, address, browser, form.code)
    except sign_in.CodeNeeded:
        return CodeNeeded()
    for name, token, lasts in (
        ("session", made.token, sign_in.LASTS),
        ("browser", made.browser, sign_in.KNOWN_FOR),
    ):
        response.set_cookie(
            cookie(name),
            token,
            httponly=True,
            samesite="strict",
            path="/",
            max_age=int(lasts.total_seconds()),
            secure=settings().secure,
        )
    return me(made.account)


@router.get("", response_model=Me | None)
def who(request: Request) -> Me | None:
    """Who is signed in; null for nobody, which is no error."""
    try:
        return me(sign_in.signed_in(request.cookies.get(cookie("session")), is_active(request)))
    except NotSignedIn:
        return None


@router.delete("", status_code=204)
def sign_out(request: Request, response: Response, _: Annotated[Account, Depends(current)]) -> None:
    sign_in.sign_out(request.cookies.get(cookie("session"), ""))
    response.delete_cookie(
        cookie("session"), path="/", secure=settings().secure, httponly=True, samesite="strict"
    )
