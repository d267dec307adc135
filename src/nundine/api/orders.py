"""Work orders by hand: make, change, hold, release, cancel; a break-in of a week."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter

from nundine.api import shapes
from nundine.api.http import DbRoute, Editor, Reader
from nundine.services import orders
from nundine.services.state import load_state

router = APIRouter(prefix="/api", tags=["work"], route_class=DbRoute)


@router.get("/orders/choices", response_model=shapes.OrderChoices)
def choices(_: Reader) -> dict[str, Any]:
    return orders.choices()


@router.get("/orders/{number:path}", response_model=shapes.OrderDocument)
def form(number: str, _: Reader) -> dict[str, Any]:
    return orders.form(number)


@router.post("/orders", response_model=shapes.OrderNumber)
def save(form: shapes.OrderForm, _: Editor) -> dict[str, str]:
    return {"number": orders.save(form.order, form.tasks, form.stamp)}


@router.post("/orders/{number:path}/state", status_code=204)
def move(number: str, form: shapes.OrderMove, _: Editor) -> None:
    orders.move(number, form.to)


@router.post("/weeks/{week}/break-ins", response_model=shapes.OrderNumber)
def break_in(week: str, form: shapes.BreakInForm, _: Editor) -> dict[str, str]:
    """The WO of a break-in; mending then says where it fits and what it pushes out."""
    return {
        "number": orders.break_in(
            load_state(week), form.title, form.asset, form.hours, form.craft, form.people, form.urgency
        )
    }
