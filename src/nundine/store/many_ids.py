"""Whether a record is one of many."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from peewee import SQL, Expression


def one_of(column: Any, ids: Iterable[int]) -> Expression:
    """Whether a column holds one of many ids, written out as one text: thousands of parameters would take
    longer to put together than the rows to read."""
    return Expression(column, "IN", _written(ids))


def none_of(column: Any, ids: Iterable[int]) -> Expression:
    """Whether a column, which is never empty, holds none of many ids."""
    return Expression(column, "NOT IN", _written(ids))


def _written(ids: Iterable[int]) -> SQL:
    return SQL(f"({','.join(str(int(i)) for i in ids) or '0'})")
