"""A private MariaDB: own data folder, own port and socket, loopback only."""

from __future__ import annotations

import contextlib
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pymysql

from nundine.local.child import end_child, start_child
from nundine.local.errors import CannotStart
from nundine.local.only_one import alone, say
from nundine.settings import Settings
from nundine.store.base import db

PACKAGES = "apt-get install --no-install-recommends mariadb-server"
SQL_MODE = (
    "STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,"
    "NO_ENGINE_SUBSTITUTION,ONLY_FULL_GROUP_BY"
)
LOCK_WAIT = 10
"""Seconds for which a write waits for another before it is tried anew."""
ALWAYS_LOOKED_UP = 0
"""However many keys are asked for at once, the index is asked how many rows have them. Beyond the usual 200
the database would guess it, and read a whole table where a few hundred rows are wanted."""
SERVER_FLAGS = (
    "--bind-address=127.0.0.1",
    "--skip-name-resolve",
    "--skip-log-bin",
    "--max-allowed-packet=64M",
    "--performance-schema=OFF",
    "--character-set-server=utf8mb4",
    "--collation-server=utf8mb4_unicode_ci",
    "--default-time-zone=+00:00",
    f"--sql-mode={SQL_MODE}",
    "--innodb-buffer-pool-size=256M",
    "--innodb-adaptive-hash-index=ON",
    f"--eq-range-index-dive-limit={ALWAYS_LOOKED_UP}",
    "--max-connections=200",
    f"--innodb-lock-wait-timeout={LOCK_WAIT}",
)
IN_MEMORY_FLAGS = (
    "--innodb-flush-log-at-trx-commit=0",
    "--innodb-flush-method=nosync",
    "--innodb-doublewrite=0",
)


def program(name: str) -> str:
    found = shutil.which(name) or shutil.which(name, path="/usr/sbin:/usr/local/sbin:/sbin")
    if not found:
        raise CannotStart(f"MariaDB's {name} is not installed. Type as root:  {PACKAGES}")
    return found


def root_connection(settings: Settings) -> pymysql.Connection:  # type: ignore[type-arg]
    """As the owner of the server's files, over its socket."""
    return pymysql.connect(unix_socket=str(settings.socket), user=owner(), autocommit=True)


def owner() -> str:
    """The account of the machine that this process runs as."""
    return pwd.getpwuid(os.geteuid()).pw_name


def port_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


def password(var: Path) -> str:
    """The application's password for the database, made once, in a file that only its owner can read."""
    path = var / "database-password"
    if not path.exists():
        handle = os.open(path, os.O_CREAT | os.O_WRONLY | os.O_EXCL, 0o600)
        with os.fdopen(handle, "w") as out:
            out.write(secrets.token_urlsafe(24))
    return path.read_text()


OF_OTHERS = {
    "sql_mode": SQL_MODE,
    "init_command": (
        f"SET time_zone='+00:00', innodb_lock_wait_timeout={LOCK_WAIT}, "
        f"eq_range_index_dive_limit={ALWAYS_LOOKED_UP}, "
        "collation_connection=utf8mb4_unicode_ci"
    ),
}
"""What a connection to a database of others is told, which ours knows."""


def way_in(settings: Settings) -> dict[str, Any]:
    """How the application reaches the database: its own on this machine, or the one of the settings."""
    own = settings.own_database
    tls = {"ca": str(settings.db_ca), "check_hostname": True} if settings.db_ca else None
    return {
        "host": settings.db_host or "127.0.0.1",
        "port": settings.db_port,
        "user": "nundine" if own else settings.db_user,
        "password": password(settings.var) if own else settings.db_password or "",
        "charset": "utf8mb4",
        **({"ssl_disabled": True} if own else OF_OTHERS),
        **({"ssl": tls} if tls else {}),
    }


def queue_name(settings: Settings) -> str:
    """The database of the queue, beside the application's."""
    return f"{settings.db_name}_jobs"


def connect(settings: Settings, name: str | None = None) -> None:
    """Point the application at its database."""
    db.init(name or settings.db_name, **way_in(settings))


def need_database(settings: Settings) -> None:
    """Raises CannotStart with what is wrong and what to set, where a database of others does not let us
    in."""
    where = f"{settings.db_user} at {settings.db_host}:{settings.db_port}"
    for name in (settings.db_name, queue_name(settings)):
        try:
            pymysql.connect(database=name, connect_timeout=10, **way_in(settings)).close()
        except (pymysql.MySQLError, OSError) as bad:
            raise CannotStart(
                f"The database {name} does not let {where} in ({bad.args[-1]}). Look at "
                "NUNDINE_DB_HOST, NUNDINE_DB_PORT, "
                "NUNDINE_DB_USER, NUNDINE_DB_NAME, NUNDINE_DB_PASSWORD and NUNDINE_DB_CA (see "
                "docs/deploy.md)."
            ) from bad


class PrivateDatabase:
    """Starts and stops the server of one data folder."""

    def __init__(self, settings: Settings, in_memory: bool = False) -> None:
        self.settings, self.in_memory = settings, in_memory
        self.data = settings.var / "db"
        self.pid_file = settings.var / "run" / "db.pid"
        self.log = settings.var / "run" / "db.log"
        self.scratch = settings.var / "run" / "db-tmp"
        """For temporary tables: a server that starts sweeps its own, so each needs a folder to itself."""
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start and wait until it answers. Raises CannotStart with the reason and what to do."""
        server = program("mariadbd")
        for folder in (self.scratch, self.settings.socket.parent):
            folder.mkdir(parents=True, exist_ok=True)
        if shutil.disk_usage(self.settings.var).free < 300 * 2**20:
            raise CannotStart(
                f"Less than 300 MB are free on the disk of {self.settings.var}. Make room, or set "
                "NUNDINE_VAR to a folder elsewhere."
            )
        if not port_free(self.settings.db_port):
            raise CannotStart(
                f"Port {self.settings.db_port} is taken. Choose another:  "
                f"NUNDINE_DB_PORT={self.settings.db_port + 1} ./nundine ..."
            )
        user = owner()
        self._clear_pid_file()
        if not (self.data / "mysql").exists():
            self._install(user)
        command = [
            server,
            "--no-defaults",
            f"--user={user}",
            f"--datadir={self.data}",
            f"--tmpdir={self.scratch}",
            f"--socket={self.settings.socket}",
            f"--pid-file={self.pid_file}",
            f"--port={self.settings.db_port}",
            f"--init-file={self._owner_may()}",
            *SERVER_FLAGS,
            *(IN_MEMORY_FLAGS if self.in_memory else ()),
        ]
        self.process = start_child(command, self.log)
        self._wait()
        self._user()

    def _clear_pid_file(self) -> None:
        """Nothing of ours runs any more when this is called: what the file says is of no use, whatever it
        is."""
        try:
            said = self.pid_file.read_text(errors="replace").strip()
            self.pid_file.unlink()
        except FileNotFoundError:
            return
        except OSError as bad:
            raise CannotStart(
                f"{self.pid_file} stands in the database's way and can not be removed "
                f"({bad.strerror}). Remove it."
            ) from bad
        if not said.isdigit():
            say(f"{self.pid_file} held no number of a process ({said[:30]!r}); it is written anew.")

    def _owner_may(self) -> Path:
        """Statements for the server's start, so that whoever owns its files now may do all over its
        socket."""
        path = self.settings.var / "run" / "db-owner.sql"
        name = owner().replace("'", "")
        path.write_text(
            f"CREATE USER IF NOT EXISTS '{name}'@'localhost' IDENTIFIED VIA unix_socket;\n"
            f"GRANT ALL ON *.* TO '{name}'@'localhost' WITH GRANT OPTION;\n"
        )
        return path

    def _install(self, user: str) -> None:
        """The folder appears whole or not at all, so that a start that was cut off stands in nobody's way."""
        for left in self.data.parent.glob("db.part*"):
            shutil.rmtree(left, ignore_errors=True)
        # a start that was killed may still be at a folder of its own
        part = self.data.with_name(f"db.part-{os.getpid()}")
        part.mkdir(parents=True)
        command = [
            program("mariadb-install-db"),
            "--no-defaults",
            f"--datadir={part}",
            f"--user={user}",
            "--auth-root-authentication-method=socket",
            f"--auth-root-socket-user={user}",
            "--skip-test-db",
        ]
        env = {**os.environ, "TMPDIR": str(self.scratch)}
        made = subprocess.run(command, capture_output=True, text=True, env=env)
        # seen to fail once in a while where several set up at one moment, and to go well the second time
        if made.returncode:
            shutil.rmtree(part, ignore_errors=True)
            part.mkdir()
            made = subprocess.run(command, capture_output=True, text=True, env=env)
        if made.returncode:
            raise CannotStart(
                f"The database's folder {self.data} could not be made: "
                f"{made.stderr.strip().splitlines()[-1:] or made.stdout[-300:]}"
            )
        try:
            if self.data.exists():
                self.data.rmdir()
            part.rename(self.data)
        except OSError as bad:
            raise CannotStart(
                f"{self.data} is there and holds no whole database. Move it elsewhere, or restore "
                "a backup into another NUNDINE_VAR."
            ) from bad

    def _wait(self) -> None:
        for _ in range(300):
            assert self.process is not None
            if self.process.poll() is not None:
                tail = self.log.read_text(errors="replace").splitlines()[-4:]
                raise CannotStart("The database did not start:\n  " + "\n  ".join(tail))
            with contextlib.suppress(pymysql.MySQLError, OSError):
                root_connection(self.settings).close()
                return
            time.sleep(0.1)
        raise CannotStart(f"The database did not answer within 30 s; its log is {self.log}.")

    def _user(self) -> None:
        secret = password(self.settings.var)
        with root_connection(self.settings) as root, root.cursor() as cursor:
            for name in ("nundine", "nundine_jobs"):
                cursor.execute(f"CREATE DATABASE IF NOT EXISTS {name}")
            cursor.execute("CREATE USER IF NOT EXISTS 'nundine'@'127.0.0.1'")
            cursor.execute("ALTER USER 'nundine'@'127.0.0.1' IDENTIFIED BY %s", (secret,))
            for name in ("nundine", "nundine_jobs"):
                cursor.execute(f"GRANT ALL ON {name}.* TO 'nundine'@'127.0.0.1'")

    def stop(self) -> None:
        """End it cleanly and wait."""
        if self.process is not None:
            end_child(self.process, 30)


@contextlib.contextmanager
def private_database(settings: Settings, in_memory: bool = False) -> Iterator[PrivateDatabase]:
    """A running database for the time of the block, in which no other Nundine works on its folder."""
    settings.var.mkdir(parents=True, exist_ok=True)
    with alone(settings), started(settings, in_memory) as server:
        yield server


@contextlib.contextmanager
def started(settings: Settings, in_memory: bool = False) -> Iterator[PrivateDatabase]:
    """A running database for the time of the block; the caller has the folder alone."""
    server = PrivateDatabase(settings, in_memory)
    try:
        server.start()
        yield server
    finally:
        server.stop()
