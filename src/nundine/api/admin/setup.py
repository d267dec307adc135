"""Set-up of the site."""

from __future__ import annotations

from dataclasses import asdict

from fastapi import APIRouter

from nundine.api import schemas
from nundine.api.http import DbRoute, Manager, Reader
from nundine.services.admin import setup

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
        ),
        form.revision,
    )
    return _shape()
