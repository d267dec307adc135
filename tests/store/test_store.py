"""The database keeps what it is given, and its tables are those of the models."""

from __future__ import annotations

import importlib.util
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pytest
from peewee import IntegrityError

from nundine.local.database import password
from nundine.settings import Settings
from nundine.store.asset import Asset
from nundine.store.schema import MIGRATIONS, migrate, table_statements
from nundine.store.site import Area
from nundine.store.week import Event


def test_the_migrations_make_the_tables_of_the_models(database: Settings) -> None:
    spec = importlib.util.spec_from_file_location("first", MIGRATIONS / "0001_first_tables.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    assert list(module.STATEMENTS) == table_statements()
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
    area = Area.create(key="a", name="A")
    with pytest.raises(IntegrityError):
        Area.create(key="a", name="Again")
    with pytest.raises(Exception, match="criticality"):
        Asset.create(key="x", name="X", area=area, criticality=11)


def test_the_password_file_is_for_its_owner_alone(database: Settings) -> None:
    assert len(password(database.var)) > 20
    assert (database.var / "database-password").stat().st_mode & 0o077 == 0
