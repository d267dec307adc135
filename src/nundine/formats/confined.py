"""Files of others are read in a process of their own, with limits on its time and memory: whatever a file
does, it does it there.

What is read comes back pickled. Nothing in a file is run, so what comes back is what our own readers made.
"""

from __future__ import annotations

import importlib
import os
import pickle
import resource
import subprocess
import sys
from collections.abc import Callable
from typing import Any, TypeVar

from nundine.formats.bad import BadFile

SECONDS, LONGEST, MEMORY = 60, 90, 1536 * 2**20
"""Processor seconds, seconds on the clock, and bytes of address space that one file may take."""

T = TypeVar("T")


def confined(read: Callable[[str, bytes], T], name: str, data: bytes) -> T:
    """`read(name, data)`, a function of a module of ours, beside this process.

    Raises
    ------
    BadFile
        As `read` does, and for a file that takes too long, too much memory, or breaks the reader.
    """
    asked = pickle.dumps((read.__module__, read.__qualname__, name, data))
    try:
        made = subprocess.run(
            [sys.executable, "-m", __name__], input=asked, capture_output=True, timeout=LONGEST
        )
    except subprocess.TimeoutExpired as bad:
        raise BadFile(f"{name} takes longer to read than a file may. Split it, or save it as CSV.") from bad
    if made.returncode != 0:
        raise BadFile(
            f"{name} takes more time or memory to read than a file may. Split it, or save it as CSV."
        )
    answer = pickle.loads(made.stdout)
    if isinstance(answer, BadFile):
        raise answer
    return answer  # type: ignore[no-any-return]


def _limit(what: int, most: int) -> None:
    _, hard = resource.getrlimit(what)
    most = most if hard == resource.RLIM_INFINITY else min(most, hard)
    resource.setrlimit(what, (most, most))


def main() -> None:
    """Read what is asked for on standard input within the limits."""
    _limit(resource.RLIMIT_CPU, SECONDS)
    _limit(resource.RLIMIT_AS, MEMORY)
    _limit(resource.RLIMIT_FSIZE, 0)
    _limit(resource.RLIMIT_CORE, 0)
    module, function, name, data = pickle.load(sys.stdin.buffer)
    read: Callable[[str, bytes], Any] = getattr(importlib.import_module(module), function)
    try:
        answer: Any = read(name, data)
    except BadFile as bad:
        answer = bad
    except MemoryError:
        answer = BadFile(f"{name} takes more memory than a file may. Split it, or save it as CSV.")
    except Exception as bad:  # whatever a broken file does to a reader
        answer = BadFile(
            f"{name} can not be read ({type(bad).__name__}). Open it in a spreadsheet and save it again."
        )
    sys.stdout.buffer.write(pickle.dumps(answer))


if __name__ == "__main__":
    os.nice(5)
    main()
