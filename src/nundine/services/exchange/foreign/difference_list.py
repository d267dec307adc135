"""How an export differs from what is here, as a list: a row for each field that changed, and for each
record that is new, vanished or made with them; as it was when the export was last compared."""

from __future__ import annotations

from typing import Any

from peewee import BooleanField, TextField

from nundine.services.access import IMPORT
from nundine.services.errors import NotFound
from nundine.services.exchange.foreign.files import found
from nundine.services.listing.column import Choice, Column, words
from nundine.services.listing.computed import Computed
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.foreign import Bringing

WHAT = ("changed", "vanished", "made", "new")


class DifferentRow(Computed):
    """A field of a WO that changed, or a record that is new, vanished or made."""

    key = TextField()
    what = TextField()
    number = TextField()
    title = TextField(null=True)
    field = TextField(null=True)
    here = TextField(null=True)
    there = TextField(null=True)
    week = TextField(null=True)
    by_hand = BooleanField()


def keep(one: Bringing, rows: list[dict[str, Any]]) -> None:
    """Keep how a file differs, for the list; rows name the fields of `DifferentRow` that they have,
    and by which field of the decision it is `decided`."""
    told = [{"by_hand": False, **r, "key": str(n)} for n, r in enumerate(rows, start=1)]
    Bringing.update(differs=told).where(Bringing.id == one.id).execute()


@listing("file rows", "What an export changes", IMPORT)
def file_rows(around: Around) -> Listing:
    """Of one of one's own files, named by its id; none where none is named. Raises NotFound."""
    if around.of and (not around.of.isdecimal() or len(around.of) > 12):
        raise NotFound("file", f"{around.of[:20]!r} is no file.")
    rows: list[dict[str, Any]] = (found(int(around.of), around.account).differs or []) if around.of else []
    D = DifferentRow
    columns = (
        Column("key", "Difference", "text", D.key, width=60, shown=False),
        Column("what", "What", "choice", D.what, group=True, width=92, weight=1, choices=words(*WHAT)),
        Column("number", "WO", "text", D.number, find=True, group=True, width=112, weight=1),
        Column("title", "Title", "text", D.title, find=True, width=200, weight=1),
        Column("field", "Field", "choice", D.field, group=True, width=110, weight=2,
               choices=lambda: [Choice(f, f) for f in sorted({r["field"] for r in rows if r.get("field")})]),
        Column("here", "Here", "text", D.here, find=True, group=True, width=130, weight=2),
        Column("there", "In the export", "text", D.there, find=True, group=True, width=130, weight=2),
        Column("week", "Placed in", "text", D.week, group=True, width=92, shown=False),
        Column("by_hand", "Changed here by hand", "yes", D.by_hand, group=True, width=90, shown=False),
    )  # fmt: skip

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        return {i: {"decided": rows[i - 1].get("decided")} for i in ids}

    return Listing(columns, D.over(rows), D.id, "key", {}, (Sort("what"),), more)
