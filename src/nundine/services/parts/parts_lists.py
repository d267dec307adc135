"""Parts lists of assets by hand: a part is put on an asset's list, or taken off; from either side."""

from __future__ import annotations

from nundine.services.errors import NotFound, Refused
from nundine.services.exchange import importing
from nundine.services.exchange.forms import filled
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import removals
from nundine.store.account import Account
from nundine.store.base import db

NOUN, STREAM = "asset part", "parts"


def put(account: Account, asset: str, part: str, quantity: float, remark: str) -> None:
    """Put a part on an asset's list, or change how many there are. Raises Refused with the field that is
    wrong."""
    row = filled({"asset": asset, "part": part, "quantity": repr(quantity), "remark": remark})
    with db.atomic():
        report, changes = importing.checked_rows({"asset_parts": [row]})
        if report.errors:
            first = report.errors[0]
            raise Refused("field", f"{first.column}: {first.reason}", field=str(first.column))
        if changes:
            write(STREAM, account, Edit("parts list", f"{part} is in {asset}", changes), checked=True)


def take_off(account: Account, asset: str, part: str) -> None:
    """Raises NotFound."""
    with db.atomic():
        if not NOUNS[NOUN].ids([(asset, part)]):
            raise NotFound(NOUN, f"{part[:40]} is not on the list of {asset[:60]}.")
        edit = Edit("parts list", f"{part} is no more in {asset}", removals(NOUN, [(asset, part)]))
        write(STREAM, account, edit, checked=True)
