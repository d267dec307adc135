"""Worker and web server as programs of their own, with their logs, until they answer."""

from __future__ import annotations

import contextlib
import os
import ssl
import sys
import time
import urllib.request
from collections.abc import Iterator
from subprocess import DEVNULL, PIPE, Popen

from nundine.local.child import end_child, start_child
from nundine.local.errors import CannotStart
from nundine.settings import Settings

PATIENCE = 8
"""Seconds for which worker and web server may finish what they are at when all is stopped."""


def environment(settings: Settings) -> dict[str, str]:
    given = {
        "NUNDINE_VAR": str(settings.var),
        "NUNDINE_HOST": settings.host,
        "NUNDINE_PORT": str(settings.port),
        "NUNDINE_DB_PORT": str(settings.db_port),
        "PYTHONUNBUFFERED": "1",
    }
    return {**os.environ, **given}


def program(settings: Settings, name: str, *module: str, told: int = DEVNULL) -> Popen[bytes]:
    log = settings.var / "run" / f"{name}.log"
    return start_child([sys.executable, "-m", *module], log, environment(settings), told=told)


class WebServer:
    """Gets itself ready while the database starts, which saves a second or two, and then waits to be told."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self._ready: Popen[bytes] | None = self._made()

    def _made(self) -> Popen[bytes]:
        return program(self._settings, "web", "nundine.api.served", "when-told", told=PIPE)

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


@contextlib.contextmanager
def web_server(settings: Settings) -> Iterator[WebServer]:
    """A web server that has not been told to begin at the end of the block ends with it."""
    made = WebServer(settings)
    try:
        yield made
    finally:
        made.end_unless_told()
