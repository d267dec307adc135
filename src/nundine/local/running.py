"""Everything that runs: database, worker, web server; started in order, kept running, stopped together."""

from __future__ import annotations

import contextlib
import os
import signal
import ssl
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from subprocess import DEVNULL, PIPE, Popen

from peewee import PeeweeException

from nundine.local.apart import bring_up_to_date
from nundine.local.child import end_child, start_child
from nundine.local.database import PrivateDatabase, connect, need_database, port_free, started
from nundine.local.errors import CannotStart
from nundine.local.logs import rotate
from nundine.local.only_one import alone, say
from nundine.local.upkeep import Part
from nundine.settings import EVERYWHERE, Settings
from nundine.store.base import db

BETWEEN_ROTATIONS = 60.0
PATIENCE = 8
"""Seconds for which worker and web server may finish what they are at when all is stopped."""


@dataclass
class Running:
    """The address, the parts that serve it, and the folder of their logs."""

    address: str
    parts: list[Part]
    logs: Path


def environment(settings: Settings) -> dict[str, str]:
    given = {
        "NUNDINE_VAR": str(settings.var),
        "NUNDINE_HOST": settings.host,
        "NUNDINE_PORT": str(settings.port),
        "NUNDINE_DB_PORT": str(settings.db_port),
        "PYTHONUNBUFFERED": "1",
    }
    return {**os.environ, **given}


def _program(settings: Settings, name: str, *module: str, told: int = DEVNULL) -> Popen[bytes]:
    log = settings.var / "run" / f"{name}.log"
    return start_child([sys.executable, "-m", *module], log, environment(settings), told=told)


class WebServer:
    """Gets itself ready while the database starts, which saves a second or two, and then waits to be told."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self._ready: Popen[bytes] | None = self._made()

    def _made(self) -> Popen[bytes]:
        return _program(self._settings, "web", "nundine.api.served", "when-told", told=PIPE)

    def start(self) -> Popen[bytes]:
        """Tell it to begin, and wait until it answers. Raises CannotStart."""
        process, self._ready = self._ready or self._made(), None
        assert process.stdin is not None
        with contextlib.suppress(OSError):  # it ended by itself, which is said below
            process.stdin.write(b"begin\n")
            process.stdin.close()
        return _answering(self._settings, process)

    def end_unless_told(self) -> None:
        if self._ready is not None:
            end_child(self._ready, PATIENCE)


def _answering(settings: Settings, process: Popen[bytes]) -> Popen[bytes]:
    """The web server's process, once it answers. Raises CannotStart."""
    address = f"{settings.address}/api/health"
    ours = ssl._create_unverified_context()  # it is our own, whatever name its certificate bears
    log = settings.var / "run" / "web.log"
    for _ in range(300):
        if process.poll() is not None:
            tail = log.read_text(errors="replace").splitlines()[-5:]
            raise CannotStart("The web server did not start:\n  " + "\n  ".join(tail))
        with contextlib.suppress(OSError), urllib.request.urlopen(address, timeout=1, context=ours):
            return process
        time.sleep(0.1)
    end_child(process, PATIENCE)
    raise CannotStart(f"The web server did not answer within 30 s; its log is {log}.")


CutOff = Callable[[int | None], None]
"""Told the process of a worker that is gone, or None where nobody can be at work."""


def _parts(
    settings: Settings, database: PrivateDatabase | None, web: WebServer, cut_off: CutOff
) -> list[Part]:
    """The database where it is our own, worker and web server. A worker that lost its database begins
    anew."""

    def start_worker() -> Popen[bytes]:
        gone = worker.process.pid if worker.process is not None else None
        try:
            if gone is not None or database is not None:
                cut_off(gone)
        except PeeweeException as bad:
            raise CannotStart(f"the database does not answer: {bad}") from bad
        finally:
            db.close_all()
        return _program(settings, "worker", "nundine.jobs.worker")

    worker = Part("worker", start_worker)
    served = [worker, Part("web server", web.start)]
    if database is None:
        return served
    own = database

    def start_database() -> Popen[bytes]:
        own.start()
        assert own.process is not None
        return own.process

    def end_worker() -> None:
        if worker.process is not None:
            end_child(worker.process, PATIENCE)

    return [Part("database", start_database, own.process, end_worker, time.monotonic()), *served]


@contextlib.contextmanager
def running(
    settings: Settings,
    *,
    prepare: Callable[[], None] | None = None,
    cut_off: CutOff = lambda _: None,
    in_memory: bool = False,
) -> Iterator[Running]:
    """All of it for the time of the block. `prepare` is called once the tables are there, `cut_off` before
    each start of the worker.

    Raises
    ------
    CannotStart
        With what is wrong and what to type.
    """
    settings = replace(settings)
    need_safe_host(settings)
    settings.var.mkdir(parents=True, exist_ok=True)
    with alone(settings):
        need_port(settings)
        with _web_server(settings) as web, _database(settings, in_memory) as database:
            connect(settings)
            bring_up_to_date()
            if prepare is not None:
                prepare()
            parts = _parts(settings, database, web, cut_off)
            served = parts[-2:]
            try:
                for part in served:
                    part.begin()
                yield Running(settings.address, parts, settings.var / "run")
            finally:
                for part in reversed(served):
                    if part.process is not None:
                        end_child(part.process, PATIENCE)


@contextlib.contextmanager
def _web_server(settings: Settings) -> Iterator[WebServer]:
    """A web server that has not been told to begin at the end of the block ends with it."""
    made = WebServer(settings)
    try:
        yield made
    finally:
        made.end_unless_told()


@contextlib.contextmanager
def _database(settings: Settings, in_memory: bool) -> Iterator[PrivateDatabase | None]:
    """Our own database for the time of the block; None where others look after it, and it lets us in."""
    if settings.own_database:
        with started(settings, in_memory) as database:
            yield database
    else:
        need_database(settings)
        yield None


def need_safe_host(settings: Settings) -> None:
    """Raises CannotStart where passwords would cross a network in plain text, or nobody could say by which
    name to call."""
    if settings.certificate is not None:
        for what, file in (("NUNDINE_CERTIFICATE", settings.certificate), ("NUNDINE_KEY", settings.key)):
            if file is None or not os.access(file, os.R_OK):
                raise CannotStart(
                    f"{what} must name a file in PEM that can be read; it is {file or 'not set'}."
                )
    if settings.behind_proxy and not settings.names:
        raise CannotStart(
            "NUNDINE_BEHIND_PROXY is set: say in NUNDINE_NAMES by which names browsers call, with "
            "commas between."
        )
    if settings.on_loopback:
        return
    if not settings.secure:
        raise CannotStart(
            f"Nundine does not serve {settings.host} without TLS: passwords could be read on the "
            "way. Set NUNDINE_CERTIFICATE and "
            "NUNDINE_KEY, or NUNDINE_BEHIND_PROXY=1 if a proxy before it speaks TLS (see docs/deploy.md)."
        )
    if settings.host in EVERYWHERE and not settings.names:
        raise CannotStart(
            f"Nundine is to serve {settings.host}, all addresses of this machine: say in "
            "NUNDINE_NAMES by which names browsers "
            "call it, with commas between."
        )


def need_port(settings: Settings) -> None:
    if not port_free(settings.port):
        raise CannotStart(
            f"Port {settings.port} is taken. Choose another:  NUNDINE_PORT={settings.port + 1} ./nundine ..."
        )


STOPS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class Stopped(BaseException):
    """Somebody asked for the end, wherever we are."""


@contextlib.contextmanager
def stoppable() -> Iterator[None]:
    """Ctrl-C, SIGTERM and a closed terminal end the block in good order, in the middle of a start too."""

    def stop(*_: object) -> None:
        for number in STOPS:
            signal.signal(number, signal.SIG_IGN)  # once is enough
        raise Stopped

    for number in STOPS:
        if number == signal.SIGHUP and signal.getsignal(number) is signal.SIG_IGN:
            continue  # whoever starts it to outlive the terminal means it
        signal.signal(number, stop)
    with contextlib.suppress(Stopped):
        yield


def keep_running(now: Running) -> None:
    """Look after the parts and their logs until told to stop."""
    rotate_at = 0.0
    while True:
        for part in now.parts:
            part.look(say)
        if time.monotonic() > rotate_at:
            rotate(now.logs)
            rotate_at = time.monotonic() + BETWEEN_ROTATIONS
        time.sleep(0.2)
