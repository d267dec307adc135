"""Lists of rows that are computed and stand in no table: the database reads them from a document, so that
they are filtered, sorted, grouped and summed by the very same questions as rows that are kept."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from datetime import date, datetime
from functools import reduce
from operator import or_
from typing import Any

from peewee import (
    CTE,
    SQL,
    BooleanField,
    DateField,
    Expression,
    Field,
    FloatField,
    IntegerField,
    Model,
    Select,
    TextField,
    fn,
)

from nundine.services.listing.asking import like
from nundine.store.base import UtcField, db

TYPES: tuple[tuple[type[Field], str], ...] = (
    (UtcField, "DATETIME(6)"),
    (DateField, "DATE"),
    (BooleanField, "TINYINT"),
    (IntegerField, "BIGINT"),
    (FloatField, "DOUBLE"),
    (TextField, "VARCHAR(4000)"),
)
MARK = "\n"
"""Stands around each of several marks in one text."""


class Computed(Model):
    """A row that is computed: fields as those of a table, of the kinds in `TYPES`; `id` counts from 1."""

    id = IntegerField(primary_key=True)

    class Meta:
        database = db
        legacy_table_names = False

    @classmethod
    def over(cls, rows: Iterable[Mapping[str, Any]]) -> Any:
        """A query of these rows; what a row does not name is empty."""
        fields = [f for f in cls._meta.sorted_fields if f.name != "id"]
        document = json.dumps([_document(fields, r) for r in rows], ensure_ascii=False)
        drawn = ", ".join(f"`{f.name}` {_type(f)} PATH '$.{f.name}'" for f in fields)
        table = SQL(f"JSON_TABLE(%s, '$[*]' COLUMNS (`id` FOR ORDINALITY, {drawn})) AS computed", (document,))
        source = CTE(cls._meta.table_name, Select([table], [SQL("*")]))
        return cls.select().with_cte(source)


def _type(field: Field) -> str:
    for kind, name in TYPES:
        if isinstance(field, kind):
            return name
    raise TypeError(f"computed rows have no {type(field).__name__}")


def _document(fields: list[Field], row: Mapping[str, Any]) -> dict[str, Any]:
    return {f.name: _plain(f, row[f.name]) for f in fields if row.get(f.name) is not None}


def _plain(field: Field, value: Any) -> Any:
    if isinstance(value, datetime):
        return field.db_value(value)
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, bool):
        return int(value)
    if isinstance(value, (list, tuple, set, frozenset)):
        return marks(value)
    return value


def marks(values: Iterable[str]) -> str | None:
    """Several marks as one text, in which `has_mark` finds each; None for none."""
    found = list(values)
    return MARK + MARK.join(found) + MARK if found else None


def has_mark(field: Any) -> Any:
    """How a column of marks is filtered: it holds one of those asked for."""

    def asked(values: tuple[str, ...]) -> Expression:
        held = fn.COALESCE(field, "")
        return reduce(or_, [held ** like(f"{MARK}{v}{MARK}") for v in values])

    return asked
