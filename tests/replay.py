"""What all deeds of the ledger together say is stored."""

from __future__ import annotations

from typing import Any

from nundine.services.ledger.entries import after, changes_of_all
from nundine.services.ledger.noun import Key
from nundine.services.ledger.nouns import NOUNS
from nundine.store.ledger import LedgerEntry
from nundine.store.week import Week


def commands_of(week: Week) -> list[LedgerEntry]:
    """In the order in which they were made."""
    return after(week.name, 0)


def said_by_log(week: Week) -> dict[tuple[str, str, int], dict[str, Any]]:
    """Placements by key, as the ledger leads to them from an empty week."""
    said: dict[tuple[str, str, int], dict[str, Any]] = {}
    for change in changes_of_all(commands_of(week), "placement"):
        key = (change.key[0], change.key[1], int(change.key[2]))
        said.pop(key, None)
        if change.after is not None:
            said[key] = change.after
    return said


def said_of(noun: str) -> dict[Key, dict[str, Any]]:
    """Records of a noun in encoded fields, as the ledger leads to them from nothing."""
    said: dict[Key, dict[str, Any]] = {}
    known = set(NOUNS[noun].labels)
    for change in changes_of_all(LedgerEntry.select().order_by(LedgerEntry.id), noun):
        key = tuple(change.key)
        if change.after is None:
            said.pop(key, None)
        else:
            fields = {k: v for k, v in change.after.items() if k in known}
            said[key] = {**said.get(key, {}), **fields}
    return said
