"""How an account wants the screens to look: kept with it, so that every browser shows the same."""

from __future__ import annotations

from dataclasses import asdict, dataclass

from nundine.services.errors import Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.account import Account
from nundine.store.base import db

THEMES, SMALLEST, LARGEST = ("light", "dark", "system"), 50, 300
DECIMALS, DAYS, WEEKS = (".", ","), ("named", "dotted", "iso"), ("iso", "short", "slashed")


@dataclass(frozen=True)
class Look:
    """`theme`: light, dark, or as the system has it; `size` of everything, per cent; `decimals`: the sign
    before them; `days`: `Tue 1 Dec`, `Tue 1.12.` or `Tue 2026-12-01`; `weeks`: `2026-W49`, `W49` or
    `49/2026`."""

    theme: str = "light"
    size: int = 100
    decimals: str = "."
    days: str = "named"
    weeks: str = "iso"


def look_of(account: Account) -> Look:
    """As it is kept, or as the screens are."""
    return Look(**(account.look or {}))


def keep(account: Account, look: Look) -> None:
    """Keep how one's own screens look. Raises Refused for a look that there is not."""
    if look.theme not in THEMES:
        raise Refused("theme", f"Screens are {', '.join(THEMES)}.", field="theme")
    if not SMALLEST <= look.size <= LARGEST:
        raise Refused("size", f"Sizes lie between {SMALLEST} and {LARGEST} per cent.", field="size")
    for field, known in (("decimals", DECIMALS), ("days", DAYS), ("weeks", WEEKS)):
        if getattr(look, field) not in known:
            raise Refused("format", f"Choose one of: {', '.join(known)}.", field=field)
    with db.atomic():
        Account.select().where(Account.id == account.id).for_update().get()
        changes = changes_to("account", {(account.name,): {"look": asdict(look)}})
        if changes:
            write(f"account {account.name}", account, Edit("look", "Another look", changes), checked=True)
