"""The database handle, and field types that lose nothing."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from time import monotonic
from typing import Any

from peewee import SQL, BlobField, CharField, DateTimeField, IntegerField, Model, TextField
from playhouse.pool import PooledMySQLDatabase
from pymysql.constants import SERVER_STATUS

FRESH = 1.0
"""Seconds after its last use for which a connection is believed to be there."""


class Pool(PooledMySQLDatabase):
    """Connections that cost no way to the database when they are taken and given back in quick succession.

    The pool asks under one lock, and a busy server takes some hundred connections a second: one that was used
    a moment ago is not asked whether it is there, and only one that says that a transaction is open is rolled
    back.
    """

    def _is_closed(self, conn: Any) -> bool:
        if monotonic() - getattr(conn, "given_back", 0.0) < FRESH and conn.open:
            return False
        return bool(super()._is_closed(conn))

    def _can_reuse(self, conn: Any) -> bool:
        conn.given_back = monotonic()
        if conn.server_status is not None and not conn.server_status & SERVER_STATUS.SERVER_STATUS_IN_TRANS:
            return True
        return bool(super()._can_reuse(conn))


db = Pool(None, mariadb=True, max_connections=80, stale_timeout=240, timeout=20)


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
