"""What an installation asks of those who sign in: after how long without anybody at it a session ends, and of
whom a second factor is demanded. It stands with the settings of its first site."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from peewee import fn

from nundine.services import access
from nundine.services.errors import Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.site import Site

SHORTEST, LONGEST = 5, 12 * 60
"""Minutes without a key or a click after which a session may end."""


@dataclass(frozen=True)
class Rules:
    """`idle` in minutes. `factor_of_administrators`: nobody may look after accounts without a second
    factor."""

    idle: int = 4 * 60
    factor_of_administrators: bool = False


def rules() -> Rules:
    """As they are."""
    here = Site.select(Site.settings).order_by(Site.id).first()
    kept: dict[str, Any] = here.settings.get("sign_in", {}) if here is not None else {}
    return Rules(**kept)


def idle_minutes() -> Any:
    """After how many minutes a session ends, as part of a question to the database."""
    of_first = Site.select(fn.JSON_VALUE(Site.settings, "$.sign_in.idle")).order_by(Site.id).limit(1)
    return fn.COALESCE(of_first, Rules.idle)


def demands_factor(account: Account) -> bool:
    """Whether the site asks this account for a second factor."""
    return access.may(account, access.ADMINISTER) and rules().factor_of_administrators


def store(by: Account, wanted: Rules) -> None:
    """Raises Refused for minutes out of range, and for who would lock themselves out."""
    if not SHORTEST <= wanted.idle <= LONGEST:
        raise Refused(
            "range",
            f"A session ends after {SHORTEST} to {LONGEST} minutes in which nobody was at it.",
            field="idle",
        )
    if wanted.factor_of_administrators and by.factor is None:
        raise Refused(
            "factor",
            "Set up a second factor of your own first (You), so that you are not locked out.",
            field="factor_of_administrators",
        )
    with db.atomic():
        here = Site.select().order_by(Site.id).for_update().first()
        settings = {**here.settings, "sign_in": asdict(wanted)}
        changes = changes_to("site", {(here.key,): {"settings": settings}})
        if changes:
            edit = Edit("set-up", "Change what is asked of those who sign in", changes)
            write(f"site {here.key}", by, edit, checked=True)
