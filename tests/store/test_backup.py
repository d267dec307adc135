"""A backup holds everything of one moment and comes back equal; a broken one changes nothing."""

from __future__ import annotations

import contextlib
import gzip
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from datetime import timedelta
from pathlib import Path

import pytest

from nundine.demo import world
from nundine.local import backup as backups
from nundine.local import seal
from nundine.local.database import connect, private_database
from nundine.local.errors import CannotStart
from nundine.services.cache import forget
from nundine.settings import Settings, settings
from nundine.store.account import Account, SignedIn
from nundine.store.base import db
from nundine.store.schema import TABLES, migrate
from nundine.store.site import Area, Site
from tests.conftest import PASSWORDS, TODAY
from tests.ports import free_port


@pytest.fixture
def place(tmp_path: Path, database: Settings) -> Iterator[Callable[[str], Settings]]:
    """`place("a")` is an empty place of its own; the connection goes back to the tests' one after."""
    db.close_all()

    def make(name: str) -> Settings:
        made = Settings(tmp_path / name, "127.0.0.1", free_port(), free_port(), TODAY)
        made.var.mkdir()
        return made

    yield make
    db.close_all()
    connect(database)
    forget()


@contextlib.contextmanager
def opened(here: Settings) -> Iterator[None]:
    with private_database(here, in_memory=True):
        connect(here)
        migrate()
        with db.connection_context():
            yield
        db.close_all()


@pytest.fixture(scope="module")
def first(tmp_path_factory: pytest.TempPathFactory, database: Settings) -> Iterator[Settings]:
    """A place with the demo world, made once; nothing runs there."""
    db.close_all()
    here = Settings(tmp_path_factory.mktemp("first"), "127.0.0.1", free_port(), free_port(), TODAY)
    try:
        with opened(here):
            world.make(TODAY, PASSWORDS, past=False)
    finally:
        connect(database)
        forget()
    yield here
    shutil.rmtree(here.var)


@pytest.fixture
def source(first: Settings, place: Callable[[str], Settings]) -> Settings:
    """A place like the first one, which a test may change."""
    here = place("source")
    shutil.copytree(first.var, here.var, dirs_exist_ok=True)
    return here


def rows() -> dict[str, list[tuple]]:
    """Every row of every table."""
    return {t.__name__: sorted(map(repr, getattr(t, "of_all_sites", t.select)().tuples())) for t in TABLES}


def test_a_backup_comes_back_equal_in_another_place(
    source: Settings, place: Callable[[str], Settings], tmp_path: Path
) -> None:
    with opened(source):
        before = rows()
    assert len(before["WorkOrder"]) > 400
    file, other = tmp_path / "all.backup", place("other")
    assert backups.backup(source, file) > 10_000
    assert file.stat().st_mode & 0o077 == 0
    with pytest.raises(backups.BadBackup, match="not signed by this Nundine"):
        backups.restore(other, file)
    backups.restore(other, file, key=source.var / "backup-key")
    with opened(other):
        assert rows() == before


def test_a_backup_taken_while_in_use_is_of_one_moment(
    source: Settings, place: Callable[[str], Settings], tmp_path: Path
) -> None:
    """Two tables are written together all the time; the backup never holds one without the other."""
    file, other, over = tmp_path / "in-use.backup", place("other"), threading.Event()

    def write() -> None:
        n = 0
        with db.connection_context():
            while not over.is_set():
                n += 1
                with db.atomic():
                    Area.insert(key=f"pair-{n}", name="A").execute()
                    Site.update(revision=n).execute()

    with opened(source):
        writer = threading.Thread(target=write)
        writer.start()
        try:
            time.sleep(0.1)
            backups.backup(source, file)
        finally:
            over.set()
            writer.join()
    backups.restore(other, file, key=source.var / "backup-key")
    with opened(other):
        pairs = sorted(int(a.key[5:]) for a in Area.select() if a.key.startswith("pair-"))
        assert pairs == list(range(1, Site.get().revision + 1))
        assert pairs


def test_a_broken_or_foreign_file_changes_nothing(source: Settings, tmp_path: Path) -> None:
    whole, cut, short, text = (tmp_path / f"{n}.backup" for n in ("whole", "cut", "short", "text"))
    backups.backup(source, whole)
    cut.write_bytes(whole.read_bytes()[:-2000])
    with gzip.open(whole, "rb") as packed, gzip.open(short, "wb") as out:
        out.write(packed.read()[:-5000])
    text.write_text("hello")
    with opened(source):
        before = rows()
    for file in (cut, short, text, tmp_path / "none.backup"):
        with pytest.raises(backups.BadBackup):
            backups.restore(source, file)
    with opened(source):
        assert rows() == before


def test_nothing_is_restored_while_nundine_runs(source: Settings, tmp_path: Path) -> None:
    file = tmp_path / "x.backup"
    with opened(source):
        backups.backup(source, file)
        with pytest.raises(CannotStart):
            backups.restore(source, file)


@pytest.mark.parametrize(
    "line",
    [
        "\\! touch mark",
        "system touch mark",
        "source /etc/passwd",
        "SELECT 1 INTO OUTFILE 'mark';",
        "tee mark",
        "DELIMITER //",
        "INSERT INTO mysql.user VALUES (1);",
        "INSERT INTO `nundine`.`area` VALUES (1);",
        "DROP DATABASE nundine;",
        "CREATE TABLE `x` (`a` int) ENGINE=InnoDB DATA DIRECTORY='/tmp';",
        "CREATE TABLE `x` (`a` int) ENGINE=CONNECT;",
        "/*!50003 CREATE TRIGGER a BEFORE INSERT ON b FOR EACH ROW SET @x=1 */;",
    ],
)
def test_a_line_that_no_backup_holds_is_no_statement(line: str) -> None:
    good = [b"-- nundine\n", b"DROP TABLE IF EXISTS `area`;\n"]
    assert list(backups.statements(good)) == ["DROP TABLE IF EXISTS `area`"]
    with pytest.raises(backups.BadBackup, match="none that a backup holds"):
        list(backups.statements([*good, line.encode() + b"\n", b"UNLOCK TABLES;\n"]))


def test_a_backup_with_a_command_in_it_changes_nothing_and_a_sound_one_ends_all_sessions(
    source: Settings, tmp_path: Path
) -> None:
    whole, bad, mark = tmp_path / "whole.backup", tmp_path / "bad.backup", tmp_path / "mark"
    with opened(source):
        later = settings().now() + timedelta(hours=1)
        SignedIn.create(token_hash="x" * 64, account=Account.select().first(), expires=later)
        before = rows()
        backups.backup(source, whole)
    with gzip.open(whole, "rb") as packed, gzip.open(bad, "wb") as out:
        head, rest = packed.read().split(b"DROP TABLE", 1)
        out.write(head + f"\\! touch {mark}\n".encode() + b"DROP TABLE" + rest)
    with pytest.raises(backups.BadBackup, match="was changed since"):
        backups.restore(source, bad)
    with pytest.raises(backups.BadBackup, match="none that a backup holds"):
        backups.restore(source, bad, unsigned=True)
    assert not mark.exists()
    with opened(source):
        assert rows() == before
    backups.restore(source, whole)
    with opened(source):
        assert not SignedIn.select().exists()
        assert {**rows(), "SignedIn": []} == {**before, "SignedIn": []}


def test_a_backup_in_which_one_figure_was_changed_is_not_taken(source: Settings, tmp_path: Path) -> None:
    whole, changed = tmp_path / "whole.backup", tmp_path / "changed.backup"
    backups.backup(source, whole)
    with gzip.open(whole, "rb") as packed, gzip.open(changed, "wb") as out:
        body = packed.read()
        assert b"'sven'" in body
        out.write(body.replace(b"'sven'", b"'svem'", 1))
    with pytest.raises(backups.BadBackup, match="was changed since"):
        backups.restore(source, changed)
    unsigned = tmp_path / "unsigned.backup"
    with gzip.open(unsigned, "wb") as out:
        out.write(body[: body.rindex(backups.SIGNED)])
    with pytest.raises(backups.BadBackup, match="not signed"):
        backups.restore(source, unsigned)
    backups.restore(source, unsigned, unsigned=True)


def test_an_encrypted_backup_shows_nothing_and_comes_back_with_its_key_alone(
    source: Settings, tmp_path: Path
) -> None:
    mine, other, file = tmp_path / "mine.key", tmp_path / "other.key", tmp_path / "all.backup"
    public = seal.new_identity(mine)
    seal.new_identity(other)
    assert mine.stat().st_mode & 0o077 == 0
    with opened(source):
        before = rows()
        backups.backup(source, file, public)
    assert seal.is_encrypted(file)
    assert file.stat().st_mode & 0o077 == 0
    with pytest.raises(OSError, match="gzip"):
        gzip.decompress(file.read_bytes())
    with pytest.raises(backups.BadBackup, match="is encrypted"):
        backups.restore(source, file)
    with pytest.raises(seal.BadKey, match="can not be opened with the key"):
        backups.restore(source, file, identity=other)
    backups.restore(source, file, identity=mine)
    with opened(source):
        assert rows() == before
    assert not list((source.var / "run").glob("backup-*")), "nothing in plain text is left"
    with pytest.raises(seal.BadKey, match="no public key"):
        backups.backup(source, file, "age1nonsense")
    with pytest.raises(seal.BadKey, match="there already"):
        seal.new_identity(mine)
