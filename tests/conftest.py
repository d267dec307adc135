"""One real MariaDB for all tests, in memory, on its own port; the demo world of a fixed week inside."""

from __future__ import annotations

import os
import socket
import tempfile
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest

from nundine.demo import world
from nundine.local.database import connect, private_database
from nundine.services.state import forget
from nundine.settings import Settings, settings
from nundine.store.base import db
from nundine.store.schema import TABLES, migrate

WEEK = "2026-W49"
TODAY = date(2026, 11, 23)
PASSWORDS = {name: f"{name}-of-tarnfell" for name, _, _ in world.SIGN_INS}


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def here() -> Iterator[Settings]:
    """Settings of this run: folder, ports and day of its own."""
    memory = Path("/dev/shm")
    with tempfile.TemporaryDirectory(prefix="nundine-db-", dir=memory if memory.is_dir() else None, ignore_cleanup_errors=True) as folder:
        os.environ.update(NUNDINE_VAR=folder, NUNDINE_PORT=str(free_port()), NUNDINE_DB_PORT=str(free_port()), NUNDINE_TODAY=TODAY.isoformat())
        yield settings()


@pytest.fixture(scope="session")
def database(here: Settings) -> Iterator[Settings]:
    with private_database(here, in_memory=True):
        connect(here)
        migrate()
        yield here
        db.close_all()


def clear() -> None:
    """Empty all tables."""
    with db.atomic():
        db.execute_sql("SET FOREIGN_KEY_CHECKS=0")
        for table in TABLES:
            table.delete().execute()
        db.execute_sql("SET FOREIGN_KEY_CHECKS=1")
    forget()


_made = {"world": False}


def _name(table: type) -> str:
    return str(table._meta.table_name)  # type: ignore[attr-defined]


def keep_world() -> None:
    """A copy of every table of the demo world, from which each test starts."""
    for table in TABLES:
        db.execute_sql(f"CREATE OR REPLACE TABLE kept_{_name(table)} AS SELECT * FROM `{_name(table)}`")


def bring_back_world() -> None:
    with db.atomic():
        db.execute_sql("SET FOREIGN_KEY_CHECKS=0")
        for table in TABLES:
            table.delete().execute()
            db.execute_sql(f"INSERT INTO `{_name(table)}` SELECT * FROM kept_{_name(table)}")
        db.execute_sql("SET FOREIGN_KEY_CHECKS=1")
    forget()


@pytest.fixture
def fresh(database: Settings) -> Iterator[None]:
    """An empty database."""
    with db.connection_context():
        clear()
        yield


@pytest.fixture
def demo(database: Settings) -> Iterator[None]:
    """The demo world, as new."""
    with db.connection_context():
        if not _made["world"]:
            clear()
            world.make(TODAY, PASSWORDS)
            keep_world()
            _made["world"] = True
        else:
            bring_back_world()
        yield
