"""Backup and restore: all of the database as one compressed file of SQL, taken at one moment while Nundine is
in use."""

from __future__ import annotations

import contextlib
import gzip
import hmac
import os
import re
import secrets
import subprocess
from collections.abc import Iterable, Iterator
from pathlib import Path

import pymysql

from nundine.local import seal
from nundine.local.database import connect, owner, private_database, program, root_connection
from nundine.local.errors import CannotStart
from nundine.settings import Settings
from nundine.store.account import SignedIn
from nundine.store.base import db
from nundine.store.schema import migrate

DATABASE = "nundine"
HEAD = b"-- nundine backup 1\n"
SIGNED = b"-- nundine signature "


class BadBackup(RuntimeError):
    """Says what is wrong with the file and what to do."""


def backup(settings: Settings, file: Path, to: str | None = None) -> int:
    """Write everything as it is at one moment; the server may be running or not. Gives the bytes written.

    The file is signed, appears whole or not at all, and only its owner can read it. With `to`, a public key
    of age, it is encrypted.

    Raises
    ------
    CannotStart
        If the database can not be read.
    BadKey
        If `to` is no such key.
    """
    if not _answers(settings):
        with private_database(settings):
            return _written(settings, file, to)
    return _written(settings, file, to)


def _written(settings: Settings, file: Path, to: str | None) -> int:
    if to is None:
        return _dump(settings, file)
    with _aside(settings) as plain:
        _dump(settings, plain)
        part = file.with_name(file.name + ".part")
        try:
            seal.encrypt(plain, to, part)
            part.chmod(0o600)
            os.replace(part, file)
        finally:
            part.unlink(missing_ok=True)
    return file.stat().st_size


@contextlib.contextmanager
def _aside(settings: Settings) -> Iterator[Path]:
    """A place for a file that is not encrypted, beside the database, which is not either; gone afterwards."""
    path = settings.var / "run" / f"backup-{os.getpid()}"
    try:
        yield path
    finally:
        path.unlink(missing_ok=True)


def _answers(settings: Settings) -> bool:
    try:
        root_connection(settings).close()
    except (pymysql.MySQLError, OSError):
        return False
    return True


def _dump(settings: Settings, file: Path) -> int:
    command = [
        program("mariadb-dump"),
        "--no-defaults",
        f"--socket={settings.socket}",
        f"--user={owner()}",
        "--single-transaction",
        "--quick",
        "--hex-blob",
        "--skip-lock-tables",
        "--default-character-set=utf8mb4",
        DATABASE,
    ]
    part = file.with_name(file.name + ".part")
    try:
        handle = os.open(part, os.O_CREAT | os.O_WRONLY | os.O_TRUNC, 0o600)
        with os.fdopen(handle, "wb") as raw, gzip.open(raw, "wb", compresslevel=6) as out:
            signed = seal.signature(seal.signing_key(settings.var))
            signed.update(HEAD)
            out.write(HEAD)
            with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as dump:
                assert dump.stdout is not None and dump.stderr is not None
                while block := dump.stdout.read(1 << 20):
                    signed.update(block)
                    out.write(block)
                said = dump.stderr.read().decode(errors="replace").strip()
            if dump.returncode:
                raise CannotStart(f"The backup failed: {said}")
            out.write(SIGNED + signed.hexdigest().encode() + b"\n")
        os.replace(part, file)
    finally:
        part.unlink(missing_ok=True)
    return file.stat().st_size


def _checked(file: Path, key: bytes | None) -> None:
    """Read the whole file once, so that a broken one, or one that somebody changed, changes nothing. Without
    a key any is taken."""
    try:
        with gzip.open(file, "rb") as packed:
            if packed.read(len(HEAD)) != HEAD:
                raise BadBackup(f"{file} is no backup of Nundine.")
            signed = seal.signature(key or b"-")
            signed.update(HEAD)
            held = b""
            while block := packed.read(1 << 20):
                held += block
                # the last lines are kept back: the signature is of what stands before it
                cut = max(0, len(held) - TAIL)
                signed.update(held[:cut])
                held = held[cut:]
            body, mark, written = held.rpartition(SIGNED)
            lines = [body if mark else held, written.strip()]
    except FileNotFoundError as bad:
        raise BadBackup(f"There is no file {file}.") from bad
    except (OSError, EOFError) as bad:
        raise BadBackup(f"{file} is broken or cut off ({bad}). Nothing was changed.") from bad
    if b"Dump completed" not in lines[0]:
        raise BadBackup(f"{file} is cut off: its end is missing. Nothing was changed.")
    if key is None:
        return
    signed.update(lines[0])
    if not hmac.compare_digest(signed.hexdigest().encode(), lines[1]):
        raise BadBackup(
            f"{file} was not signed by this Nundine, or was changed since. Nothing was changed. "
            "Was it made by another of yours, "
            "give the file backup-key of its var with --key; if you trust it without, say --unsigned."
        )


TAIL = 1000
"""Bytes at the end in which the last line of the dump and the signature stand."""


def restore(
    settings: Settings,
    file: Path,
    *,
    key: Path | None = None,
    unsigned: bool = False,
    identity: Path | None = None,
) -> None:
    """Put everything back as it was; what is there now goes. Nundine must be stopped.

    The backup is read into a database beside the present one, which is replaced only when all of it is there.
    Only statements that a backup holds are run, by an account that reaches nothing else; all sessions end.

    Parameters
    ----------
    key
        File with the key that the backup was signed with, if that was another Nundine's.
    unsigned
        Take it whoever wrote it.
    identity
        File with the secret key of age for an encrypted backup.

    Raises
    ------
    BadBackup
        If the file is none, is cut off, or is not signed with the key.
    BadKey
        If a file of a key holds none, or not that of the backup.
    CannotStart
        If Nundine is running.
    """
    try:
        if not file.is_file():
            raise BadBackup(f"There is no file {file}.")
        file.open("rb").close()
    except OSError as bad:
        raise BadBackup(f"{file} can not be read ({bad.strerror}).") from bad
    (settings.var / "run").mkdir(parents=True, exist_ok=True)
    with private_database(settings), _aside(settings) as plain:
        if seal.is_encrypted(file):
            if identity is None:
                raise BadBackup(f"{file} is encrypted. Give the file with its secret key: --identity FILE")
            seal.decrypt(file, identity, plain)
            file = plain
        _checked(file, None if unsigned else seal.read_key(key) if key else seal.signing_key(settings.var))
        with _restorer(settings) as connection, gzip.open(file, "rb") as packed:
            try:
                read_back(packed, connection)
            except (pymysql.MySQLError, UnicodeDecodeError) as bad:
                raise BadBackup(f"{file} could not be read back ({bad}). Nothing was changed.") from bad
        _swap(settings)
        connect(settings)
        try:
            migrate()
            with db.connection_context():
                SignedIn.delete().execute()  # who was signed in then signs in again
        finally:
            db.close_all()


STATEMENT = re.compile(
    r"DROP TABLE IF EXISTS `\w+`"
    r"|CREATE TABLE `\w+` \(.*\) ENGINE=InnoDB[\w =-]*"
    r"|(?:UN)?LOCK TABLES(?: `\w+` WRITE)?"
    r"|INSERT INTO `\w+` VALUES.*"
    r"|/\*M?!\d+ (?:ALTER TABLE `\w+` (?:DIS|EN)ABLE KEYS|SET [^;]*) ?\*/"
    r"|SET [@\w]+ ?= ?@*\w+",
    re.DOTALL,
)
"""What a backup consists of. Nothing else is run, whoever wrote the file."""
SANDBOX = "/*M!999999\\- enable the sandbox mode"


def statements(lines: Iterable[bytes]) -> Iterator[str]:
    """The statements of a backup, one after another; each ends with its line, for line ends inside texts are
    escaped.

    Raises
    ------
    BadBackup
        At the first that no backup holds.
    """
    held: list[str] = []
    for number, line in enumerate(lines, 1):
        text = line.decode()
        if not held and (not text.strip() or text.startswith(("--", SANDBOX))):
            continue
        held.append(text)
        if text.rstrip().endswith(";"):
            statement = "".join(held).strip().removesuffix(";").strip()
            held = []
            if not STATEMENT.fullmatch(statement):
                what = statement[:60].replace("\n", " ")
                raise BadBackup(f"Line {number} is none that a backup holds: {what!r}. Nothing was changed.")
            yield statement
    if held:
        raise BadBackup("The file ends in the middle of a statement. Nothing was changed.")


def read_back(packed: Iterable[bytes], connection: pymysql.Connection) -> None:  # type: ignore[type-arg]
    """Run the statements of a backup, and no others, on a connection that may do nothing outside of its
    database."""
    with connection.cursor() as cursor:
        for statement in statements(packed):
            cursor.execute(statement)


@contextlib.contextmanager
def _restorer(settings: Settings) -> Iterator[pymysql.Connection]:  # type: ignore[type-arg]
    """An empty database beside the present one, and a connection of an account that can reach nothing
    else."""
    secret = secrets.token_urlsafe(24)
    with root_connection(settings) as root, root.cursor() as cursor:
        cursor.execute("DROP DATABASE IF EXISTS nundine_restored")
        cursor.execute("CREATE DATABASE nundine_restored CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
        cursor.execute("CREATE OR REPLACE USER 'nundine_restorer'@'127.0.0.1' IDENTIFIED BY %s", (secret,))
        cursor.execute("GRANT ALL ON nundine_restored.* TO 'nundine_restorer'@'127.0.0.1'")
    try:
        with pymysql.connect(
            host="127.0.0.1",
            port=settings.db_port,
            user="nundine_restorer",
            password=secret,
            database="nundine_restored",
            charset="utf8mb4",
            autocommit=True,
        ) as connection:
            yield connection
    finally:
        with root_connection(settings) as root, root.cursor() as cursor:
            cursor.execute("DROP USER IF EXISTS 'nundine_restorer'@'127.0.0.1'")


def _swap(settings: Settings) -> None:
    """The restored tables take the place of the present ones."""
    with root_connection(settings) as root, root.cursor() as cursor:
        cursor.execute("SET FOREIGN_KEY_CHECKS=0")
        cursor.execute(f"DROP DATABASE IF EXISTS {DATABASE}")
        cursor.execute(f"CREATE DATABASE {DATABASE} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
        cursor.execute(
            "SELECT table_name FROM information_schema.tables WHERE table_schema = 'nundine_restored'"
        )
        names = [row[0] for row in cursor.fetchall()]
        cursor.execute(
            "RENAME TABLE " + ", ".join(f"nundine_restored.`{n}` TO {DATABASE}.`{n}`" for n in names)
        )
        cursor.execute("DROP DATABASE nundine_restored")
