"""Work requests: reported by anybody, then made into a WO, joined to one, asked back about or declined."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from nundine.core.lifecycle import OPEN_REQUESTS
from nundine.core.priority import URGENCIES
from nundine.services.access import PLAN, may, require, require_in
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to
from nundine.services.lifecycles import Offer, need_move, offers
from nundine.services.numbering import REQUESTS, WORK_ORDERS, take_own, turn
from nundine.services.work import attachments, work_orders
from nundine.services.work.asked_services import AskedService, asked_service
from nundine.services.work.attachments import AttachedFile
from nundine.services.work.doubles import Double, doubles
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.request import WorkRequest
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder

OWN, NOUN = "R-", "request"
MOST_TALK = 200


@dataclass(frozen=True)
class Said:
    """Something that was asked or answered: when, by whom, what."""

    at: datetime
    by: str
    text: str


@dataclass(frozen=True)
class RequestDocument:
    """A request with what became of it; `mine`: whoever looks reported it; `doubles`: what may say the
    same."""

    number: str
    title: str
    asset: str | None
    asset_name: str | None
    area: str | None
    place: str
    description: str
    urgency: str
    state: str
    raised: datetime
    reporter: str
    mine: bool
    order: str | None
    order_title: str | None
    order_state: str | None
    talk: list[Said]
    files: list[AttachedFile]
    revision: int
    moves: list[Offer]
    doubles: list[Double]
    service: AskedService | None


def _found(number: str) -> WorkRequest:
    found: WorkRequest | None = WorkRequest.get_or_none(WorkRequest.number == number)
    if found is None:
        raise NotFound("request", f"There is no request {number[:40]}.")
    return found


def document(account: Account, number: str) -> RequestDocument:
    """Raises NotFound."""
    one = _found(number)
    area = Area.select(Area.name).where(Area.id == one.asset.area_id).scalar() if one.asset else None
    order = one.order
    return RequestDocument(
        number=one.number,
        title=one.title,
        asset=one.asset.key if one.asset else None,
        asset_name=one.asset.name if one.asset else None,
        area=area,
        place=one.place,
        description=one.description,
        urgency=one.urgency,
        state=one.state,
        raised=one.raised,
        reporter=one.reporter,
        mine=one.account_id == account.id,
        order=order.number if order else None,
        order_title=order.title if order else None,
        order_state=order.state if order else None,
        talk=[Said(datetime.fromisoformat(t["at"]), t["by"], t["text"]) for t in one.talk],
        files=attachments.attached(NOUN, one.number),
        revision=one.revision,
        moves=offers(NOUN, one.number, one.state, {"no_order": order is None}),
        doubles=doubles(one) if may(account, PLAN) and one.state in OPEN_REQUESTS else [],
        service=asked_service(one),
    )


def report(
    account: Account, title: str, asset: str | None, place: str, description: str, urgency: str
) -> str:
    """Report a need; anybody may. Gives its number. Raises Refused with the field that is wrong."""
    title, place = title.strip(), place.strip()
    if not title:
        raise Refused("title", "Say in a few words what was seen.", field="title")
    if urgency not in URGENCIES:
        raise Refused("urgency", f"Choose how urgent it is: {', '.join(URGENCIES)}.", field="urgency")
    if not asset and not place:
        raise Refused("asset", "Say which asset it is, or where it was seen.", field="asset")
    if asset and not Asset.select().where(Asset.key == asset).exists():
        raise Refused("asset", f"There is no asset {asset}.", field="asset")
    with db.atomic():
        counter = turn(REQUESTS)
        number = take_own(counter, WorkRequest, OWN, 1000)
        row = {
            "title": title,
            "asset": asset or None,
            "place": place,
            "description": description.strip(),
            "urgency": urgency,
            "state": "new",
            "raised": settings().now(),
            "reporter": account.full_name,
            "account": account.name,
            "order": None,
            "talk": [],
        }
        _write(account, number, row, f"{account.full_name} reports {title}")
    return number


def attach(account: Account, number: str, name: str, content: bytes) -> None:
    """A photo or file, by whoever reported it or plans. Raises NotFound, NotAllowed, Refused."""
    one = _found(number)
    if one.account_id != account.id:
        require(account, PLAN)
    attachments.attach(account, NOUN, one.number, name, content)


def say(account: Account, number: str, text: str, revision: int) -> None:
    """An answer of whoever reported it, which makes it new again where it was asked back about; or a word
    of a planner. Raises Stale, NotAllowed, Refused."""
    with db.atomic():
        one = _seen(account, number, revision, own=True)
        mine = one.account_id == account.id
        row: dict[str, Any] = {"talk": _with(one, account, text)}
        if mine and one.state == "asked back":
            row["state"] = "new"
        _write(account, number, row, f"{account.full_name} says something of {number}")


def ask_back(account: Account, number: str, question: str, revision: int) -> None:
    """Ask whoever reported it. Raises Stale, NotAllowed, Refused."""
    _move(account, number, "asked back", revision, question, "What is to be asked?")


def decline(account: Account, number: str, reason: str, revision: int) -> None:
    """Raises Stale, NotAllowed, and Refused without a reason."""
    _move(account, number, "declined", revision, reason, "Say why it is declined; whoever asked reads it.")


def open_again(account: Account, number: str, revision: int) -> None:
    """A declined one is new again; one in work comes off its WO. Raises Stale, NotAllowed, Refused."""
    with db.atomic():
        one = _seen(account, number, revision)
        need_move(NOUN, number, one.state, "new", {})
        _write(account, number, {"state": "new", "order": None}, f"{number} is open again")


def join(account: Account, number: str, order: str, revision: int) -> None:
    """It is seen to with a WO that is there. Raises Stale, NotAllowed, Refused, NotFound."""
    with db.atomic():
        turn(WORK_ORDERS)
        _join(account, _seen(account, number, revision), order)


def make_order(
    account: Account, number: str, order: dict[str, str], tasks: list[dict[str, str]], revision: int
) -> str:
    """A WO for the request, with its texts and files. Gives the WO's number. Raises Stale, NotAllowed,
    Refused with the field that is wrong."""
    with db.atomic():
        turn(WORK_ORDERS)
        one = _seen(account, number, revision)
        told = f"{one.reporter} ({number}): {one.description}".strip().removesuffix(":")
        filled = {
            "title": one.title,
            "asset": one.asset.key if one.asset else "",
            "description": told[:4000],
            "kind": "breakdown" if one.urgency == "now" else "corrective",
        }
        asked = asked_service(one)
        if asked is not None:
            filled |= asked.order
        given = {**filled, **{k: v for k, v in order.items() if v.strip()}}
        made = work_orders.save(account, given, tasks or (asked.tasks if asked else []), None)
        _join(account, one, made)
    return made


def _join(account: Account, one: WorkRequest, order: str) -> None:
    if one.state == "in work":
        raise Refused("state", f"{one.number} is in work already, with {one.order.number}.", field="state")
    found = WorkOrder.get_or_none(WorkOrder.number == order.strip())
    if found is None:
        raise Refused("order", f"There is no WO {order[:40]}.", field="order")
    if found.state in ("done", "closed", "cancelled"):
        raise Refused("order", f"{found.number} is {found.state}; join an open one.", field="order")
    need_move(NOUN, one.number, one.state, "in work", {"no_order": False})
    _write(
        account,
        one.number,
        {"state": "in work", "order": found.number},
        f"{one.number} goes to {found.number}",
    )
    attachments.carry_over(NOUN, one.number, "work order", found.number)


def _move(account: Account, number: str, to: str, revision: int, text: str, without: str) -> None:
    if not text.strip():
        raise Refused("text", without, field="text")
    with db.atomic():
        one = _seen(account, number, revision)
        need_move(NOUN, number, one.state, to, {})
        _write(account, number, {"state": to, "talk": _with(one, account, text)}, f"{number} is {to}")


def _seen(account: Account, number: str, revision: int, own: bool = False) -> WorkRequest:
    """The request, locked and as it was seen; whoever decides on it plans in its area. `own`: so may whoever
    reported it."""
    one = _found(number)
    if not (own and one.account_id == account.id):
        require(account, PLAN)
        if one.asset:
            require_in(
                account, PLAN, set(Area.select(Area.key).where(Area.id == one.asset.area_id).scalars())
            )
    need_revision(NOUN, [number], revision)
    return _found(number)


def _with(one: WorkRequest, account: Account, text: str) -> list[dict[str, str]]:
    """The talk and one thing more. Raises Refused."""
    words = text.strip()
    if not words:
        raise Refused("text", "Say something.", field="text")
    if len(one.talk) >= MOST_TALK:
        raise Refused("text", "More can not be said of one request. Report a new one.", field="text")
    now = settings().now().astimezone(UTC).isoformat(timespec="seconds")
    return [*one.talk, {"at": now, "by": account.full_name, "text": words[:2000]}]


def _write(account: Account, number: str, row: dict[str, Any], label: str) -> None:
    changes = changes_to(NOUN, {(number,): row})
    if changes:
        write(f"{NOUN} {number}", account, Edit(NOUN, label, changes), checked=True)
