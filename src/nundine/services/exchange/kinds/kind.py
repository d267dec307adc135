"""What a kind of record in files is: its columns, how each cell is read, what must hold of its rows, and
which noun they become. A new kind is one file beside this one, and a line in the list of kinds."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from nundine.formats.bad import BadCell
from nundine.services.exchange.cells import Read, blank, key, text
from nundine.services.ledger.edits import Change
from nundine.services.ledger.noun import Key, Row
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import changes_to

REQUIRED = "REQUIRED"
KEY, NAME, ASSET = key(40), text(160), key(60)

Known = Mapping[str, Collection[Any]]
"""By kind what its rows are known by: those that stand, and those of the same files."""
Fault = tuple[str, str]
"""The column in which something is wrong, and what."""
Standing = Mapping[str, Mapping[Key, Row]]
"""Rows as they stand, by kind and key."""


@dataclass(frozen=True)
class Column:
    """`default` stands for an empty cell; REQUIRED = must be filled. `refers`: the kind that must know the
    value."""

    name: str
    read: Read
    default: Any = REQUIRED
    refers: str | None = None
    example: str = ""

    def value(self, cell: Any, zone: ZoneInfo) -> Any:
        """The value of a cell. Raises BadCell."""
        if blank(cell):
            if self.default == REQUIRED:
                raise BadCell("is empty")
            return self.default
        return self.read(cell, zone)


@dataclass(frozen=True)
class Given:
    """A parsed row with its place; not `whole` where a cell could not be read (which is reported already)."""

    file: str
    row: int
    values: dict[str, Any]
    whole: bool


def as_read(*lists: str) -> Callable[[list[Row]], list[Row]]:
    """Rows whose lists, which are stored as JSON, are as a file's cells are read."""

    def whole(value: object) -> object:
        return tuple(whole(v) for v in value) if isinstance(value, list | tuple) else value

    return lambda rows: [{**r, **{name: whole(r[name]) for name in lists}} for r in rows]


def no_faults(_: Row, __: Known) -> Iterator[Fault]:
    yield from ()


CheckAll = Callable[[Sequence[Given], Mapping[str, Sequence[Given]], Standing], Iterator[tuple[Given, Fault]]]


def no_faults_of_all(
    _: Sequence[Given], __: Mapping[str, Sequence[Given]], ___: Standing
) -> Iterator[tuple[Given, Fault]]:
    yield from ()


@dataclass(frozen=True)
class Kind:
    """One table of a file.

    Parameters
    ----------
    key
        The columns that tell rows apart.
    noun
        The noun whose records the rows are.
    names
        Kinds that cells name beside references: crafts in `mech x2`.
    looks_at
        Kinds whose standing rows `check_all` needs.
    check
        What is wrong with a row by itself, given what is known.
    check_all
        What is wrong with rows together: given all whole rows of the kind, those of other kinds in the same
        files, and what stands; each fault with the row that it is told at.
    tidy
        How a row is written that may be told in two ways.
    complete, more
        What a record's row has beside the noun's own fields, and the changes that write it.
    hidden
        What a row shows to those who may not know why somebody is away.
    """

    name: str
    key: tuple[str, ...]
    columns: tuple[Column, ...]
    noun: str
    names: tuple[str, ...] = ()
    looks_at: tuple[str, ...] = ()
    check: Callable[[Row, Known], Iterator[Fault]] = no_faults
    check_all: CheckAll = no_faults_of_all
    tidy: Callable[[Row], Row] = lambda row: row
    complete: Callable[[list[Row]], list[Row]] = lambda rows: rows
    more: Callable[[list[Row]], list[Change]] = lambda _: []
    hidden: Callable[[Row], Row] = lambda row: row

    def key_of(self, row: Row) -> Key:
        return tuple(row[k] for k in self.key)

    def refers_to(self) -> set[str]:
        """Kinds of which something must be known before rows of this one can be checked."""
        return {c.refers for c in self.columns if c.refers} | set(self.names) | set(self.looks_at)

    def blank_row(self) -> Row:
        return {c.name: c.default for c in self.columns}

    def standing(self) -> list[Row]:
        """All rows, in the order of the noun."""
        return self.rows(list(NOUNS[self.noun].read().values()))

    def first(self, count: int) -> list[Row]:
        """The first so many rows, in the order of the noun."""
        return self.rows(NOUNS[self.noun].first(count))

    def count(self) -> int:
        """How many rows there are."""
        return NOUNS[self.noun].count()

    def rows(self, records: list[Row]) -> list[Row]:
        return [{c.name: r[c.name] for c in self.columns} for r in self.complete(records)]

    def changes(self, rows: list[Row], before: list[Row] | None = None) -> list[Change]:
        """What rows change of records; `before`: all rows as they stand, where they have been read."""
        noun = NOUNS[self.noun]
        there = {noun.key_of(r): r for r in before} if before is not None else None
        return [*self.more(rows), *changes_to(noun.name, {noun.key_of(r): r for r in rows}, there)]


def ends_after_start(row: Row, _: Known) -> Iterator[Fault]:
    """For rows that last from a start to an end."""
    if row["end"] <= row["start"]:
        yield "end", "must lie after start"
