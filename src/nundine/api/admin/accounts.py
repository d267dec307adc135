"""Accounts, for the administrator; and one's own password and sessions."""

from __future__ import annotations

from fastapi import APIRouter, Request

from nundine.api import schemas
from nundine.api.http import Administrator, DbRoute, Self, cookie, waits
from nundine.services.admin import accounts, look, second_factor, sign_in_rules
from nundine.services.admin.sign_in import token_hash
from nundine.store.site import site

router = APIRouter(prefix="/api", tags=["accounts"], route_class=DbRoute)


def _roles(given: list[schemas.HeldRole]) -> accounts.Roles:
    return {held.role: held.areas for held in given}


@router.get("/accounts", response_model=list[schemas.AccountShape])
def the_accounts(_: Administrator) -> list[accounts.AccountRow]:
    return accounts.listed()


@router.get("/roles")
def the_roles(_: Administrator) -> accounts.AllRoles:
    return accounts.roles()


@router.post("/accounts", response_model=schemas.OneTime)
@waits
def make(form: schemas.AccountForm, account: Administrator) -> dict[str, str]:
    """A new account; its password is told this once, and is good for choosing another."""
    return {"password": accounts.make(account, form.name, form.full_name, _roles(form.roles))}


@router.put("/accounts/{name}", response_model=list[schemas.AccountShape])
def change(name: str, form: schemas.AccountChange, account: Administrator) -> list[accounts.AccountRow]:
    roles = None if form.roles is None else _roles(form.roles)
    accounts.change(
        account,
        name,
        form.revision,
        full_name=form.full_name,
        roles=roles,
        areas=form.areas,
        active=form.active,
        sites=form.sites,
        all_sites=form.all_sites,
    )
    return accounts.listed()


@router.post("/accounts/{name}/password", response_model=schemas.OneTime)
@waits
def new_password(name: str, account: Administrator) -> dict[str, str]:
    """A password in place of a lost one, told this once."""
    return {"password": accounts.new_password(account, name)}


@router.post("/accounts/{name}/end-sessions", status_code=204)
def end_sessions(name: str, account: Administrator) -> None:
    accounts.end_sessions(name, account)


@router.post("/accounts/{name}/factor-off", response_model=list[schemas.AccountShape])
def take_factor_off(name: str, account: Administrator) -> list[accounts.AccountRow]:
    """For who lost the telephone: sign in without it, and set up another."""
    second_factor.take_off(accounts.find(name), account)
    return accounts.listed()


@router.get("/sign-in-rules", response_model=schemas.SignInRules)
def the_rules(_: Administrator) -> sign_in_rules.Rules:
    return sign_in_rules.rules()


@router.put("/sign-in-rules", response_model=schemas.SignInRules)
def store_rules(form: schemas.SignInRules, account: Administrator) -> sign_in_rules.Rules:
    sign_in_rules.store(account, sign_in_rules.Rules(**form.model_dump()))
    return sign_in_rules.rules()


@router.put("/own/look", status_code=204)
def keep_look(form: schemas.LookForm, account: Self) -> None:
    """How one's own screens look, on every browser."""
    look.keep(account, look.Look(**form.model_dump()))


@router.post("/own/factor/offer", response_model=schemas.FactorOffer)
def offer_factor(account: Self) -> second_factor.Offer:
    """A secret for one's telephone; it counts once it is confirmed."""
    return second_factor.offer(account, site().name)


@router.put("/own/factor", status_code=204)
def confirm_factor(form: schemas.FactorForm, account: Self) -> None:
    second_factor.confirm(account, form.secret, form.code)


@router.post("/own/factor-off", status_code=204)
def take_own_factor_off(form: schemas.CodeForm, account: Self) -> None:
    second_factor.take_off(account, account, form.code)


def _own(request: Request) -> str:
    return token_hash(request.cookies.get(cookie("session"), ""))


@router.put("/own/password", status_code=204)
@waits
def own_password(form: schemas.OwnPassword, request: Request, account: Self) -> None:
    accounts.own_password(account, form.old, form.new)
    accounts.end_sessions(account.name, account, but=_own(request))


@router.get("/own/sessions", response_model=list[schemas.SessionShape])
def own_sessions(request: Request, account: Self) -> list[accounts.SessionRow]:
    return accounts.sessions(account, _own(request))


@router.delete("/own/sessions", status_code=204)
def end_own_sessions(request: Request, account: Self) -> None:
    """All but this one."""
    accounts.end_sessions(account.name, account, but=_own(request))
