"""Who did what when, as a list: by person, kind of record, record, field and time; and what it changed."""

from __future__ import annotations

from functools import reduce
from operator import or_
from typing import Any

from peewee import JOIN, fn

from nundine.services.access import ADMINISTER
from nundine.services.ledger.history import deeds_of, fields_called
from nundine.services.ledger.nouns import NOUNS, PLACEMENT
from nundine.services.listing.asking import like
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.account import Account
from nundine.store.ledger import LedgerChange, LedgerEntry
from nundine.store.many_ids import one_of

TOLD = 3
"""Records that are named in a cell; how many more there are is said."""


@listing("deeds", "Audit", ADMINISTER)
def deeds(around: Around) -> Listing:
    """Everything that was written, sign-ins too."""
    by, joined = fn.COALESCE(Account.full_name, "Nundine"), ("account",)
    columns = (
        Column("number", "Number", "number", LedgerEntry.id, width=86, weight=4, shown=False),
        Column("at", "When", "moment", LedgerEntry.at, width=150, weight=1),
        Column("account", "Sign-in", "text", Account.name, joined, find=True, group=True, width=90, weight=4),
        Column("by", "Who", "text", by, joined, find=True, group=True, width=120, weight=1),
        Column("kind", "Kind", "text", LedgerEntry.kind, group=True, width=110, weight=4, shown=False),
        Column("label", "What", "text", LedgerEntry.label, find=True, width=214, weight=1),
        Column("nouns", "Kind of record", "marks", width=126, weight=2, choices=words(PLACEMENT, *NOUNS),
               asked=changed_a),
        Column("records", "Record", "text", width=150, weight=2, find=True, holds=changed,
               hint="what the record is known by"),
        Column("changes", "What it changed", "text", width=240, weight=3, shown=False, holds=changed_field,
               hint="the name of a field"),
        Column("stream", "Of", "text", LedgerEntry.stream, find=True, group=True, width=110, weight=5,
               shown=False),
    )  # fmt: skip
    joins = {
        "account": lambda q: q.join(
            Account, JOIN.LEFT_OUTER, on=LedgerEntry.account == Account.id, src=LedgerEntry
        )
    }
    sort, tells = (Sort("at", True),), frozenset(("nouns", "records", "changes"))
    return Listing(columns, LedgerEntry.select(), LedgerEntry.id, "number", joins, sort, told, tells=tells)


def changed_a(nouns: tuple[str, ...]) -> Any:
    """Whether a deed changed a record of one of these kinds."""
    return _with_changes(LedgerChange.noun.in_(list(nouns)))


def changed(text: str) -> Any:
    """Whether what it changed is known by something that contains a text."""
    return _with_changes(LedgerChange.key ** like(text))


def changed_field(text: str) -> Any:
    """Whether it changed a field that is called so."""
    chosen = [
        LedgerChange.noun.in_(sorted(nouns))
        & (fn.JSON_EXISTS(LedgerChange.after, f'$."{field}"')
           | fn.JSON_EXISTS(LedgerChange.before, f'$."{field}"'))
        for field, nouns in fields_called(text).items()
    ]  # fmt: skip
    return _with_changes(reduce(or_, chosen)) if chosen else LedgerEntry.id.is_null()


def _with_changes(chosen: Any) -> Any:
    return LedgerEntry.id.in_(LedgerChange.select(LedgerChange.entry).where(chosen))


def told(ids: list[int]) -> dict[int, dict[str, Any]]:
    """Kinds of records, the first records, and what was changed of them in one line."""
    nouns: dict[int, list[str]] = {}
    rows = LedgerChange.select(LedgerChange.entry, LedgerChange.noun).distinct()
    for entry, noun in rows.where(one_of(LedgerChange.entry, ids)).tuples():
        nouns.setdefault(entry, []).append(noun)
    out: dict[int, dict[str, Any]] = {}
    for deed in deeds_of(ids):
        records = list(dict.fromkeys(line.record for line in deed.lines if line.record))
        more = max(0, len(records) - TOLD) + deed.more
        out[deed.id] = {
            "nouns": sorted(nouns.get(deed.id, [])),
            "records": ", ".join(records[:TOLD]) + (f" and {more} more" if more else ""),
            "changes": "; ".join(f"{x.record} {x.label}: {x.before} → {x.after}".strip() for x in deed.lines),
        }
    return out
