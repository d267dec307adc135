"""Requests to buy: written, asked, approved by role and amount; their lines become lines of orders, or are
dealt with otherwise."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from nundine.core.parts.buying import amount
from nundine.services.admin.approvals import approves, limit_of
from nundine.services.derived_buying import ordered_of
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.services.lifecycles import need_move
from nundine.services.numbering import BUY_REQUESTS, take_own, turn
from nundine.services.parts.wanted import WantedLine, numbered, rows_of
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.buying import BuyLine, BuyRequest

NOUN, OWN, STREAM = "buy request", "RB-", "buying"
DECISIONS = ("approved", "refused")


@dataclass(frozen=True)
class Asked:
    """A request that was made, and how far it is."""

    number: str
    state: str


def found(number: str) -> BuyRequest:
    """Raises NotFound."""
    one: BuyRequest | None = BuyRequest.get_or_none(BuyRequest.number == number)
    if one is None:
        raise NotFound(NOUN, f"There is no request to buy {number[:40]}.")
    return one


def ask(account: Account, lines: Sequence[WantedLine], remark: str = "") -> Asked:
    """Ask for what lines want. It is approved at once where it lies within one's own limit; where a line has
    no price it is written down, to be asked for later.

    Raises
    ------
    Refused
        For no line, too many, or the first that can not be, with its field.
    """
    if not lines:
        raise Refused("lines", "Say what is to be bought.", field="lines")
    with db.atomic():
        counter = turn(BUY_REQUESTS)
        rows = rows_of(lines)
        number = take_own(counter, BuyRequest, OWN, 1000)
        total = amount((r["quantity"], r["price"]) for r in rows)
        state = "written" if total is None else "approved" if approves(account, total) else "asked"
        decided = account.full_name if state == "approved" else ""
        head = {
            "state": state,
            "made": settings().now(),
            "by": account.full_name,
            "decided": decided,
            "remark": remark.strip(),
        }
        changes = changes_to(NOUN, {(number,): head})
        keyed = zip(numbered((), len(rows)), rows, strict=True)
        changes += changes_to("buy line", {(number, key): {**row, "settled": ""} for key, row in keyed})
        write(STREAM, account, Edit("buying", f"Ask to buy {_told(rows)}", changes), checked=True)
    return Asked(number, state)


def _told(rows: Sequence[dict[str, Any]]) -> str:
    first = rows[0]
    told = f"{first['quantity']:g} of {first['part'] or first['words']}"
    return told if len(rows) == 1 else f"{told} and {len(rows) - 1} more"


def change(
    account: Account, number: str, revision: int, lines: Sequence[tuple[str | None, WantedLine]], remark: str
) -> None:
    """Other lines, each with its number (None = new), in place of those of a request that is being written.
    Raises NotFound, Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = found(number)
        if one.state != "written":
            raise Refused("state", f"{number} is {one.state}; take it back to change it.", field="state")
        changes = changes_to(NOUN, {(number,): {"remark": remark.strip()}})
        had = [line for (line,) in BuyLine.select(BuyLine.line).where(BuyLine.request == one).tuples()]
        keys = keys_for(had, [key for key, _ in lines])
        wanted = dict(zip(keys, rows_of([line for _, line in lines]), strict=True))
        changes += removals("buy line", [(number, key) for key in had if key not in wanted])
        changes += changes_to("buy line", {(number, k): {**row, "settled": ""} for k, row in wanted.items()})
        if changes:
            write(STREAM, account, Edit("buying", f"Change {number}", changes), checked=True)


def keys_for(had: Sequence[str], given: Sequence[str | None]) -> list[str]:
    """The numbers of lines that are kept, and new ones for the others. Raises Refused for one that is not
    there, or stands twice."""
    kept = [key for key in given if key is not None]
    wrong = next((k for k in kept if k not in had or kept.count(k) > 1), None)
    if wrong is not None:
        raise Refused("line", f"There is no line {wrong[:20]} to change.", field="lines")
    fresh = iter(numbered([*had, *kept], len(given) - len(kept)))
    return [key if key is not None else next(fresh) for key in given]


def move(account: Account, number: str, to: str, revision: int, remark: str = "") -> None:
    """Ask, approve, refuse or take back. Who asks within their own limit has approved it. Raises NotFound,
    Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = found(number)
        need_move(NOUN, number, one.state, to, facts_of(account, one))
        steps = [to]
        if to == "asked" and approves(account, amount_of(one)):
            steps.append("approved")
        now = one.state
        for step in steps:
            wanted: dict[str, Any] = {"state": step}
            if step in DECISIONS:
                wanted["decided"] = account.full_name
            elif step == "written":
                wanted["decided"] = ""
            if remark.strip():
                wanted["remark"] = "\n".join(filter(None, (one.remark, remark.strip())))
            changes = changes_to(NOUN, {(number,): wanted})
            write(STREAM, account, Edit("buying", f"{number}: {now} becomes {step}", changes), checked=True)
            now = step


def amount_of(one: BuyRequest) -> float | None:
    """What its lines come to; None where one has no price."""
    return amount(
        BuyLine.select(BuyLine.quantity, BuyLine.price).where(BuyLine.request == one).tuples().iterator()
    )


def facts_of(account: Account, one: BuyRequest) -> dict[str, Any]:
    """What moves of a request look at."""
    total = amount_of(one)
    there = BuyLine.select().where(BuyLine.request == one).exists()
    limit = limit_of(account)
    beyond = None if approves(account, total) else f"{total:g}" if total is not None else "an unknown amount"
    return {
        "without_lines": not there or total is None,
        "beyond": beyond,
        "limit": f"{limit:g}" if limit is not None else None,
        "ordered": any(ordered_of([one.id]).values()),
    }


def settle(account: Account, number: str, line: str, how: str, revision: int) -> None:
    """Deal with a line without an order, as by taking it from another storeroom; empty: it is still wanted.
    Raises NotFound, Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = found(number)
        if not BuyLine.select().where((BuyLine.request == one) & (BuyLine.line == line)).exists():
            raise NotFound("buy line", f"There is no line {line[:20]} of {number}.")
        if one.state not in ("approved", "closed"):
            raise Refused("state", f"{number} is {one.state}; lines of approved requests are dealt with.")
        changes = changes_to("buy line", {(number, line): {"settled": how.strip()[:120]}})
        if changes:
            label = f"Line {line} of {number}: {how.strip() or 'still wanted'}"
            write(STREAM, account, Edit("buying", label, changes), checked=True)
