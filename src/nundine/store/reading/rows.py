"""Rows by what they belong to, the keys of rows by their ids, and several questions asked by one."""

from __future__ import annotations

from collections import defaultdict
from functools import reduce
from operator import add
from typing import Any

from peewee import Value

from nundine.store.base import Table


def grouped(rows: Any, key: str) -> dict[int, list[dict[str, Any]]]:
    """Rows by the id in one of their columns."""
    out: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in rows:
        out[row[key]].append(row)
    return out


def keys_of(table: type[Table]) -> dict[int, str]:
    """Key by id of all rows of a table."""
    return dict(table.select(table.id, table.key).tuples())  # type: ignore[attr-defined]


def rows_of_each(*asked: Any) -> tuple[list[tuple[Any, ...]], ...]:
    """The rows of each of these questions, which ask for equally many columns of the same kinds, without an
    order of their own; the database is asked once."""
    found: tuple[list[tuple[Any, ...]], ...] = tuple([] for _ in asked)
    numbered = [query.select_extend(Value(n).alias("of")) for n, query in enumerate(asked)]
    for *row, of in reduce(add, numbered).tuples():
        found[of].append(tuple(row))
    return found


def keys_of_each(*tables: type[Table]) -> tuple[dict[int, str], ...]:
    """Of each of these tables what `keys_of` gives, by one question."""
    asked = (t.select(t.id, t.key) for t in tables)  # type: ignore[attr-defined]
    return tuple(map(dict, rows_of_each(*asked)))
