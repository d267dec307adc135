"""The database keeps what it is given, and its tables are those of the models."""

from __future__ import annotations

from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pymysql
import pytest
from peewee import IntegrityError

from nundine.local.database import password, root_connection
from nundine.settings import Settings
from nundine.store.asset import Asset
from nundine.store.schema import TABLES, migrate, table_statements
from nundine.store.site import Area, Site
from nundine.store.week import Event


def described(root: pymysql.Connection, schema: str) -> dict[str, list[tuple]]:
    """Columns and indexes of a database."""
    found = {}
    for name, what in (
        ("columns", "table_name, column_name, column_type, is_nullable, column_key, collation_name"),
        ("statistics", "table_name, index_name, seq_in_index, column_name, non_unique"),
    ):
        with root.cursor() as cursor:
            cursor.execute(f"SELECT {what} FROM information_schema.{name} WHERE table_schema = %s", (schema,))
            found[name] = sorted(r for r in cursor.fetchall() if r[0] in {t._meta.table_name for t in TABLES})
    return found


def test_the_migrations_make_the_tables_of_the_models(database: Settings) -> None:
    with root_connection(database) as root:
        migrated = described(root, "nundine")
        assert len(migrated["columns"]) > 200
        with root.cursor() as cursor:
            cursor.execute("CREATE DATABASE of_models CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
            cursor.execute("USE of_models")
            for statement in table_statements():
                cursor.execute(statement)
        assert described(root, "of_models") == migrated
        with root.cursor() as cursor:
            cursor.execute("DROP DATABASE of_models")
    assert migrate() == []


def test_a_moment_comes_back_to_the_microsecond_and_in_utc(fresh: None) -> None:
    at = datetime(2026, 10, 25, 2, 30, 0, 123456, tzinfo=ZoneInfo("Europe/Zurich"), fold=1)
    Event.create(week="2026-W43", kind="test", body={"name": "ليلى"}, at=at)
    found = Event.get()
    assert found.at == at.astimezone(UTC)
    assert found.at.tzinfo == UTC
    assert found.body == {"name": "ليلى"}


def test_a_moment_without_a_zone_is_refused(fresh: None) -> None:
    with pytest.raises(ValueError, match="no time zone"):
        Event.create(week="2026-W43", kind="test", body={}, at=datetime(2026, 1, 1))


def test_the_database_itself_refuses_what_may_not_be(fresh: None) -> None:
    Site.create(name="S", timezone="UTC")
    area = Area.create(key="a", name="A")
    with pytest.raises(IntegrityError):
        Area.create(key="a", name="Again")
    with pytest.raises(Exception, match="criticality"):
        Asset.create(key="x", name="X", area=area, criticality=11)


def test_the_password_file_is_for_its_owner_alone(database: Settings) -> None:
    assert len(password(database.var)) > 20
    assert (database.var / "database-password").stat().st_mode & 0o077 == 0
