"""Buying: requests, orders, what came."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import APIRouter

from nundine.api.buying import schemas
from nundine.api.http import DbRoute, Reader, Storekeeper
from nundine.services.parts import (
    asking,
    buying_lists,
    buying_view,
    ordering,
    receiving,
    storekeeper_day,
)
from nundine.services.parts.wanted import WantedLine

router = APIRouter(prefix="/api/buying", tags=["buying"], route_class=DbRoute)


def _lines(forms: Sequence[schemas.WantedForm]) -> list[tuple[str | None, WantedLine]]:
    return [(f.line, WantedLine(**f.model_dump(exclude={"line"}))) for f in forms]


@router.post("/requests", status_code=201)
def ask(form: schemas.Asking, account: Storekeeper) -> asking.Asked:
    """Ask for what is to be bought; within one's own limit it is approved at once."""
    return asking.ask(account, [line for _, line in _lines(form.lines)], form.remark)


@router.post("/requests/lacking", status_code=201)
def ask_for_lacking(form: schemas.LackingParts, account: Storekeeper) -> asking.Asked:
    """Ask for as much of parts as the list of what to buy says."""
    lines = [WantedLine(li.part, li.quantity, day=li.day) for li in buying_lists.lacking_of(form.parts)]
    return asking.ask(account, lines)


@router.get("/day")
def the_day(_: Reader) -> storekeeper_day.StorekeeperDay:
    """What to pick for the next day with work, what came in, what is short and whom to tell."""
    return storekeeper_day.the_day()


@router.get("/written")
def written_purchases(_: Reader) -> list[buying_view.WrittenPurchase]:
    """Orders that are being written, into which lines of requests may go."""
    return buying_view.written()


@router.get("/suppliers")
def suppliers(_: Reader) -> list[str]:
    """Names of suppliers that stand on orders."""
    return buying_view.suppliers()


@router.get("/requests/{number}")
def the_request(number: str, account: Reader) -> buying_view.BuyRequestDocument:
    return buying_view.request(account, number)


@router.put("/requests/{number}", status_code=204)
def change_request(number: str, form: schemas.AskingAgain, account: Storekeeper) -> None:
    """Other lines of a request that is being written."""
    asking.change(account, number, form.revision, _lines(form.lines), form.remark)


@router.post("/requests/{number}/state", status_code=204)
def move_request(number: str, form: schemas.RequestMove, account: Storekeeper) -> None:
    """Ask, approve, refuse, or take back."""
    asking.move(account, number, form.to, form.revision, form.remark)


@router.post("/requests/{number}/settled", status_code=204)
def settle_line(number: str, form: schemas.Settling, account: Storekeeper) -> None:
    """Deal with a line without an order."""
    asking.settle(account, number, form.line, form.how, form.revision)


@router.post("/purchases/picked", status_code=201)
def order_lines(form: schemas.Ordering, account: Storekeeper) -> schemas.Numbered:
    """Put lines of requests into an order."""
    picked = [ordering.PickedLine(p.request, p.line, p.quantity) for p in form.picked]
    return schemas.Numbered(number=ordering.order(account, picked, form.supplier, form.into))


@router.post("/purchases", status_code=201)
def make_purchase(form: schemas.PurchaseForm, account: Storekeeper) -> schemas.Numbered:
    """An order from scratch."""
    lines = [line for _, line in _lines(form.lines)]
    return schemas.Numbered(number=ordering.make(account, form.supplier, lines, form.remark))


@router.get("/purchases/{number}")
def the_purchase(number: str, _: Reader) -> buying_view.PurchaseDocument:
    return buying_view.purchase(number)


@router.put("/purchases/{number}", status_code=204)
def change_purchase(number: str, form: schemas.PurchaseFormAgain, account: Storekeeper) -> None:
    """What an order that is being written says."""
    ordering.change(account, number, form.revision, form.supplier, _lines(form.lines), form.remark)


@router.post("/purchases/{number}/state", status_code=204)
def move_purchase(number: str, form: schemas.PurchaseMove, account: Storekeeper) -> None:
    """Place or cancel an order."""
    ordering.move(account, number, form.to, form.revision)


@router.post("/purchases/{number}/promise", status_code=204)
def promise(number: str, form: schemas.Promise, account: Storekeeper) -> None:
    """When a line comes, and whether the rest is awaited."""
    ordering.promise(account, number, form.line, form.day, form.confirmed, form.awaited, form.revision)


@router.post("/purchases/{number}/removal", status_code=204)
def take_line_off(number: str, form: schemas.LineOff, account: Storekeeper) -> None:
    ordering.take_off(account, number, form.line, form.revision)


@router.post("/purchases/{number}/received", status_code=204)
def receive(number: str, form: schemas.Receiving, account: Storekeeper) -> None:
    """Take in what came, all of it or nothing."""
    came = [receiving.Came(**c.model_dump()) for c in form.came]
    receiving.receive(account, number, came, form.revision)


@router.post("/purchases/{number}/returned", status_code=204)
def send_back(number: str, form: schemas.SendingBack, account: Storekeeper) -> None:
    """Send back some of what came."""
    back = receiving.Came(**form.back.model_dump())
    receiving.send_back(account, number, back, form.reason, form.revision)
