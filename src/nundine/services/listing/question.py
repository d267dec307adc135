"""A question to a list: filters, words looked for in all columns, order, grouping."""

from __future__ import annotations

from dataclasses import dataclass

from nundine.services.listing.column import How

MOST_WORDS, MOST_SORTED = 6, 4


@dataclass(frozen=True)
class Filter:
    """What is asked of one column. `between` has two values, of which one may be empty: open at that end."""

    column: str
    how: How
    values: tuple[str, ...] = ()


@dataclass(frozen=True)
class Sort:
    column: str
    down: bool = False


@dataclass(frozen=True)
class Question:
    """All rows that pass every filter and hold every word, in this order."""

    filters: tuple[Filter, ...] = ()
    find: str = ""
    sort: tuple[Sort, ...] = ()
    group: str | None = None
