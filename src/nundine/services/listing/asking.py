"""Questions as SQL: what passes the filters."""

from __future__ import annotations

import re
from datetime import datetime, time, timedelta
from functools import reduce
from operator import or_
from typing import Any

from peewee import SQL, CharField, Expression, NodeList, TextField, fn

from nundine.core.relative_day import day_of
from nundine.services.errors import Refused
from nundine.services.listing.column import FIGURES, Column
from nundine.services.listing.listing import Around, Listing
from nundine.services.listing.question import MOST_WORDS, Filter, Question
from nundine.store.base import KeyField
from nundine.store.many_ids import none_of, one_of
from nundine.store.once import once

SHORTEST_WORD, LONGEST_WORD = 3, 84
"""Letters of the words that a full-text index of the database knows."""
EVERYDAY = frozenset(
    (
        "about", "are", "com", "for", "from", "how", "that", "the", "this", "was", "what", "when", "where",
        "who", "will", "with", "und", "www",
    )
)  # fmt: skip
"""Words that it leaves out (InnoDB's own list)."""


def like(text: str) -> str:
    """A pattern that holds a text anywhere, letter for letter."""
    return "%" + text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"


def joined(listing: Listing, query: Any, columns: list[Column]) -> Any:
    """The query with what these columns need, each once, in the order in which the list has its joins."""
    wanted = {j for c in columns for j in c.joins}
    for name, join in listing.joins.items():
        if name in wanted:
            query = join(query)
    return query


def columns_in(listing: Listing, question: Question) -> list[Column]:
    """Columns that must be joined for filters and words."""
    used = [listing.column(f.column) for f in question.filters]
    used += [c for c in listing.columns if c.find and question.find.strip()]
    return [c.looked_up for c in used]


def passing(listing: Listing, question: Question, around: Around, also: list[Column] | None = None) -> Any:
    """The query of the rows that pass, joined for `also` too.

    Raises
    ------
    NotFound, Refused
        For a column that is not there, and for what can not be asked of it, naming the filter.
    """
    query = joined(listing, listing.query, columns_in(listing, question) + (also or []))
    for word in question.find.split()[:MOST_WORDS]:
        query = query.where(_anywhere([c for c in listing.columns if c.find], word))
    known = words_of_index(question.find) if listing.indexed else []
    if known:
        query = query.where(_begin_so(listing.indexed, known))
    for one in question.filters:
        query = query.where(truth(listing.column(one.column), one, around))
    return query


def truth(column: Column, one: Filter, around: Around) -> Expression:
    """One filter as SQL. Raises Refused."""
    if one.how not in column.hows:
        raise Refused("filter", f"{column.label} can not be asked for {one.how!r}.", field=column.name)
    found = _truth(column, one, around)
    shared = column.by is not None and column.asked is None and column.holds is None
    return _of_records(column, found) if shared else found


def _of_records(column: Column, found: Expression) -> Expression:
    """What is true of a record that many rows share, asked of the records once and before: asked within, it
    would be asked for each row. Said by those of whom it is true, or by the others, whichever are fewer."""
    asked = column.records.select(column.by.rel_model.id, found)
    text, parameters = asked.sql()
    which = once(("true of records", text, *parameters), lambda: _parted(asked))
    few = len(which[True]) <= len(which[False])
    return one_of(column.by, which[True]) if few else none_of(column.by, which[False])


def _parted(asked: Any) -> dict[bool, list[int]]:
    which: dict[bool, list[int]] = {True: [], False: []}
    for id_, so in asked.tuples():
        which[bool(so)].append(id_)
    return which


def _truth(column: Column, one: Filter, around: Around) -> Expression:
    if one.how == "empty":
        return _empty(column)
    if one.how == "not empty":
        return ~_empty(column)
    if one.how == "between":
        return _between(column, one, around)
    if not one.values:
        raise Refused("filter", f"Say what {column.label} is to be.", field=column.name)
    if one.how == "contains":
        return reduce(or_, [_contains(column, v) for v in one.values])
    found = _is(column, one, around)
    if one.how == "is":
        return found
    return ~found if column.asked is not None else ~found | column.sql.is_null()


def _empty(column: Column) -> Expression:
    return (
        column.sql.is_null() | (column.sql == "")
        if column.kind in ("text", "choice")
        else column.sql.is_null()
    )


def _contains(column: Column, text: str) -> Expression:
    """Capitals count for nothing: keys compare byte by byte, other texts without regard to them."""
    return _holds(column.sql, text) if column.holds is None else column.holds(text)


def _anywhere(columns: list[Column], text: str) -> Expression:
    """Whether a text stands in one of the columns. Records that rows share come first: of a row of theirs no
    text need be looked into."""
    shared: dict[Any, list[Column]] = {}
    for c in columns:
        if c.by is not None and c.holds is None:
            shared.setdefault(c.by, []).append(c)
    own = [_contains(c, text) for c in columns if c.by is None or c.holds is not None]
    theirs = [
        _of_records(group[0], reduce(or_, [_holds(c.sql, text) for c in group])) for group in shared.values()
    ]
    return reduce(or_, [*theirs, *own])


def _holds(sql: Any, text: str) -> Expression:
    by_byte = not isinstance(sql, CharField | TextField) or isinstance(sql, KeyField)
    return fn.LOWER(sql) ** like(text.lower()) if by_byte else sql ** like(text)


def words_of_index(text: str) -> list[str]:
    """Those words of a text that a full-text index knows: of three letters at least, and none that stands in
    every sentence."""
    words = re.findall(r"\w+", text.lower())
    return [w for w in words if SHORTEST_WORD <= len(w) <= LONGEST_WORD and w not in EVERYDAY]


def _begin_so(columns: tuple[Any, ...], words: list[str]) -> Any:
    """Whether words of these columns begin like all of these."""
    asked = " ".join(f"+{w}*" for w in words)
    return NodeList((fn.MATCH(*columns), SQL("AGAINST (%s IN BOOLEAN MODE)", (asked,))))


def _is(column: Column, one: Filter, around: Around) -> Expression:
    if column.asked is not None:
        return column.asked(one.values)
    if column.kind == "yes":
        wanted = {v == "yes" for v in one.values}
        return column.sql.in_([int(w) for w in wanted])
    if column.kind in FIGURES:
        return column.sql.in_([_number(column, v) for v in one.values])
    if column.kind in ("day", "moment"):
        return reduce(
            or_, [_between(column, Filter(column.name, "between", (v, v)), around) for v in one.values]
        )
    return column.sql.in_(list(one.values))


def _between(column: Column, one: Filter, around: Around) -> Expression:
    if len(one.values) != 2 or not any(one.values):
        raise Refused("filter", f"Say from when, or until when, {column.label} is to be.", field=column.name)
    low, high = one.values
    if column.kind in FIGURES:
        ends = (_number(column, low) if low else None, _number(column, high) if high else None)
        above = column.sql >= ends[0] if ends[0] is not None else None
        below = column.sql <= ends[1] if ends[1] is not None else None
    else:
        first, last = (_day(column, v, around) if v else None for v in (low, high))
        if column.kind == "moment":
            above = column.sql >= datetime.combine(first, time(), around.zone) if first else None
            end = last + timedelta(days=1) if last else None
            below = column.sql < datetime.combine(end, time(), around.zone) if end else None
        else:
            above = column.sql >= first if first else None
            below = column.sql <= last if last else None
    if above is not None and below is not None:
        return above & below
    return above if above is not None else below


def _number(column: Column, text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError as bad:
        raise Refused("filter", f"{column.label}: {text[:40]!r} is no number.", field=column.name) from bad


def _day(column: Column, text: str, around: Around) -> Any:
    try:
        return day_of(text, around.today, around.monday)
    except ValueError as bad:
        raise Refused("filter", f"{column.label}: {bad}", field=column.name) from bad
