"""What stands beside a WO: the requests behind it, notes, files, and what was done on its asset before."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from peewee import fn

from nundine.services.errors import NotFound
from nundine.services.work.attachments import AttachedFile, attach, attached
from nundine.services.work.notes import NoteLine, add_note, notes_of
from nundine.services.work.permits import PermitLine, permits_of
from nundine.store.account import Account
from nundine.store.beside import Printing
from nundine.store.request import WorkRequest
from nundine.store.work_order import Task, WorkOrder

NOUN, MOST_EARLIER = "work order", 8


@dataclass(frozen=True)
class RequestBehind:
    """A request that the WO answers."""

    number: str
    title: str
    reporter: str
    state: str


@dataclass(frozen=True)
class EarlierOrder:
    """A WO on the same asset that is over; `hours`: work hours that were spent on it, elapsed."""

    number: str
    title: str
    state: str
    raised: date
    hours: float


@dataclass(frozen=True)
class BesideOrder:
    requests: list[RequestBehind]
    notes: list[NoteLine]
    files: list[AttachedFile]
    earlier: list[EarlierOrder]
    printed: datetime | None
    """When a sheet of it was laid out last."""
    permits: list[PermitLine]


def beside_order(number: str) -> BesideOrder:
    """Raises NotFound."""
    order = _found(number)
    of_it = (Printing.noun == NOUN) & (Printing.key == number)
    behind = WorkRequest.select().where(WorkRequest.order == order).order_by(WorkRequest.number)
    return BesideOrder(
        [RequestBehind(r.number, r.title, r.reporter, r.state) for r in behind],
        notes_of(NOUN, number),
        attached(NOUN, number),
        _earlier(order),
        Printing.select(fn.MAX(Printing.at)).where(of_it).scalar(),
        permits_of(order),
    )


def _found(number: str) -> WorkOrder:
    found: WorkOrder | None = WorkOrder.get_or_none(WorkOrder.number == number)
    if found is None:
        raise NotFound("work order", f"There is no WO {number[:40]}.")
    return found


def _earlier(order: WorkOrder) -> list[EarlierOrder]:
    rows = (
        WorkOrder.select(
            WorkOrder.number,
            WorkOrder.title,
            WorkOrder.state,
            WorkOrder.raised,
            fn.COALESCE(fn.SUM(Task.hours_spent), 0.0),
        )
        .left_outer_join(Task)
        .where(
            (WorkOrder.asset == order.asset_id)
            & (WorkOrder.id != order.id)
            & WorkOrder.state.in_(("done", "closed"))
        )
        .group_by(WorkOrder.id, WorkOrder.number, WorkOrder.title, WorkOrder.state, WorkOrder.raised)
        .order_by(WorkOrder.raised.desc(), WorkOrder.id.desc())
        .limit(MOST_EARLIER)
    )
    return [EarlierOrder(*row) for row in rows.tuples()]


def say_of_order(account: Account, number: str, text: str) -> None:
    """A note on a WO. Raises NotFound, Refused."""
    add_note(account, NOUN, _found(number).number, text)


def attach_to_order(account: Account, number: str, name: str, content: bytes) -> None:
    """A file on a WO. Raises NotFound, Refused."""
    attach(account, NOUN, _found(number).number, name, content)
