"""Records by a word of their number or name, over several lists: what the palette asks."""

from __future__ import annotations

from dataclasses import dataclass, replace

from nundine.services.access import rights_of
from nundine.services.listing.listing import LISTS, Around, Listing
from nundine.services.listing.question import Question, Sort
from nundine.services.listing.rows import page

MOST, SHORTEST = 6, 2
"""Of each list so many; texts of fewer letters find nothing."""


@dataclass(frozen=True)
class LookedIn:
    """A list to look in: which columns, what a hit is called by, what stands beside it."""

    list: str
    columns: tuple[str, ...]
    note: str


LOOKED_IN = (
    LookedIn("work orders", ("number", "title"), "asset"),
    LookedIn("all tasks", ("key", "title", "text"), "order"),
    LookedIn("requests", ("number", "title"), "asset"),
    LookedIn("job plans", ("number", "title"), "kind"),
    LookedIn("people", ("person", "name"), "crew"),
    LookedIn("assets", ("asset", "name"), "parent"),
)


@dataclass(frozen=True)
class Hit:
    """One record: the list that it is of, its key, its name and a word beside it."""

    list: str
    key: str
    name: str
    note: str


def find(text: str, around: Around) -> list[Hit]:
    """Records that hold all words in their number or name; those whose number is the text come first."""
    wanted = " ".join(text.split())
    if len(wanted) < SHORTEST:
        return []
    out: list[Hit] = []
    for one in LOOKED_IN:
        kind = LISTS[one.list]
        if rights_of(around.account) & set(kind.rights):
            out += _in(kind.make(around), one, wanted, around)
    return sorted(out, key=lambda h: h.key.lower() != wanted.lower())


def _in(listing: Listing, one: LookedIn, wanted: str, around: Around) -> list[Hit]:
    wanted_cells = (*one.columns, one.note)
    columns = [replace(c, find=c.name in one.columns) for c in listing.columns if c.name in wanted_cells]
    looked = replace(listing, columns=tuple(columns), more=None)
    by_number = Question(find=wanted, sort=(Sort(one.columns[0]),))
    found = page(looked, by_number, around, 0, MOST)
    return [Hit(one.list, r.key, str(r.cells[one.columns[1]]), str(r.cells[one.note] or "")) for r in found]
