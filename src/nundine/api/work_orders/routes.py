"""Work orders by hand: make, change, hold, release, cancel; a break-in of a week."""

from __future__ import annotations

from fastapi import APIRouter

from nundine.api import schemas
from nundine.api.http import DbRoute, Planner, Reader
from nundine.services.week.state import load_state
from nundine.services.work import work_orders

router = APIRouter(prefix="/api", tags=["work"], route_class=DbRoute)


@router.get("/orders/choices")
def choices(_: Reader) -> work_orders.OrderChoices:
    return work_orders.choices()


@router.get("/orders/{number:path}")
def form(number: str, _: Reader) -> work_orders.OrderDocument:
    return work_orders.form(number)


@router.post("/orders", response_model=schemas.OrderNumber)
def save(form: schemas.OrderForm, account: Planner) -> dict[str, str]:
    return {"number": work_orders.save(account, form.order, form.tasks, form.revision)}


@router.post("/orders/{number:path}/state", status_code=204)
def move(number: str, form: schemas.OrderMove, account: Planner) -> None:
    work_orders.move(account, number, form.to)


@router.post("/weeks/{week}/break-ins", response_model=schemas.OrderNumber)
def break_in(week: str, form: schemas.BreakInForm, account: Planner) -> dict[str, str]:
    """The WO of a break-in; mending then says where it fits and what it pushes out."""
    return {
        "number": work_orders.break_in(
            account,
            load_state(week),
            form.title,
            form.asset,
            form.hours,
            form.craft,
            form.people,
            form.urgency,
        )
    }
