"""Reading a table from one end to the other, where an index would fetch most of its rows one by one."""

from __future__ import annotations

from typing import Any

from peewee import Context, Join, Model, Node


def end_to_end(query: Any, table: type[Model]) -> Any:
    """The same question, told not to use an index of this table, which its rows come from first. The database
    reckons that half of a table is read sooner by an index; of rows that it then looks into, it is not."""
    whole = query.clone()
    first, *others = query._from_list
    whole._from_list = [_replaced(first, table), *others]
    return whole


class _EndToEnd(Node):
    """The table where it stands in FROM."""

    def __init__(self, table: type[Model]) -> None:
        self.table = table

    def __sql__(self, ctx: Context) -> Context:
        return ctx.sql(self.table).literal(" USE INDEX ()")


def _replaced(source: Any, table: type[Model]) -> Any:
    if isinstance(source, Join):
        return Join(_replaced(source.lhs, table), source.rhs, source.join_type, source._on, source._alias)
    return _EndToEnd(table) if source is table else source
