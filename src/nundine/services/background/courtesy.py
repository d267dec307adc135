"""Builds stand aside while somebody waits for an answer: on two cores, an edit beside a build is as quick as
alone.

Each web server says so in eight bytes of a file that it shares with the workers of its machine: the moment of
the machine's monotonic clock until which it wants the processor. A server that dies is believed for two
seconds. Servers of other machines need no say: they have processors of their own.
"""

from __future__ import annotations

import mmap
import os
import struct
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path
from threading import Lock
from time import monotonic, sleep

from nundine.settings import settings

BELIEVED = 2.0
LONGEST = 0.5
SERVERS = 64
"""Places in the file; a server has that of its process's number."""
"""Seconds that a build waits at most before its next step, however many want answers."""

_lock = Lock()
_going = 0


@lru_cache(maxsize=4)
def _shared(file: Path) -> mmap.mmap:
    with file.open("a+b") as f:
        if f.seek(0, 2) < 8 * SERVERS:
            f.write(bytes(8 * SERVERS))
            f.flush()
        return mmap.mmap(f.fileno(), 8 * SERVERS)


def _until() -> mmap.mmap:
    return _shared(settings().var / "answering")


@contextmanager
def answering() -> Iterator[None]:
    """While a request is worked on."""
    global _going
    shared, place = _until(), 8 * (os.getpid() % SERVERS)
    with _lock:
        _going += 1
        struct.pack_into("d", shared, place, monotonic() + BELIEVED)
    try:
        yield
    finally:
        with _lock:
            _going -= 1
            if not _going:
                struct.pack_into("d", shared, place, 0.0)


def stand_aside() -> None:
    """Between two steps of a build: wait while requests are worked on."""
    shared, began = _until(), monotonic()
    while max(struct.unpack_from(f"{SERVERS}d", shared)) > monotonic() and monotonic() - began < LONGEST:
        sleep(0.003)
