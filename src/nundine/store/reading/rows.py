"""Rows by what they belong to, and the keys of rows by their ids."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from nundine.store.base import Table


def grouped(rows: Any, key: str) -> dict[int, list[dict[str, Any]]]:
    """Rows by the id in one of their columns."""
    out: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in rows:
        out[row[key]].append(row)
    return out


def keys_of(table: type[Table]) -> dict[int, str]:
    """Key by id of all rows of a table."""
    return {row["id"]: row["key"] for row in table.select(table.id, table.key).dicts()}  # type: ignore[attr-defined]
