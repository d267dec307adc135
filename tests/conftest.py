"""One real MariaDB for all tests, in memory, on its own port; the demo world of a fixed week inside."""

from __future__ import annotations

import os
import re
import tempfile
from collections import Counter, OrderedDict
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest
from peewee import fn
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher

from nundine.demo import sign_ins, world
from nundine.local.database import connect, private_database
from nundine.services import cache
from nundine.services.admin import passwords
from nundine.services.cache import forget
from nundine.services.week.state import load_state
from nundine.settings import Settings, settings
from nundine.store.account import Role
from nundine.store.base import db
from nundine.store.ledger import ADDED_TO
from nundine.store.schema import TABLES, migrate
from tests.ports import free_port

WEEK = "2026-W49"
TODAY = date(2026, 11, 23)
passwords.HASHES = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=64, parallelism=1),))
"""Passwords of tests are hashed as in earnest, with less work."""
PASSWORDS = {name: f"{name}-of-tarnfell" for name, _, _ in sign_ins.SIGN_INS}


LATER = {"built", "published"}
"""Fixtures of worlds that were made of the demo world."""
WITH_PROCESSES = {"ui", "store"}
"""Folders of tests that drive browsers, or start and kill servers."""

LINES_OF_FAILURE = 40
VARIANTS = 2


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--few", type=int, default=0, help="of each file of tests/api its first N tests")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """What hangs on real processes is tried a second time if it fails: a busy machine may stand still for
    longer than any test waits. The report names what was tried twice."""
    if config.getoption("few"):
        _leave_few(config.getoption("few"), [i for i in items if not i.get_closest_marker("long")])
    for item in items:
        if item.path.parent.name in WITH_PROCESSES:
            item.add_marker(pytest.mark.flaky(reruns=1))


def _leave_few(few: int, items: list[pytest.Item]) -> None:
    """Of each file of the API its first tests; elsewhere of a rule that is tried on many weeks the first
    two."""
    taken = Counter[tuple[Path, str]]()
    for item in items:
        of_api = item.path.parent.name == "api"
        of = (item.path, "" if of_api else getattr(item, "originalname", item.name))
        taken[of] += 1
        if taken[of] > (few if of_api else VARIANTS):
            item.add_marker("long")


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Says why what was tried twice failed at first."""
    for report in terminalreporter.stats.get("rerun", []):
        terminalreporter.section(f"at first failed: {report.nodeid}", sep="-")
        terminalreporter.write_line("\n".join(str(report.longrepr).splitlines()[-LINES_OF_FAILURE:]))


@pytest.fixture(scope="session")
def here() -> Iterator[Settings]:
    """Settings of this run: folder, ports and day of its own."""
    memory = Path("/dev/shm")
    with tempfile.TemporaryDirectory(
        prefix="nundine-db-", dir=memory if memory.is_dir() else None, ignore_cleanup_errors=True
    ) as folder:
        os.environ.update(
            NUNDINE_VAR=folder,
            NUNDINE_PORT=str(free_port()),
            NUNDINE_DB_PORT=str(free_port()),
            NUNDINE_TODAY=TODAY.isoformat(),
            NUNDINE_NAMES="testserver",
        )
        yield settings()


@pytest.fixture(scope="session")
def database(here: Settings) -> Iterator[Settings]:
    with private_database(here, in_memory=True):
        connect(here)
        migrate()
        worlds.append(KeptWorlds())
        yield here
        db.close_all()


def clear() -> None:
    """Empty all tables."""
    with db.atomic():
        db.execute_sql("SET FOREIGN_KEY_CHECKS=0")
        for table in TABLES:
            if table is not Role:  # the roles are of the tables' making
                db.execute_sql(f"DELETE FROM `{_name(table)}`")
        db.execute_sql("SET FOREIGN_KEY_CHECKS=1")
    forget()


WRITES = re.compile(r"\s*(?:INSERT|REPLACE|UPDATE|DELETE)\s+(?:INTO\s+|FROM\s+|IGNORE\s+)*`?(\w+)")


def _name(table: type) -> str:
    return str(table._meta.table_name)  # type: ignore[attr-defined]


class KeptWorlds:
    """Copies of every table, from which each test starts. Only tables that were written to since, or differ
    between two worlds, are brought back."""

    def __init__(self) -> None:
        self.kept: dict[str, set[type]] = {}
        """Of each world the tables in which it is not as the first one was."""
        self.now = ""
        self.memory: dict[str, tuple[dict[str, OrderedDict], OrderedDict]] = {}
        """What is kept in memory of each world that was brought back, when its week was looked at."""
        self.told: dict[str, int] = {}
        """The newest row of the first world in tables that are only ever added to."""
        self.written: set[str] = set()
        execute = db.execute_sql

        def noting(sql: str, params: object = None) -> object:
            found = WRITES.match(sql)
            if found:
                self.written.add(found[1])
            return execute(sql, params)

        db.execute_sql = noting

    def keep(self, world: str) -> None:
        """A copy of all tables as they are now."""
        for table in TABLES:
            db.execute_sql(
                f"CREATE OR REPLACE TABLE kept_{world}_{_name(table)} AS SELECT * FROM `{_name(table)}`"
            )
        if not self.kept:
            self.told = {_name(t): t.select(fn.MAX(t.id)).scalar() or 0 for t in ADDED_TO}
        self.kept[world] = self._differs() if self.kept else set()
        self.now = world
        self.written.clear()

    def bring_back(self, world: str) -> None:
        """All tables as they were when the world was kept."""
        changed = [
            t
            for t in TABLES
            if (self._touched(t) if world == self.now else t in self._differs() | self.kept[world])
        ]
        with db.atomic():
            db.execute_sql("SET FOREIGN_KEY_CHECKS=0")
            for table in changed:
                only_new = f" WHERE id > {self.told[_name(table)]}" if table in ADDED_TO and self.now else ""
                db.execute_sql(f"DELETE FROM `{_name(table)}`{only_new}")
                db.execute_sql(
                    f"INSERT INTO `{_name(table)}` SELECT * FROM kept_{world}_{_name(table)}{only_new}"
                )
            db.execute_sql("SET FOREIGN_KEY_CHECKS=1")
        self.now = world
        self.written.clear()
        forget()
        self._remember(world)

    def _remember(self, world: str) -> None:
        """Fill the memory as it was when this world was brought back first: the week is read once, not by
        each test."""
        if world not in self.memory:
            load_state(WEEK)
            self.memory[world] = ({kind: of.copy() for kind, of in cache._kept.items()}, cache._sizes.copy())
        kept, sizes = self.memory[world]
        cache._kept.update({kind: of.copy() for kind, of in kept.items()})
        cache._sizes.update(sizes)

    def _differs(self) -> set[type]:
        """Tables that may not be as in the first world now: all, where nothing was brought back since they
        were emptied."""
        return self.kept.get(self.now, set(TABLES)) | {t for t in TABLES if self._touched(t)}

    def _touched(self, table: type) -> bool:
        """Written to itself, or emptied with a row that it hangs on."""
        fields = table._meta.refs.values()  # type: ignore[attr-defined]
        return _name(table) in self.written or any(up is not table and self._touched(up) for up in fields)


worlds: list[KeptWorlds] = []


@pytest.fixture
def fresh(database: Settings) -> Iterator[None]:
    """An empty database."""
    with db.connection_context():
        clear()
        worlds[0].now = ""
        yield


@pytest.fixture
def demo(database: Settings, request: pytest.FixtureRequest) -> Iterator[None]:
    """The demo world, as new; of a test that goes on with a later world, that one is brought back alone."""
    with db.connection_context():
        later = "built" in worlds[0].kept and LATER & set(request.fixturenames)
        if "demo" not in worlds[0].kept:
            clear()
            world.make(TODAY, PASSWORDS, past=False)
            worlds[0].keep("demo")
        elif not later:
            worlds[0].bring_back("demo")
        yield
