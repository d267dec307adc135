"""Logs do not grow for ever: a large one is put aside, and the oldest goes."""

from __future__ import annotations

import contextlib
import shutil
from pathlib import Path

LARGE, KEEP = 10 * 2**20, 3
"""Bytes after which a log is put aside, and how many older ones are kept."""


def rotate(folder: Path) -> None:
    """Put large logs aside. Who writes to one keeps it open for adding, so it is copied and emptied in
    place."""
    for log in folder.glob("*.log"):
        with contextlib.suppress(OSError):  # a full disk: they are tried again
            if log.stat().st_size > LARGE:
                _put_aside(log)


def _put_aside(log: Path) -> None:
    older = [log.with_name(f"{log.name}.{n}") for n in range(1, KEEP + 1)]
    for newer, into in zip(reversed(older[:-1]), reversed(older[1:]), strict=True):
        if newer.exists():
            newer.replace(into)
    shutil.copyfile(log, older[0])
    with log.open("r+b") as out:
        out.truncate(0)
