"""Signing in and out."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response

from nundine.api.http import DbRoute, cookie, current, waits
from nundine.api.schemas import Me, SignInForm
from nundine.core.timeline import week_name
from nundine.services import access
from nundine.services.admin import sign_in
from nundine.services.errors import NotAllowed
from nundine.services.week.state import has_work
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.site import site

FIRST_STEP = {"supervisor": "run", "operations": "agree", "reader": "publish"}
"""Where a role begins; others go on where they were."""

router = APIRouter(prefix="/api/session", tags=["session"], route_class=DbRoute)


def me(account: Account) -> Me:
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
        areas=access.areas_of(account),
    )


@router.post("", response_model=Me)
@waits
def sign_in_here(form: SignInForm, request: Request, response: Response) -> Me:
    if request.headers.get("x-nundine") != "1":
        raise NotAllowed("origin", "This request did not come from Nundine's own page.")
    address = request.client.host if request.client else "?"
    made = sign_in.sign_in(form.name, form.password, address, request.cookies.get(cookie("browser")))
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


@router.get("", response_model=Me)
def who(account: Annotated[Account, Depends(current)]) -> Me:
    return me(account)


@router.delete("", status_code=204)
def sign_out(request: Request, response: Response, _: Annotated[Account, Depends(current)]) -> None:
    sign_in.sign_out(request.cookies.get(cookie("session"), ""))
    response.delete_cookie(
        cookie("session"), path="/", secure=settings().secure, httponly=True, samesite="strict"
    )
