"""Everything that runs: database, worker, web server; started in order, stopped together."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass, replace

from nundine.local.database import CannotStart, connect, port_free, private_database
from nundine.settings import Settings
from nundine.store.base import db
from nundine.store.schema import migrate


@dataclass
class Running:
    """The address, and the processes that serve it."""

    address: str
    processes: list[subprocess.Popen[bytes]]


def environment(settings: Settings) -> dict[str, str]:
    given = {
        "NUNDINE_VAR": str(settings.var), "NUNDINE_HOST": settings.host, "NUNDINE_PORT": str(settings.port), "NUNDINE_DB_PORT": str(settings.db_port),
        "PYTHONUNBUFFERED": "1",
    }  # fmt: skip
    return {**os.environ, **given}


def _start(settings: Settings, name: str, command: list[str]) -> subprocess.Popen[bytes]:
    log = (settings.var / "run" / f"{name}.log").open("ab")
    return subprocess.Popen(
        command,
        env=environment(settings),
        stdout=log,
        stderr=log,
        stdin=subprocess.DEVNULL,
        start_new_session=True,
    )


def _healthy(settings: Settings, process: subprocess.Popen[bytes]) -> None:
    address = (
        f"http://{settings.host if settings.host != '0.0.0.0' else '127.0.0.1'}:{settings.port}/api/health"
    )
    for _ in range(300):
        if process.poll() is not None:
            tail = (settings.var / "run" / "web.log").read_text(errors="replace").splitlines()[-5:]
            raise CannotStart("The web server did not start:\n  " + "\n  ".join(tail))
        with contextlib.suppress(OSError), urllib.request.urlopen(address, timeout=1):
            return
        time.sleep(0.1)
    raise CannotStart(
        f"The web server did not answer within 30 s; its log is {settings.var / 'run' / 'web.log'}."
    )


def _end(process: subprocess.Popen[bytes], seconds: float = 8) -> None:
    if process.poll() is None:
        process.send_signal(signal.SIGTERM)
        try:
            process.wait(seconds)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


@contextlib.contextmanager
def running(settings: Settings, *, prepare: object = None, in_memory: bool = False) -> Iterator[Running]:
    """All of it for the time of the block. `prepare` is called once the tables are there.

    Raises
    ------
    CannotStart
        With what is wrong and what to type.
    """
    settings = replace(settings)
    if not port_free(settings.port):
        raise CannotStart(
            f"Port {settings.port} is taken. Choose another:  NUNDINE_PORT={settings.port + 1} ./nundine ..."
        )
    with private_database(settings, in_memory) as database:
        connect(settings)
        migrate()
        if callable(prepare):
            prepare()
        db.close_all()
        processes: list[subprocess.Popen[bytes]] = []
        try:
            processes.append(_start(settings, "worker", [sys.executable, "-m", "nundine.jobs.worker"]))
            web = [sys.executable, "-m", "uvicorn", "nundine.api.served:app", "--host", settings.host, "--port", str(settings.port),
                   "--no-access-log", "--timeout-graceful-shutdown", "2"]  # fmt: skip
            processes.append(_start(settings, "web", web))
            _healthy(settings, processes[-1])
            everything = [*processes, *([database.process] if database.process else [])]
            yield Running(f"http://{settings.host}:{settings.port}", everything)
        finally:
            for process in reversed(processes):
                _end(process)


def until_stopped(now: Running) -> None:
    """Wait for Ctrl-C or SIGTERM; raises CannotStart if a process ends by itself."""
    stopped = []
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: stopped.append(True))
    while not stopped:
        for process in now.processes:
            if process.poll() is not None:
                raise CannotStart(
                    f"A part of Nundine ended by itself (exit {process.returncode}); its log lies in the folder run below var."
                )
        time.sleep(0.2)
