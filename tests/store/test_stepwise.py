"""Bringing the tables up to date, cut off at every statement: before it, and behind it before it is kept."""

from __future__ import annotations

import contextlib
import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playhouse.migrations import Runner

from nundine.local.database import root_connection, way_in
from nundine.settings import Settings
from nundine.store.base import Pool
from nundine.store.schema import MIGRATIONS
from nundine.store.stepwise import KEPT, bring_up
from tests.store.test_store import described

CHANGES = ("CREATE", "ALTER", "DROP", "INSERT", "UPDATE", "DELETE")
NOT_OF_A_MIGRATION = (KEPT, "schema_migration")


class CutOffError(Exception):
    """The process ends here."""


class CuttingOff(Pool):
    """A database at which each change fails twice: before it is done, and when it has been done."""

    def __init__(self, *args: Any, **given: Any) -> None:
        super().__init__(*args, **given)
        self.cut: set[tuple[str, str]] = set()

    def execute_sql(self, sql: str, params: Any = None) -> Any:
        changes = sql.startswith(CHANGES) and not any(name in sql for name in NOT_OF_A_MIGRATION)
        self._cut(changes, "before", sql)
        result = super().execute_sql(sql, params)
        self._cut(changes, "behind", sql)
        return result

    def _cut(self, changes: bool, when: str, sql: str) -> None:
        if changes and (when, sql) not in self.cut:
            self.cut.add((when, sql))
            raise CutOffError


@pytest.fixture
def cutting_off(database: Settings) -> Iterator[CuttingOff]:
    with root_connection(database) as root, root.cursor() as cursor:
        cursor.execute("CREATE DATABASE cut_off CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
        cursor.execute("GRANT ALL ON cut_off.* TO 'nundine'@'127.0.0.1'")
        one = CuttingOff("cut_off", mariadb=True, **way_in(database))
        yield one
        one.close_all()
        cursor.execute("DROP DATABASE cut_off")


def until_it_is_done(database: CuttingOff, directory: Path) -> None:
    while True:
        with database.connection_context():
            try:
                bring_up(Runner(database, str(directory)))
            except CutOffError:
                continue
            return


def add_an_account_of_operations(database: CuttingOff) -> None:
    """As the tables stood before roles were rows."""
    database.execute_sql("INSERT INTO account VALUES (1, 1, 'olivia', 'Olivia', '', 'operations', 1, '[7]')")


FOREIGN_KEYS = (
    "SELECT table_name, COUNT(*) FROM information_schema.referential_constraints "
    "WHERE constraint_schema = %s GROUP BY table_name ORDER BY table_name"
)


def test_tables_that_were_cut_off_at_every_statement_become_the_tables_of_the_models(
    database: Settings, cutting_off: CuttingOff, tmp_path: Path
) -> None:
    for one in MIGRATIONS.glob("00*.py"):
        if one.name < "0014":
            shutil.copy(one, tmp_path)
    until_it_is_done(cutting_off, tmp_path)
    with cutting_off.connection_context():
        for _ in range(3):
            with contextlib.suppress(CutOffError), cutting_off.atomic():
                add_an_account_of_operations(cutting_off)
    until_it_is_done(cutting_off, MIGRATIONS)
    assert len(cutting_off.cut) > 600
    with root_connection(database) as root, root.cursor() as cursor:

        def rows(sql: str, *values: str) -> tuple[Any, ...]:
            cursor.execute(sql, values)
            return cursor.fetchall()

        assert described(root, "cut_off") == described(root, "nundine")
        assert rows(FOREIGN_KEYS, "cut_off") == rows(FOREIGN_KEYS, "nundine")
        cursor.execute("USE cut_off")
        assert rows("SHOW TABLES LIKE %s", KEPT) == ()
        roles = "SELECT r.name, a.areas FROM account_role a JOIN role r ON r.id = a.role_id"
        assert rows(roles) == (("operations", "[7]"),)
        rights = {name: json.loads(told) for name, told in rows("SELECT name, rights FROM role")}
        assert [rights["operations"].count(one) for one in ("permit", "stock")] == [1, 0]
        assert [rights["storekeeper"].count(one) for one in ("permit", "stock")] == [0, 1]
