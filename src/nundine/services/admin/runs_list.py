"""Background work as a list: what was asked for by whom, when it ran, what came of it."""

from __future__ import annotations

from peewee import JOIN, SQL, fn

from nundine.services.access import MANAGE
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.account import Account
from nundine.store.run import Run

STATES = ("waiting", "running", "done", "failed", "stopped")


@listing("runs", "Background work", MANAGE)
def runs(around: Around) -> Listing:
    """All that is kept, the newest first."""
    seconds = fn.TIMESTAMPDIFF(SQL("SECOND"), Run.began, Run.ended)
    columns = (
        Column("number", "Number", "number", Run.id, width=86, weight=4, shown=False),
        Column("label", "What", "text", Run.label, find=True, width=280, weight=1),
        Column("kind", "Kind", "text", Run.kind, group=True, width=120, weight=2),
        Column(
            "state", "State", "choice", Run.state, group=True, width=100, weight=1, choices=words(*STATES)
        ),
        Column(
            "by", "For", "text", Account.full_name, ("account",), find=True, group=True, width=160, weight=3
        ),
        Column("created", "Asked for", "moment", Run.created, width=150, weight=1),
        Column("began", "Began", "moment", Run.began, width=150, weight=4, shown=False),
        Column("ended", "Ended", "moment", Run.ended, width=150, weight=3),
        Column("seconds", "Seconds", "number", seconds, width=90, weight=4),
        Column("error", "What went wrong", "text", Run.error, find=True, width=260, weight=3),
    )
    joins = {"account": lambda q: q.join(Account, JOIN.LEFT_OUTER, on=Run.account == Account.id, src=Run)}
    return Listing(columns, Run.select(), Run.id, "number", joins, (Sort("created", True),))
