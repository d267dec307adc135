"""The order of rows as SQL: by expressions, by an index, or as the records lead to them that rows share."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from peewee import JOIN, fn

from nundine.services.errors import Refused
from nundine.services.listing.asking import passing
from nundine.services.listing.column import Column, Leading
from nundine.services.listing.listing import Around, Listing
from nundine.services.listing.question import MOST_SORTED, Question, Sort
from nundine.store.index_hints import end_to_end, is_led_by_index, through


def in_order(listing: Listing, question: Question, around: Around) -> Any:
    """The query of the rows that pass, in order: as the records lead to them that have the value, as an index
    has them, or else sorted, of a long list from end to end. Fields of records that many rows share are
    compared once: the records are ranked, and rows sorted by the ranks of theirs. Raises as `passing` and
    `ordered`."""
    leading = _leading(listing, question)
    if leading is not None:
        return _led(listing, question, around, leading)
    query = _sorted(listing, question, around)
    if listing.whole is None or _by_index(listing, question):
        return query
    return end_to_end(query, listing.whole)


def _sorted(listing: Listing, question: Question, around: Around) -> Any:
    ranks = {}
    for s in _sorts(listing, question):
        column = listing.column(s.column)
        if column.by is not None:
            ranks[column.name] = _ranks(column)
    order, used = ordered(listing, question, {name: rank.c.place for name, rank in ranks.items()})
    query = passing(listing, question, around, used + [listing.column(name).looked_up for name in ranks])
    for name, rank in ranks.items():
        by = listing.column(name).by
        query = query.join(rank, JOIN.LEFT_OUTER, on=by == rank.c.id, src=by.model)
    return query.order_by(*order)


def _leading(listing: Listing, question: Question) -> Leading | None:
    """What the rows may begin with, where they are sorted by one column alone."""
    match _sorts(listing, question):
        case [one]:
            return listing.column(one.column).leading
    return None


def _led(listing: Listing, question: Question, around: Around, leading: Leading) -> Any:
    """The rows that pass, as their records lead to them: what is sorted are the records."""
    order, used = ordered(listing, question)
    query = passing(led_by(listing, leading), question, around, used)
    return through(query, *leading.keys).order_by(*order[: -len(leading.keys)])


def led_by(listing: Listing, leading: Leading) -> Listing:
    """The list as it begins with other records, which lead to its rows."""
    rest = {name: join for name, join in listing.joins.items() if name not in leading.has}
    return replace(listing, query=leading.query, joins=rest)


def _by_index(listing: Listing, question: Question) -> bool:
    """Whether an index of the long list's table has its rows in this order; any has them by their ids."""
    match _sorts(listing, question):
        case []:
            return True
        case [one]:
            column = listing.column(one.column)
            day_first = column.kind in ("day", "moment") and not one.down
            return not day_first and is_led_by_index(listing.whole, column.sql)
    return False


def _ranks(column: Column) -> Any:
    place = fn.DENSE_RANK().over(order_by=[column.sql]).alias("place")
    return column.records.select(column.by.rel_model.id, place).alias(f"ranks_by_{column.name}")


def _sorts(listing: Listing, question: Question) -> list[Sort]:
    sorts = [Sort(question.group)] if question.group else []
    sorts += [s for s in (question.sort or listing.sort) if s.column != question.group]
    return sorts[:MOST_SORTED]


def ordered(
    listing: Listing, question: Question, instead: Mapping[str, Any] | None = None
) -> tuple[list[Any], list[Column]]:
    """How the rows are sorted, and the columns that this needs, but for those that have something to be
    sorted by `instead`; empty cells come last in any order. Of rows alike the one that was made first comes
    first, or last where all else is sorted downwards; those that share a record stand together where it leads
    to them."""
    sorts = _sorts(listing, question)
    out: list[Any] = []
    used: list[Column] = []
    for s in sorts:
        column = listing.column(s.column)
        if not column.can_sort:
            raise Refused("sort", f"A list can not be sorted by {column.label}.", field="sort")
        if column.kind in ("day", "moment") and not s.down:
            out.append(column.sql.is_null())
        value = (instead or {}).get(column.name, column.sql)
        if value is column.sql:
            used.append(column)
        if column.leading is not None and column.leading.value is not None:
            value = column.leading.value
        out.append(value.desc() if s.down else value.asc())
    if len(sorts) == 1 and (leading := listing.column(sorts[0].column).leading) is not None:
        first, *others = (record.id for record in leading.records)
        return [*out, first.desc() if sorts[0].down else first.asc(), *others, listing.row], used
    down = bool(sorts) and all(s.down for s in sorts)
    return [*out, listing.row.desc() if down else listing.row], used
