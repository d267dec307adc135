"""Many rows in few statements."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from peewee import Field

from nundine.store.base import Table, db

AT_ONCE = 1000
"""Rows in one statement."""


def insert_rows(table: type[Table], rows: Sequence[dict[str, Any]], replacing: Sequence[Field] = ()) -> None:
    """New rows, all with the same fields; fields that are not named get their defaults. Where such a row is
    there, it gets what the fields `replacing` say; without them it is an IntegrityError.

    It writes what the mapper's own way does in a third of its time, for that builds its statement anew from
    each value, and this once from the fields.
    """
    if not rows:
        return
    meta: Any = table._meta  # type: ignore[attr-defined]
    given = set(rows[0])
    fields = [f for f in meta.sorted_fields if f.name in given or f in meta.defaults]
    known = {f.name for f in fields}
    if given - known:
        raise ValueError(f"{table.__name__} has no field {', '.join(sorted(given - known))}")

    def column(field: Any) -> list[Any]:
        if field.name in given:
            return [field.db_value(row[field.name]) for row in rows]
        default = meta.defaults[field]
        value = field.db_value(default() if callable(default) else default)
        return [value] * len(rows)

    values = list(zip(*map(column, fields), strict=True))
    names = ", ".join(f"`{f.column_name}`" for f in fields)
    one = f"({', '.join(['%s'] * len(fields))})"
    for n in range(0, len(values), AT_ONCE):
        some = values[n : n + AT_ONCE]
        statement = f"INSERT INTO `{meta.table_name}` ({names}) VALUES {', '.join([one] * len(some))}"
        if replacing:
            kept = (f"`{f.column_name}` = VALUES(`{f.column_name}`)" for f in replacing)
            statement += f" ON DUPLICATE KEY UPDATE {', '.join(kept)}"
        db.execute_sql(statement, [value for row in some for value in row])
