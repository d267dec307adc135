"""Moves within tolerance: what falls due next of a service, on another day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from nundine.core.preventive.due import window
from nundine.services.access import PLAN, require_in
from nundine.services.errors import Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PREVENTIVE_PLANS, turn
from nundine.services.preventive.raising import STREAM
from nundine.services.preventive.stops import service_of
from nundine.services.wording.phrases import day_words
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.reading.preventive import as_moved, grounds, natural
from nundine.store.site import Area, site

MOST = 1000


@dataclass(frozen=True)
class Wanted:
    """A plan and its asset; the day on which it falls due now, and the one to which it moves."""

    plan: str
    asset: str
    day: date
    to: date


def shift(account: Account, wanted: Sequence[Wanted]) -> int:
    """Move what falls due next of these services; all or none. Gives how many.

    Raises
    ------
    NotFound
        For a service that is not there.
    Refused
        For one that falls due on another day by now, or would leave its tolerance; for none or too many.
    """
    if not 1 <= len(wanted) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} services move at once.", field="shifts")
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        keys = sorted({w.asset for w in wanted})
        areas = Asset.select(Area.key).join(Area).where(Asset.key.in_(keys)).distinct().tuples()
        require_in(account, PLAN, [area for (area,) in areas])
        rows = {(w.plan, w.asset): {"moved": _moved(w)} for w in wanted}
        changes = changes_to("service", rows)
        if changes:
            what = f"{wanted[0].plan} on {wanted[0].asset}" if len(wanted) == 1 else f"{len(wanted)} services"
            write(STREAM, account, Edit("shift", f"Move {what}", changes), checked=True)
    return len(wanted)


def _moved(one: Wanted) -> list[str]:
    """What is stored of a move."""
    found = service_of(one.plan, one.asset)
    due = natural(grounds([found.plan.rungs]), found, settings().day(site().timezone))
    if due is None or as_moved(due, found.moved).day != one.day:
        raise Refused("due", f"{one.plan} on {one.asset} falls due on another day by now. Look again.")
    first, last = window(due.day, found.plan.days_before, found.plan.days_behind)
    if not first <= one.to <= last:
        told = f"from {day_words(first)} to {day_words(last)}"
        raise Refused("tolerance", f"{one.plan} on {one.asset} may be done {told}.", field="to")
    return [str(due.day), str(one.to)]
