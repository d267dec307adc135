"""The database handle, and field types that lose nothing."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

from peewee import SQL, BlobField, CharField, DateTimeField, IntegerField, Model, TextField
from playhouse.pool import PooledMySQLDatabase

db = PooledMySQLDatabase(None, mariadb=True, max_connections=80, stale_timeout=240, timeout=20)


class UtcField(DateTimeField):
    """A moment: aware in, UTC in the database to the microsecond, aware UTC out."""

    field_type = "DATETIME(6)"

    def db_value(self, value: datetime | None) -> str | None:
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError(f"{value} has no time zone")
        return value.astimezone(UTC).strftime("%Y-%m-%d %H:%M:%S.%f")

    def python_value(self, value: datetime | str | None) -> datetime | None:
        if value is None:
            return None
        if isinstance(value, str):
            value = datetime.fromisoformat(value)
        return value if value.tzinfo else value.replace(tzinfo=UTC)


class JsonField(TextField):
    """A JSON document in a LONGTEXT."""

    field_type = "LONGTEXT"

    def db_value(self, value: Any) -> str | None:
        return None if value is None else json.dumps(value, ensure_ascii=False, separators=(",", ":"))

    def python_value(self, value: str | None) -> Any:
        return None if value is None else json.loads(value)


class KeyField(CharField):
    """A text by which a record is known: two are the same only if they are byte for byte, whatever a language
    says."""

    def ddl_datatype(self, ctx: Any) -> Any:
        return SQL(f"VARCHAR({self.max_length}) COLLATE utf8mb4_nopad_bin")


class LongBlobField(BlobField):
    """Bytes up to 4 GB; a plain BLOB ends at 64 KB."""

    field_type = "LONGBLOB"


class Table(Model):
    """All tables live in the one database."""

    class Meta:
        database = db
        legacy_table_names = False


class Record(Table):
    """What people change: `revision` grows with each change of it, so that a write can name the one it
    saw."""

    revision = IntegerField(default=1)
