"""Who did what when, as a list; what of each record was changed stands beside it."""

from __future__ import annotations

from peewee import JOIN

from nundine.services.access import ADMINISTER
from nundine.services.listing.column import Column
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.account import Account
from nundine.store.ledger import LedgerEntry


@listing("deeds", "Audit", ADMINISTER)
def deeds(around: Around) -> Listing:
    """Everything that was written, sign-ins too."""
    columns = (
        Column("number", "Number", "number", LedgerEntry.id, width=86, weight=4, shown=False),
        Column("at", "When", "moment", LedgerEntry.at, width=150, weight=1),
        Column(
            "account",
            "Sign-in",
            "text",
            Account.name,
            ("account",),
            find=True,
            group=True,
            width=110,
            weight=2,
        ),
        Column(
            "by", "Who", "text", Account.full_name, ("account",), find=True, group=True, width=160, weight=3
        ),
        Column("kind", "Kind", "text", LedgerEntry.kind, group=True, width=110, weight=2),
        Column("label", "What", "text", LedgerEntry.label, find=True, width=320, weight=1),
        Column("stream", "Of", "text", LedgerEntry.stream, find=True, group=True, width=150, weight=3),
    )
    joins = {
        "account": lambda q: q.join(
            Account, JOIN.LEFT_OUTER, on=LedgerEntry.account == Account.id, src=LedgerEntry
        )
    }
    return Listing(columns, LedgerEntry.select(), LedgerEntry.id, "number", joins, (Sort("at", True),))
