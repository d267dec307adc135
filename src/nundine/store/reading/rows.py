"""Rows by what they belong to, and the keys of rows by their ids."""

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


def keys_of_each(*tables: type[Table]) -> tuple[dict[int, str], ...]:
    """Of each of these tables what `keys_of` gives, by one question."""
    asked = [
        t.select(Value(n).alias("of"), t.id, t.key)  # type: ignore[attr-defined]
        for n, t in enumerate(tables)
    ]
    found: tuple[dict[int, str], ...] = tuple({} for _ in tables)
    for n, id_, key in reduce(add, asked).tuples():
        found[n][id_] = key
    return found
