"""One Nundine at a time works on a folder; what an earlier one left running is ended first."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import signal
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from nundine.local.errors import CannotStart
from nundine.settings import Settings

PARTS = {
    "nundine.jobs.worker": "worker",
    "nundine.api.served": "web server",
}
"""How our own processes are known by their command, and what they are."""
PATIENCE = 20.0
"""Seconds for which something left running may take to end by itself."""


def say(text: str) -> None:
    """A sentence for whoever started Nundine."""
    print(text, file=sys.stderr, flush=True)


@contextlib.contextmanager
def alone(settings: Settings) -> Iterator[None]:
    """Nobody else works on the folder for the time of the block.

    The kernel lets go of the lock when this process ends, however it ends, so no stale file can stand in the
    way.

    Raises
    ------
    CannotStart
        If another Nundine works on it, or the lock's file can not be written.
    """
    path = settings.var / "run" / "lock"
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
    except OSError as bad:
        raise CannotStart(
            f"{path} can not be written ({bad.strerror}). See who owns it, or remove it."
        ) from bad
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as bad:
            raise CannotStart(_who_is_running(path)) from bad
        os.ftruncate(handle, 0)
        os.pwrite(handle, json.dumps({"process": os.getpid()}).encode(), 0)
        end_what_was_left(settings)
        yield
    finally:
        os.close(handle)


def _who_is_running(path: Path) -> str:
    who = ""
    with contextlib.suppress(OSError, ValueError, KeyError, TypeError):
        who = f" (process {json.loads(path.read_text())['process']})"
    return f"Nundine is running already{who}. Stop the other Nundine first (Ctrl-C there)."


@dataclass(frozen=True)
class Left:
    """A process of ours whose starter is gone."""

    process: int
    what: str


def left_running(settings: Settings) -> list[Left]:
    """Parts of Nundine that work on this folder, found among the processes of the machine; the database
    last."""
    found = []
    for folder in Path("/proc").iterdir():
        if folder.name.isdigit() and int(folder.name) != os.getpid():
            with contextlib.suppress(OSError):
                what = _part(folder, settings.var)
                if what:
                    found.append(Left(int(folder.name), what))
    return sorted(found, key=lambda one: (one.what == "database", one.process))


def _part(folder: Path, var: Path) -> str | None:
    words = (folder / "cmdline").read_bytes().decode(errors="replace").split("\0")
    if words[0].endswith("mariadbd"):
        return "database" if f"--datadir={var / 'db'}" in words else None
    for name, what in PARTS.items():
        if any(word.startswith(name) for word in words):
            ours = f"NUNDINE_VAR={var}".encode() in (folder / "environ").read_bytes().split(b"\0")
            return what if ours else None
    return None


def end_what_was_left(settings: Settings) -> None:
    """End what an earlier start left running, and say so. Raises CannotStart if something of it will not
    end."""
    for one in left_running(settings):
        say(f"A {one.what} of an earlier start is still running (process {one.process}); it is ended first.")
        for number in (signal.SIGTERM, signal.SIGKILL):
            if not _lives(one.process):
                break
            with contextlib.suppress(ProcessLookupError):
                os.kill(one.process, number)
            until = time.monotonic() + PATIENCE
            while _lives(one.process) and time.monotonic() < until:
                time.sleep(0.05)
        if _lives(one.process):
            raise CannotStart(
                f"The {one.what} of an earlier start (process {one.process}) does not end. End it first."
            )


def _lives(process: int) -> bool:
    """Whether it is there and no zombie."""
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False
