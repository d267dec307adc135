"""Notes on records, with name and time: added by whoever knows something, never changed and never lost."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from nundine.services.errors import Refused
from nundine.services.ledger.commands import note
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.beside import Note

LONGEST = 2000


@dataclass(frozen=True)
class NoteLine:
    """What was said, by whom and when."""

    at: datetime
    by: str
    text: str


def notes_of(noun: str, key: str) -> list[NoteLine]:
    """The newest first."""
    rows = (
        Note.select(Note.at, Account.full_name, Note.text)
        .left_outer_join(Account)
        .where((Note.noun == noun) & (Note.key == key))
        .order_by(Note.id.desc())
    )
    return [NoteLine(at, by or "Nundine", text) for at, by, text in rows.tuples()]


def add_note(account: Account, noun: str, key: str, text: str) -> None:
    """Say something of a record, which the caller knows to be there. Raises Refused."""
    words = text.strip()
    if not words:
        raise Refused("text", "Say something.", field="text")
    if len(words) > LONGEST:
        raise Refused("text", f"A note has at most {LONGEST} characters.", field="text")
    with db.atomic():
        Note.create(noun=noun, key=key, text=words, at=settings().now(), account=account)
        note(f"{noun} {key}", account, "note", f"{key}: {words}")
