"""One column of a list: what it is called, where it comes from, what can be asked of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Literal

from peewee import SQL, Field

Kind = Literal["text", "number", "hours", "money", "day", "moment", "yes", "choice", "marks"]
"""`hours`: work hours; `money`: an amount in the site's currency; `choice`: one of a few words; `marks`:
several small marks, which are filtered as choices."""
How = Literal["contains", "is", "is not", "between", "empty", "not empty"]
HOWS: dict[Kind, tuple[How, ...]] = {
    "text": ("contains", "is", "is not", "empty", "not empty"),
    "number": ("between", "is", "empty", "not empty"),
    "hours": ("between", "is", "empty", "not empty"),
    "money": ("between", "is", "empty", "not empty"),
    "day": ("between", "is", "empty", "not empty"),
    "moment": ("between", "is", "empty", "not empty"),
    "yes": ("is",),
    "choice": ("is", "is not", "empty", "not empty"),
    "marks": ("is", "is not"),
}
"""What can be asked of each kind of column."""
FIGURES: tuple[Kind, ...] = ("number", "hours", "money")


@dataclass(frozen=True)
class Choice:
    value: str
    label: str


@dataclass(frozen=True)
class Leading:
    """Records with a value, each followed by those rows of the list that share it: in the order of the value
    the first rows of a very long list are found without a look at the others.

    Parameters
    ----------
    query
        The list's query as it begins with the records.
    has
        The joins of the list that the query has already.
    keys
        The foreign keys from a row to the record.
    value
        What the records are sorted by where it is not the column's own expression.
    """

    query: Any
    has: tuple[str, ...]
    keys: tuple[Any, ...]
    value: Any = None

    @property
    def records(self) -> tuple[Any, ...]:
        """Their tables, from the one that leads to the one that a row belongs to."""
        return tuple(key.rel_model for key in reversed(self.keys))


@dataclass(frozen=True)
class Column:
    """One column.

    Parameters
    ----------
    name, label, kind
        What it is called in questions and on screens, and what it holds.
    sql
        An expression of the list's query; None for a column whose cells the list fills in by itself.
    joins
        The joins of the list that the expression needs, in their order.
    find
        Whether it is looked through when all columns are.
    group, total
        Whether rows can be grouped by it; whether it is summed in groups.
    width, weight
        Pixels, and how long it stays when there is little room: 1 to the last, 5 gives way first.
    shown
        Whether it is shown until somebody chooses columns.
    choices
        The values of a choice, looked up when they are asked for.
    asked
        How it is filtered where its expression alone does not say it: values to a truth.
    holds
        How rows are told in which it contains a text, where its expression does not say it.
    filled
        Whether it is never empty, so that nobody need ask.
    by
        The foreign key, never empty, of the record that many rows share and that has this value: it is looked
        up, filtered, sorted and counted once for each record.
    of
        The query of those records, where the value is of another that they are joined with.
    reach
        The joins of the list that this foreign key needs.
    leading
        How rows are found in its order where the list begins with the records that have the value.
    """

    name: str
    label: str
    kind: Kind = "text"
    sql: Any = None
    joins: tuple[str, ...] = ()
    find: bool = False
    group: bool = False
    total: bool = False
    width: int = 110
    weight: int = 3
    shown: bool = True
    choices: Callable[[], list[Choice]] | None = None
    asked: Callable[[tuple[str, ...]], Any] | None = None
    holds: Callable[[str], Any] | None = None
    hint: str = ""
    filled: bool = False
    by: Any = None
    of: Any = None
    reach: tuple[str, ...] = ()
    leading: Leading | None = None

    @property
    def is_field(self) -> bool:
        """Whether it is one field of a record."""
        return isinstance(self.sql, Field)

    @property
    def can_sort(self) -> bool:
        return self.sql is not None

    @property
    def records(self) -> Any:
        """The query of the records that rows share. Only where there is `by`."""
        return self.by.rel_model.select() if self.of is None else self.of

    @property
    def looked_up(self) -> Column:
        """The column as a question must be joined for it: as far as the record that rows share, if there is
        one."""
        return self if self.by is None else replace(self, joins=self.reach)

    @property
    def hows(self) -> tuple[How, ...]:
        """What can be asked of it."""
        if self.sql is not None or self.asked is not None:
            return tuple(how for how in HOWS[self.kind] if not (self.filled and "empty" in how))
        return ("contains",) if self.holds is not None else ()


def by_truth(truth: Any) -> Callable[[tuple[str, ...]], Any]:
    """How a column of kind `yes` is filtered by a truth of its rows, which the database takes apart."""

    def asked(values: tuple[str, ...]) -> Any:
        if {"yes", "no"} <= set(values):
            return SQL("TRUE")
        return truth if "yes" in values else ~truth

    return asked


def words(*values: str) -> Callable[[], list[Choice]]:
    """Choices that say what they are."""
    return lambda: [Choice(v, v) for v in values]
