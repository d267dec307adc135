"""Work orders by hand: make, change, hold, release, cancel; a break-in of a week."""

from __future__ import annotations

from fastapi import APIRouter, Response, UploadFile

from nundine.api import schemas
from nundine.api.attached import given
from nundine.api.http import DbRoute, Knower, Permitter, Planner, Reader, waits
from nundine.services.week.state import load_state
from nundine.services.work import (
    answers,
    attachments,
    beside_order,
    closing_orders,
    costs,
    moving,
    permits,
    validity,
    work_orders,
)

router = APIRouter(prefix="/api", tags=["work"], route_class=DbRoute)


@router.get("/orders/choices")
def choices(_: Reader) -> work_orders.OrderChoices:
    return work_orders.choices()


@router.post("/orders/moves")
def move_all(form: schemas.OrderMoves, account: Planner) -> moving.Moved:
    """Hold, release or cancel many; says which were not moved, and why."""
    return moving.move_all(account, form.numbers, form.to)


@router.post("/orders/fields")
def set_all(form: schemas.OrderField, account: Planner) -> moving.Moved:
    """An answerable crew or a date for many; says which stay as they are, and why."""
    return moving.set_all(account, form.numbers, form.name, form.cell)


@router.delete("/orders/moves/{deed}")
def take_back(deed: int, account: Planner) -> int:
    """Take back one's own move of many; gives how many were moved back."""
    return moving.take_back(account, deed)


@router.post("/orders/closing/trial")
def try_closing(form: schemas.OrderClosing, account: Planner) -> closing_orders.ClosingTrial:
    """What closing would charge to whom; changes nothing."""
    return closing_orders.trial(account, form.numbers)


@router.post("/orders/closing")
def close(form: schemas.OrderClosing, account: Planner) -> moving.Moved:
    """Close those that are done: their costs are final. Taken back as moves of many are."""
    return closing_orders.close(account, form.numbers)


@router.post("/orders/validity")
def validity_of(form: schemas.OrderDraft, _: Planner) -> list[validity.Remark]:
    """What does not hold on the day for which a WO is planned, while it is entered."""
    return validity.remarks(form.order, form.tasks)


@router.get("/orders/{number:path}/costs")
def the_costs(number: str, _: Reader) -> costs.OrderCosts:
    """Planned and actual, task by task, and which accounts bear it."""
    return costs.costs(number)


@router.get("/orders/{number:path}/beside")
def beside(number: str, _: Reader) -> beside_order.BesideOrder:
    """The requests behind it, notes, files, and what was done on its asset before."""
    return beside_order.beside_order(number)


@router.post("/orders/{number:path}/permits", status_code=204)
def ask_for_permits(number: str, form: schemas.PermitsAsked, account: Planner) -> None:
    permits.ask(account, number, form.kinds)


@router.post("/orders/{number:path}/permits/{kind}", status_code=204)
def decide_permit(number: str, kind: str, form: schemas.PermitDecided, account: Permitter) -> None:
    """Give it for a time, refuse it, or end it."""
    times = form.valid_from, form.valid_to
    permits.decide(account, number, kind, form.to, form.revision, *times, form.remark)


@router.post("/orders/{number:path}/tasks/{task}/answers")
def answer(number: str, task: str, form: schemas.Answers, account: Knower) -> list[answers.CheckLine]:
    """Answer entries of a checklist; gives those out of limits."""
    return answers.answer(account, number, task, form.answers)


@router.post("/orders/{number:path}/notes", status_code=204)
def say(number: str, form: schemas.OrderNote, account: Knower) -> None:
    beside_order.say_of_order(account, number, form.text)


@router.post("/orders/{number:path}/files", status_code=204)
@waits
def attach(number: str, file: UploadFile, account: Knower) -> None:
    content = file.file.read(attachments.MOST_BYTES + 1)
    beside_order.attach_to_order(account, number, file.filename or "file", content)


@router.get("/orders/{number:path}/files/{id_}", response_class=Response)
def the_file(number: str, id_: int, _: Reader) -> Response:
    return given(attachments.file_of(beside_order.NOUN, number, id_))


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
