"""Rows of a list as they are looked at: in pages, counted, summed, grouped; and the keys of all of them."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from peewee import SQL, NodeList, fn

from nundine.services.errors import Refused
from nundine.services.listing.asking import joined, passing
from nundine.services.listing.column import Column
from nundine.services.listing.listing import Around, Listing
from nundine.services.listing.order import in_order, led_by, ordered
from nundine.services.listing.question import Question
from nundine.store.index_hints import end_to_end
from nundine.store.many_ids import one_of
from nundine.store.once import read_once

MOST_ROWS, MOST_KEYS, MOST_GROUPS = 500, 5000, 20_000
FEW = 1000
"""So many rows that pass are sorted by their ids, which are found with what is counted and summed of them. Of
more, the first ones are soon found in any order."""


@dataclass(frozen=True)
class ListRow:
    """One row: its record's key, and cells by column: texts, numbers, truths, days and moments (ISO 8601)."""

    key: str
    cells: dict[str, Any]


@dataclass(frozen=True)
class Counted:
    """How many rows pass, and their sums by column."""

    total: int
    sums: dict[str, float]


@dataclass(frozen=True)
class Rows:
    """Rows from `first` on; all that pass are counted with the first ones alone."""

    counted: Counted | None
    first: int
    rows: list[ListRow]


@dataclass(frozen=True)
class Group:
    """Rows that have one value in the column that they are grouped by: how many, and their sums."""

    value: str | None
    label: str
    count: int
    sums: dict[str, float]


@read_once()
def rows(listing: Listing, question: Question, around: Around, first: int = 0, size: int = 100) -> Rows:
    """Some rows, counted from 0. Raises Refused for more than can be given at once."""
    if not 1 <= size <= MOST_ROWS or first < 0:
        raise Refused("size", f"Between 1 and {MOST_ROWS} rows are given at once.", field="size")
    if first > 0:
        return Rows(None, first, page(listing, question, around, first, size))
    if not (listing.dear or _asks(question)):
        return Rows(counted(listing, question, around), 0, page(listing, question, around, 0, size))
    all_of_them, ids = _counted_with_few(listing, question, around)
    if ids is None:
        return Rows(all_of_them, 0, page(listing, question, around, 0, size))
    return Rows(all_of_them, 0, cells_of(listing, ids[:size], around))


def _asks(question: Question) -> bool:
    return bool(question.filters or question.find.strip())


def _counted_with_few(
    listing: Listing, question: Question, around: Around
) -> tuple[Counted, list[int] | None]:
    """How many rows pass, their sums and, if they are few, their ids in order: each is looked into once. They
    are sorted afterwards, since what they are sorted by may be joined to few rows sooner than to many; of a
    dear list at once."""
    order, used = ordered(listing, question)
    totals = [c for c in listing.columns if c.total]
    query = _all_that_pass(listing, question, around, [*totals, *used] if listing.dear else totals)
    sorted_so = [SQL("ORDER BY"), NodeList(order, glue=", ")] if listing.dear else []
    few = fn.GROUP_CONCAT(NodeList((listing.row, *sorted_so, SQL(f"LIMIT {FEW}"))))
    counted_, some = _counted(query, totals, few)
    if counted_.total > FEW:
        return counted_, None
    ids = [int(id_) for id_ in some.split(",")] if some else []
    if ids and not listing.dear:
        query = joined(listing, listing.query, used).where(one_of(listing.row, ids))
        ids = _ids(query.select(listing.row).order_by(*order))
    return counted_, ids


def counted(listing: Listing, question: Question, around: Around) -> Counted:
    """How many rows pass, and their sums."""
    totals = [c for c in listing.columns if c.total]
    return _counted(_all_that_pass(listing, question, around, totals), totals)[0]


def _counted(query: Any, totals: list[Column], beside: Any = None) -> tuple[Counted, Any]:
    """The same of the rows of a query, and what is asked of them beside."""
    beside = SQL("NULL") if beside is None else beside
    sums = (fn.SUM(c.sql) for c in totals)
    count, found, *sums_ = query.select(fn.COUNT(SQL("*")), beside, *sums).tuples().first()
    return Counted(count, _summed(totals, sums_)), found


def _all_that_pass(
    listing: Listing, question: Question, around: Around, also: list[Column], group: Column | None = None
) -> Any:
    """The query of all rows that pass, where each row of a long list must be looked into: as the records lead
    to them that are asked for or make up the groups, or else from end to end. Never by an index: of those
    that the database takes to be selective, many are not."""
    asked = [c for f in question.filters if (c := listing.column(f.column)).by is None and c.is_field]
    for column in [*asked, *([group] if group is not None else [])]:
        if column.leading is not None:
            return passing(led_by(listing, column.leading), question, around, also)
    query = passing(listing, question, around, also)
    return end_to_end(query, listing.whole) if listing.whole is not None and _asks(question) else query


def _summed(totals: list[Column], sums: list[Any]) -> dict[str, float]:
    return {c.name: round(float(s or 0.0), 2) for c, s in zip(totals, sums, strict=True)}


def page(listing: Listing, question: Question, around: Around, first: int, size: int) -> list[ListRow]:
    """Some rows without counting them all: their ids in order, then the cells of those."""
    return cells_of(listing, _ids(_in_order(listing, question, around).limit(size).offset(first)), around)


def every(
    listing: Listing, question: Question, around: Around, columns: Collection[str], size: int
) -> Iterator[tuple[float, list[ListRow]]]:
    """All rows with the cells of these columns alone, so many at once, and what share of all they end: the
    order is asked for once."""
    ids = _ids(_in_order(listing, question, around))
    for first in range(0, len(ids), size):
        some = ids[first : first + size]
        yield (first + len(some)) / len(ids), cells_of(listing, some, around, columns)


def _in_order(listing: Listing, question: Question, around: Around) -> Any:
    return in_order(listing, question, around).select(listing.row)


def _ids(query: Any) -> list[int]:
    return [id_ for (id_,) in query.tuples()]


def cells_of(
    listing: Listing, ids: list[int], around: Around, columns: Collection[str] | None = None
) -> list[ListRow]:
    """Cells of all or these columns, for rows in the order of their ids."""
    wanted = None if columns is None else {*columns, listing.key}
    told = listing.tells or frozenset()
    drawn = [c for c in listing.columns if c.sql is not None and c.name not in told]
    drawn = [c for c in drawn if wanted is None or c.name in wanted]
    query = joined(listing, listing.query, drawn).where(one_of(listing.row, ids))
    named = [c.sql.alias(f"cell_{n}") for n, c in enumerate(drawn)]
    found = {r[0]: r[1:] for r in query.select(listing.row, *named).tuples()}
    tells = wanted is None or listing.tells is None or bool(wanted & listing.tells)
    more = listing.more(ids) if listing.more is not None and ids and tells else {}
    out = []
    for id_ in ids:
        if id_ in found:
            cells = {c.name: plain(c, v, around) for c, v in zip(drawn, found[id_], strict=True)}
            out.append(ListRow(str(cells[listing.key]), {**cells, **more.get(id_, {})}))
    return out


def plain(column: Column, value: Any, around: Around) -> Any:
    """A stored value as JSON has it; moments in the site's zone."""
    if column.kind == "yes":
        return bool(value)
    if isinstance(value, datetime):
        return value.astimezone(around.zone).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    return value


def groups(listing: Listing, question: Question, around: Around) -> list[Group]:
    """The groups of a question, in the order of their values. Raises Refused where rows can't be grouped so,
    or fall into too many groups."""
    column = listing.column(question.group or "")
    if not column.group:
        raise Refused("group", f"Rows can not be grouped by {column.label}.", field="group")
    totals = [c for c in listing.columns if c.total]
    query = _grouped(listing, question, around, column, totals)
    labels = {c.value: c.label for c in column.choices()} if column.choices else {}
    out = []
    value_of = SQL("in_group")  # by its name: what an expression is made of does not stand in the groups
    order = [SQL("in_group IS NULL"), value_of] if column.kind in ("day", "moment") else [value_of]
    for value, count, *sums in query.group_by(value_of).order_by(*order).limit(MOST_GROUPS + 1).tuples():
        text = ("yes" if value else "no") if column.kind == "yes" else None if value is None else str(value)
        out.append(Group(text, labels.get(text or "", text or "none"), int(count), _summed(totals, sums)))
    if len(out) > MOST_GROUPS:
        raise Refused(
            "many", f"These are more than {MOST_GROUPS} groups. Filter the rows first.", field="group"
        )
    return out


def _grouped(
    listing: Listing, question: Question, around: Around, column: Column, totals: list[Column]
) -> Any:
    """The value of each row as `in_group`, how many rows, and their sums; not grouped yet. Where the value is
    one of records that many rows share, rows are counted by the record."""
    query = _all_that_pass(listing, question, around, [column.looked_up, *totals], column)
    if column.by is not None:
        return _by_record(query, column, totals)
    return query.select(column.sql.alias("in_group"), fn.COUNT(SQL("*")), *(fn.SUM(c.sql) for c in totals))


def _by_record(query: Any, column: Column, totals: list[Column]) -> Any:
    """The same, of rows that were counted by the record that has the value: numbers are compared, and texts
    once for each record."""
    sums = [fn.SUM(c.sql).alias(f"sum_{n}") for n, c in enumerate(totals)]
    counted_ = query.select(column.by.alias("record"), fn.COUNT(SQL("*")).alias("many"), *sums)
    inner = counted_.group_by(column.by).alias("of_records")
    all_sums = [fn.SUM(getattr(inner.c, f"sum_{n}")) for n in range(len(totals))]
    record = column.by.rel_model
    rows_of = column.records.select(column.sql.alias("in_group"), fn.SUM(inner.c.many), *all_sums)
    return rows_of.join_from(record, inner, on=(inner.c.record == record.id))


def keys(listing: Listing, question: Question, around: Around) -> list[str]:
    """Keys of all rows that pass, in their order. Raises Refused for more than can be acted on at once."""
    order, used = ordered(listing, question)
    key = listing.column(listing.key)
    query = passing(listing, question, around, [*used, key]).select(key.sql).order_by(*order)
    found = [str(k) for (k,) in query.limit(MOST_KEYS + 1).tuples()]
    if len(found) > MOST_KEYS:
        raise Refused("many", f"More than {MOST_KEYS} rows can not be acted on at once. Filter them first.")
    return found
