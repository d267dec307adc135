"""A private MariaDB: own data folder, own port and socket, loopback only."""

from __future__ import annotations

import contextlib
import getpass
import os
import secrets
import shutil
import signal
import socket
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import pymysql

from nundine.settings import Settings
from nundine.store.base import db

PACKAGES = "apt-get install --no-install-recommends mariadb-server"
SERVER_FLAGS = (
    "--bind-address=127.0.0.1", "--skip-name-resolve", "--skip-log-bin", "--max-allowed-packet=64M", "--performance-schema=OFF",
    "--character-set-server=utf8mb4", "--collation-server=utf8mb4_unicode_ci", "--default-time-zone=+00:00",
    "--sql-mode=STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION,ONLY_FULL_GROUP_BY",
    "--innodb-buffer-pool-size=256M", "--max-connections=200", "--innodb-lock-wait-timeout=10",
)  # fmt: skip
IN_MEMORY_FLAGS = (
    "--innodb-flush-log-at-trx-commit=0",
    "--innodb-flush-method=nosync",
    "--innodb-doublewrite=0",
)


class CannotStart(RuntimeError):
    """Says what is wrong and what to type."""


def program(name: str) -> str:
    found = shutil.which(name) or shutil.which(name, path="/usr/sbin:/usr/local/sbin:/sbin")
    if not found:
        raise CannotStart(f"MariaDB's {name} is not installed. Type as root:  {PACKAGES}")
    return found


def root_connection(settings: Settings) -> pymysql.Connection:  # type: ignore[type-arg]
    """As the owner of the server's files, over its socket."""
    return pymysql.connect(unix_socket=str(settings.socket), user=getpass.getuser(), autocommit=True)


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


def connect(settings: Settings, name: str = "nundine") -> None:
    """Point the application at the private database."""
    db.init(
        name,
        host="127.0.0.1",
        port=settings.db_port,
        user="nundine",
        password=password(settings.var),
        charset="utf8mb4",
    )


class PrivateDatabase:
    """Starts and stops the server of one data folder."""

    def __init__(self, settings: Settings, in_memory: bool = False) -> None:
        self.settings, self.in_memory = settings, in_memory
        self.data = settings.var / "db"
        self.pid_file = settings.var / "run" / "db.pid"
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start and wait until it answers. Raises CannotStart with the reason and what to do."""
        server = program("mariadbd")
        self.refuse_if_running()
        for folder in (self.settings.var / "run", self.settings.socket.parent):
            folder.mkdir(parents=True, exist_ok=True)
        if shutil.disk_usage(self.settings.var).free < 300 * 2**20:
            raise CannotStart(
                f"Less than 300 MB are free on the disk of {self.settings.var}. Make room, or set NUNDINE_VAR to a folder elsewhere."
            )
        if not port_free(self.settings.db_port):
            raise CannotStart(
                f"Port {self.settings.db_port} is taken. Choose another:  NUNDINE_DB_PORT={self.settings.db_port + 1} ./nundine ..."
            )
        user = getpass.getuser()
        if not (self.data / "mysql").exists():
            self._install(user)
        log = (self.settings.var / "run" / "db.log").open("ab")
        command = [
            server, "--no-defaults", f"--user={user}", f"--datadir={self.data}", f"--socket={self.settings.socket}",
            f"--pid-file={self.pid_file}", f"--port={self.settings.db_port}", *SERVER_FLAGS, *(IN_MEMORY_FLAGS if self.in_memory else ()),
        ]  # fmt: skip
        self.process = subprocess.Popen(
            command, stdout=log, stderr=log, stdin=subprocess.DEVNULL, start_new_session=True
        )
        self._wait()
        self._user()

    def refuse_if_running(self) -> None:
        """Raises CannotStart if a server works on this data folder."""
        if not self.pid_file.exists():
            return
        pid = int(self.pid_file.read_text().strip() or 0)
        with contextlib.suppress(ProcessLookupError, PermissionError):
            os.kill(pid, 0)
            name = Path(f"/proc/{pid}/comm")
            if not name.exists() or "mariadb" in name.read_text():
                raise CannotStart(
                    f"Nundine's database is running already (process {pid}). Stop the other Nundine first (Ctrl-C there)."
                )

    def _install(self, user: str) -> None:
        self.data.mkdir(parents=True, exist_ok=True)
        command = [
            program("mariadb-install-db"), "--no-defaults", f"--datadir={self.data}", f"--user={user}",
            "--auth-root-authentication-method=socket", f"--auth-root-socket-user={user}", "--skip-test-db",
        ]  # fmt: skip
        made = subprocess.run(command, capture_output=True, text=True)
        if made.returncode:
            raise CannotStart(
                f"The database's folder {self.data} could not be made: {made.stderr.strip().splitlines()[-1:] or made.stdout[-300:]}"
            )

    def _wait(self) -> None:
        for _ in range(300):
            assert self.process is not None
            if self.process.poll() is not None:
                tail = (self.settings.var / "run" / "db.log").read_text(errors="replace").splitlines()[-4:]
                raise CannotStart("The database did not start:\n  " + "\n  ".join(tail))
            with contextlib.suppress(pymysql.MySQLError, OSError):
                root_connection(self.settings).close()
                return
            time.sleep(0.1)
        raise CannotStart(
            f"The database did not answer within 30 s; its log is {self.settings.var / 'run' / 'db.log'}."
        )

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
        if self.process is None or self.process.poll() is not None:
            return
        self.process.send_signal(signal.SIGTERM)
        try:
            self.process.wait(30)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


@contextlib.contextmanager
def private_database(settings: Settings, in_memory: bool = False) -> Iterator[PrivateDatabase]:
    """A running database for the time of the block."""
    settings.var.mkdir(parents=True, exist_ok=True)
    server = PrivateDatabase(settings, in_memory)
    try:
        server.start()
        yield server
    finally:
        server.stop()
