"""Marks of people and of work as they are: what is computed from them is kept under their marks."""

from __future__ import annotations

import hashlib

from peewee import Value

from nundine.store.ledger import LedgerEntry

LOOKED_AT = 64
"""So many deeds back: of two transactions the one with the lower number may be there later."""


def recent() -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Numbers of the newest deeds that changed people, and of those that changed work, newest first."""
    of_people, of_work = (
        LedgerEntry.select(LedgerEntry.id, Value(flag.name).alias("changed"))
        .where(flag == True)  # noqa: E712
        .order_by(LedgerEntry.id.desc())
        .limit(LOOKED_AT)
        for flag in (LedgerEntry.people, LedgerEntry.work)
    )
    rows = sorted((of_people + of_work).tuples(), reverse=True)
    people, work = (tuple(n for n, told in rows if told == what) for what in ("people", "work"))
    return people, work


def mark_of(deeds: tuple[int, ...]) -> str:
    """A short name for the state after these deeds."""
    return hashlib.sha256(repr(deeds).encode()).hexdigest()[:16]
