"""A list and its columns; the lists that there are, each declared in the room of its noun."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from peewee import Model

from nundine.services.access import require
from nundine.services.errors import NotFound
from nundine.services.listing.column import Column
from nundine.services.listing.question import Sort
from nundine.store.account import Account


@dataclass(frozen=True)
class Around:
    """What a list is looked at from: whose eyes, which week, what day it is there, and which thing it is
    of where that is not the week alone."""

    account: Account
    week: str
    today: date
    monday: date
    zone: ZoneInfo
    of: str = ""


@dataclass(frozen=True)
class Listing:
    """One list as it is for those who look at it.

    Parameters
    ----------
    columns
        In the order in which they are shown.
    query
        The rows, with what limits them for everybody; columns and joins are added as a question needs them.
    row
        The id of a row in the query.
    key
        What a record is known by, for those who act on rows: a column's name.
    joins
        By name, how the query is joined with what a column needs.
    sort
        The order where none is asked for; the row's id comes last in any.
    more
        Cells that no expression gives: by id of the rows looked at, cells by column.
    tells
        The columns of those cells, whether or not an expression gives them too; None: it may be any.
    indexed
        The columns of a full-text index, for a list too long to look through: words are found by their
        beginnings in these.
    whole
        The table of a list so long that it is read from end to end to tell which of its rows pass.
    dear
        Each row hangs on sums over other tables, so that every asking costs what all rows cost.
    """

    columns: tuple[Column, ...]
    query: Any
    row: Any
    key: str
    joins: dict[str, Callable[[Any], Any]] = field(default_factory=dict)
    sort: tuple[Sort, ...] = ()
    more: Callable[[list[int]], dict[int, dict[str, Any]]] | None = None
    indexed: tuple[Any, ...] = ()
    tells: frozenset[str] | None = None
    whole: type[Model] | None = None
    dear: bool = False

    def column(self, name: str) -> Column:
        """Raises NotFound for a column that the list does not have."""
        for c in self.columns:
            if c.name == name:
                return c
        raise NotFound("column", f"This list has no column {name[:40]!r}.")


@dataclass(frozen=True)
class ListKind:
    """A list by its name, whom it is open to, and how it is made for somebody."""

    name: str
    label: str
    rights: tuple[str, ...]
    make: Callable[[Around], Listing]


LISTS: dict[str, ListKind] = {}


def listing(
    name: str, label: str, *rights: str
) -> Callable[[Callable[[Around], Listing]], Callable[[Around], Listing]]:
    """Declare a list, open to those who have one of the rights."""

    def known(make: Callable[[Around], Listing]) -> Callable[[Around], Listing]:
        LISTS[name] = ListKind(name, label, rights, make)
        return make

    return known


def kind_of(name: str) -> ListKind:
    """Raises NotFound."""
    if name not in LISTS:
        raise NotFound("list", f"There is no list {name[:40]!r}.")
    return LISTS[name]


def opened(name: str, around: Around) -> Listing:
    """A list for somebody. Raises NotFound, and NotAllowed for those whom it is not open to."""
    kind = kind_of(name)
    require(around.account, *kind.rights)
    return kind.make(around)
