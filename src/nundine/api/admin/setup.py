"""Set-up of the site."""

from __future__ import annotations

from dataclasses import asdict

from fastapi import APIRouter

from nundine.api import schemas
from nundine.api.http import DbRoute, Manager, Reader
from nundine.services.admin import setup
from nundine.services.exchange import registers

router = APIRouter(prefix="/api/setup", tags=["set-up"], route_class=DbRoute)


def _shape() -> schemas.Parameters:
    return schemas.Parameters.model_validate(asdict(setup.parameters()))


@router.get("")
def parameters(_: Reader) -> schemas.Parameters:
    return _shape()


@router.put("")
def store(form: schemas.ParametersForm, account: Manager) -> schemas.Parameters:
    setup.store_parameters(
        account,
        setup.Parameters(
            form.seconds,
            form.weights.model_dump(),
            form.held_back,
            reasons=form.reasons,
            keep_days=form.keep_days.model_dump() if form.keep_days else {},
            ways=None if form.ways is None else {(w.start, w.end): w.minutes for w in form.ways},
            rates=form.rates,
            currency=form.currency,
            sheets_to=form.sheets_to,
            approvals=form.approvals,
        ),
        form.revision,
    )
    return _shape()


@router.get("/registers")
def register_names(_: Reader) -> dict[str, str]:
    """Small lists that are kept by hand, by name with what they are called."""
    return registers.SET_UP


@router.get("/registers/{name}")
def the_register(name: str, _: Reader) -> registers.Register:
    return registers.register(name)


@router.post("/registers/{name}", response_model=registers.Register)
def save_row(name: str, form: schemas.RegisterRowForm, account: Manager) -> registers.Register:
    """Make a row, or change it; gives all as they are then."""
    registers.need_one_of(registers.SET_UP, name)
    registers.save(account, name, form.cells, form.revision)
    return registers.register(name)


@router.post("/registers/{name}/removal", response_model=registers.Register)
def remove_row(name: str, form: schemas.RegisterRemoval, account: Manager) -> registers.Register:
    registers.need_one_of(registers.SET_UP, name)
    registers.remove(account, name, form.key, form.revision)
    return registers.register(name)
