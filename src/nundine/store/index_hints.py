"""Telling the database which index to take, where it would guess wrongly."""

from __future__ import annotations

from typing import Any

from peewee import SQL, Context, Field, Join, Model, Node


def end_to_end(query: Any, table: type[Model]) -> Any:
    """The same question, told not to use an index of this table, which its rows come from first. The database
    reckons that half of a table is read sooner by an index; of rows that it then looks into, it is not."""
    return _hinted(query, {table: "USE INDEX ()"})


def through(query: Any, *foreign_keys: Any) -> Any:
    """The same question, told to find the rows of these tables by their foreign keys alone: those of one
    record follow one another in the order of their ids."""
    names = {key.model: f"{key.model._meta.table_name}_{key.column_name}" for key in foreign_keys}
    return _hinted(query, {table: f"FORCE INDEX (`{name}`)" for table, name in names.items()})


def is_led_by_index(table: type[Model] | None, field: Any) -> bool:
    """Whether an index has the rows of a site in the order of this field."""
    if table is None or not isinstance(field, Field) or field.model is not table:
        return False
    indexes = [one for one in table._meta.indexes if not isinstance(one, SQL)]  # type: ignore[attr-defined]
    return any(tuple(fields[:2]) == ("site", field.name) for fields, _unique in indexes)


def _hinted(query: Any, hints: dict[type[Model], str]) -> Any:
    told = query.clone()
    told._from_list = [_replaced(source, hints) for source in query._from_list]
    return told


class _Hinted(Node):
    """A table where it stands in FROM, with what the database is told of it."""

    def __init__(self, table: type[Model], hint: str) -> None:
        self.table, self.hint = table, hint

    def __sql__(self, ctx: Context) -> Context:
        return ctx.sql(self.table).literal(f" {self.hint}")


def _replaced(source: Any, hints: dict[type[Model], str]) -> Any:
    if isinstance(source, Join):
        left, right = _replaced(source.lhs, hints), _replaced(source.rhs, hints)
        return Join(left, right, source.join_type, source._on, source._alias)
    return _Hinted(source, hints[source]) if source in hints else source
