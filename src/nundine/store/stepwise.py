"""Migrations that are cut off in the middle and go on where they were.

MariaDB makes each change of a table whole or not at all, but ends a transaction with it, so that a migration
of several statements can not be taken back. How far one has come is kept in a table that is there only
meanwhile: rows change together with what is kept of them; how a table stood that is about to change is kept
before, so that a later try sees whether the change came to be.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from playhouse.migrations import Runner
from playhouse.pool import PooledMySQLDatabase
from pymysql import ProgrammingError
from pymysql.constants.ER import NO_SUCH_TABLE

KEPT = "migration_step"
OF_TABLE = re.compile(r"\b(?:TABLE|ON) `(\w+)`")
ROWS = ("INSERT", "UPDATE", "DELETE")
COUNTER = re.compile(r" AUTO_INCREMENT=\d+")


class Stepwise:
    """The database as the migration of that name sees it: what it did in an earlier try is not done again."""

    def __init__(self, database: PooledMySQLDatabase, name: str) -> None:
        self._database = database
        self._name = name
        self._at = 0
        found = database.execute_sql(f"SELECT done, stood FROM {KEPT} WHERE name = %s", (name,)).fetchone()
        self._done: int = found[0] if found else 0
        self._stood: str | None = found[1] if found else None
        if found is None:
            database.execute_sql(f"INSERT INTO {KEPT} (name, done) VALUES (%s, 0)", (name,))

    def execute_sql(self, sql: str, params: tuple[Any, ...] | None = None) -> None:
        """Do one statement that changes a table (named in it between backquotes) or rows."""
        if sql.split(None, 1)[0] in ROWS:
            self.in_one(lambda database: database.execute_sql(sql, params))
            return
        found = OF_TABLE.search(sql)
        if found is None:
            raise ValueError(f"{self._name}: which table changes can not be told: {sql[:60]}")
        self._at += 1
        if self._at <= self._done:
            return
        stands = self._description(found[1])
        if self._at == self._done + 1 and self._stood not in (None, stands):
            return
        self._keep(self._at - 1, stands)
        self._database.execute_sql(sql)

    def in_one(self, work: Callable[[PooledMySQLDatabase], object]) -> None:
        """Do what reads and writes rows, all of it or nothing."""
        self._at += 1
        if self._at <= self._done:
            return
        with self._database.atomic():
            work(self._database)
            self._keep(self._at, None)

    def _keep(self, done: int, stood: str | None) -> None:
        self._database.execute_sql(
            f"UPDATE {KEPT} SET done = %s, stood = %s WHERE name = %s", (done, stood, self._name)
        )

    def _description(self, table: str) -> str:
        """The statement that would make the table, empty where there is none."""
        with self._database.connection().cursor() as cursor:
            try:
                cursor.execute(f"SHOW CREATE TABLE `{table}`")
            except ProgrammingError as bad:
                if bad.args[0] == NO_SUCH_TABLE:
                    return ""
                raise
            return COUNTER.sub("", cursor.fetchone()[1])


def bring_up(runner: Runner) -> list[str]:
    """Do what is missing, in its order, inside the caller's connection; gives the names of what was done."""
    missing = [m for m in runner.status() if not m.applied and m.path is not None]
    if not missing:
        return []
    database = runner.database
    runner.History.create_table()
    database.execute_sql(
        f"CREATE TABLE IF NOT EXISTS {KEPT} "
        "(name VARCHAR(255) PRIMARY KEY, done INTEGER NOT NULL, stood LONGTEXT)"
    )
    for migration in missing:
        migration.load().up(runner.migrator, Stepwise(database, migration.name))
        runner.History.create(name=migration.name)
    database.execute_sql(f"DROP TABLE {KEPT}")
    return [migration.name for migration in missing]
