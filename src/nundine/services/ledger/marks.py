"""Marks of people and of work as they are: what is computed from them is kept under their marks."""

from __future__ import annotations

import hashlib

from nundine.store.ledger import LedgerEntry

LOOKED_AT = 64
"""So many deeds back: of two transactions the one with the lower number may be there later."""


def recent(what: str) -> tuple[int, ...]:
    """Numbers of the newest deeds that changed people, or work (`what`), newest first."""
    flag = LedgerEntry.people if what == "people" else LedgerEntry.work
    rows = LedgerEntry.select(LedgerEntry.id).where(flag == True)  # noqa: E712
    return tuple(n for (n,) in rows.order_by(LedgerEntry.id.desc()).limit(LOOKED_AT).tuples())


def mark_of(deeds: tuple[int, ...]) -> str:
    """A short name for the state after these deeds."""
    return hashlib.sha256(repr(deeds).encode()).hexdigest()[:16]
