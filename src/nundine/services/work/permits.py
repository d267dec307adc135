"""Permits of WOs: asked for by whoever plans, given for a time or refused by whoever may."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from nundine.services.access import PERMIT, PLAN, require_in
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to
from nundine.services.lifecycles import Offer, need_move, offers
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.permit import Permit, PermitKind
from nundine.store.site import Area
from nundine.store.work_order import OPEN_STATES, WorkOrder

NOUN = "permit"


@dataclass(frozen=True)
class PermitLine:
    """A permit of a WO. `state` is "needed" before it is asked for, `revision` None then; `asks`: what is
    looked at before it is given."""

    kind: str
    name: str
    asks: str
    state: str
    valid_from: datetime | None
    valid_to: datetime | None
    by: str
    at: datetime | None
    remark: str
    revision: int | None
    moves: list[Offer]


def permits_of(order: WorkOrder) -> list[PermitLine]:
    """Those that the WO needs, in its order, and others that were once asked for."""
    there = {p.kind: p for p in Permit.select().where(Permit.work_order == order).order_by(Permit.kind)}
    wanted = list(dict.fromkeys([*order.permits, *there]))
    kinds = {k.key: k for k in PermitKind.select().where(PermitKind.key.in_(wanted or [""]))}
    return [_line(order, kind, kinds.get(kind), there.get(kind)) for kind in wanted]


def _line(order: WorkOrder, key: str, kind: PermitKind | None, one: Permit | None) -> PermitLine:
    name, asks = (kind.name, kind.asks) if kind else (key, "")
    if one is None:
        return PermitLine(key, name, asks, "needed", None, None, "", None, "", None, [])
    moves = offers(NOUN, f"{order.number} permit {key}", one.state, {})
    times = one.valid_from, one.valid_to
    return PermitLine(key, name, asks, one.state, *times, one.by, one.at, one.remark, one.revision, moves)


def ask(account: Account, number: str, kinds: list[str]) -> None:
    """Ask for permits that a WO needs. Raises NotFound, NotAllowed, and Refused for one that it does not
    need, or a WO that is over."""
    with db.atomic():
        order = _locked(account, PLAN, number)
        missing = [k for k in kinds if k not in order.permits]
        if missing or not kinds:
            raise Refused("permit", f"{number} needs no permit {', '.join(missing)}.", field="permits")
        states = {p.kind: p.state for p in Permit.select().where(Permit.work_order == order)}
        for kind in kinds:
            need_move(NOUN, f"{number} permit {kind}", states.get(kind, "ended"), "asked", {})
        row = {"state": "asked", "valid_from": None, "valid_to": None, "remark": "", **_said(account)}
        _write(account, number, {(number, k): row for k in kinds}, f"{number} asks for {', '.join(kinds)}")


def decide(
    account: Account,
    number: str,
    kind: str,
    to: str,
    revision: int,
    valid_from: datetime | None = None,
    valid_to: datetime | None = None,
    remark: str = "",
) -> None:
    """Give a permit for a time, refuse it with a remark, or end it. Raises NotFound, NotAllowed, Stale, and
    Refused with the field that is wrong."""
    if to not in ("given", "refused", "ended"):
        raise Refused("state", "A permit is given, refused or ended.", field="to")
    with db.atomic():
        order = _locked(account, PERMIT, number, over=to == "ended")
        need_revision(NOUN, [number, kind], revision)
        one = Permit.get((Permit.work_order == order) & (Permit.kind == kind))
        need_move(NOUN, f"{number} permit {kind}", one.state, to, {})
        row: dict[str, Any] = {"state": to, "remark": remark.strip(), **_said(account)}
        if to == "given":
            row |= _valid(valid_from, valid_to)
        elif to == "refused" and not remark.strip():
            raise Refused("remark", "Say why it is refused; whoever asked reads it.", field="remark")
        _write(account, number, {(number, kind): row}, f"{number}: {kind} is {to}")


def _valid(start: datetime | None, end: datetime | None) -> dict[str, datetime]:
    if start is None or end is None:
        field = "valid_from" if start is None else "valid_to"
        raise Refused("time", "Say from when to when it is valid.", field=field)
    if end <= start:
        raise Refused("time", "It ends after it begins.", field="valid_to")
    if end <= settings().now():
        raise Refused("time", "That time is over already.", field="valid_to")
    return {"valid_from": start, "valid_to": end}


def _said(account: Account) -> dict[str, Any]:
    return {"by": account.full_name, "at": settings().now()}


def _locked(account: Account, right: str, number: str, over: bool = False) -> WorkOrder:
    """The WO, locked, for somebody who has the right in its area; `over`: it may be over."""
    found = WorkOrder.select().where(WorkOrder.number == number).for_update().first()
    if found is None:
        raise NotFound("work order", f"There is no WO {number[:40]}.")
    require_in(account, right, set(Area.select(Area.key).where(Area.id == found.asset.area_id).scalars()))
    if not over and found.state not in (*OPEN_STATES, "draft", "on hold"):
        raise Refused("state", f"{number} is {found.state}; permits are for work that is to come.")
    return found


def _write(account: Account, number: str, rows: dict[Any, Any], label: str) -> None:
    changes = changes_to(NOUN, rows)
    if changes:
        write(f"work order {number}", account, Edit(NOUN, label, changes), checked=True)
