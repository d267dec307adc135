"""Records by a word of their number or name, over several lists: what the palette asks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from nundine.services.access import rights_of
from nundine.services.listing.asking import words_of_index
from nundine.services.listing.listing import LISTS, Around, Listing
from nundine.services.listing.question import Question, Sort
from nundine.services.listing.rows import page
from nundine.store.work_order import Task, WorkOrder

MOST, SHORTEST = 6, 2
"""Of each list so many; texts of fewer letters find nothing."""


@dataclass(frozen=True)
class LookedIn:
    """A list to look in: its key, what a hit is called by, what stands beside it, and in which columns words
    are looked for. `indexed`: the columns of a full-text index, for what is too long to look through; words
    are found by their beginnings then."""

    list: str
    key: str
    name: str
    note: str
    columns: tuple[str, ...]
    indexed: tuple[Any, ...] = ()


LOOKED_IN = (
    LookedIn("work orders", "number", "title", "asset", ("number",)),
    LookedIn("work orders", "number", "title", "asset", ("title",), (WorkOrder.title,)),
    LookedIn("all tasks", "key", "title", "order", ("title", "text"), (Task.title, Task.text)),
    LookedIn("requests", "number", "title", "asset", ("number", "title")),
    LookedIn("job plans", "number", "title", "kind", ("number", "title")),
    LookedIn("people", "person", "name", "crew", ("person", "name")),
    LookedIn("parts", "part", "name", "group", ("part", "name", "maker_number")),
    LookedIn("assets", "asset", "name", "parent", ("asset", "name")),
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
    once = {(h.list, h.key): h for h in out}
    return sorted(once.values(), key=lambda h: h.key.lower() != wanted.lower())


def _in(listing: Listing, one: LookedIn, wanted: str, around: Around) -> list[Hit]:
    if one.indexed and not words_of_index(wanted):
        return []
    cells = (one.key, one.name, one.note, *one.columns)
    columns = [replace(c, find=c.name in one.columns) for c in listing.columns if c.name in cells]
    looked = replace(listing, columns=tuple(columns), more=None, indexed=one.indexed)
    by_key = () if one.indexed else (Sort(one.key),)
    found = page(looked, Question(find=wanted, sort=by_key), around, 0, MOST)
    return [Hit(one.list, r.key, str(r.cells[one.name]), str(r.cells[one.note] or "")) for r in found]
