"""The compiled engine behind a worker that runs: compiled beside it where that was never done, and loaded
when it is there.

Builds meanwhile run as plain Python, which makes the very same moves, only slower.
"""

from __future__ import annotations

import logging
import sys
from threading import Thread

from nundine.core.week import compiling
from nundine.core.week.search import compiled
from nundine.local.child import start_child
from nundine.settings import settings

log = logging.getLogger("nundine")


def get_ready() -> None:
    """Compile the engine in a process of its own, one to three minutes, unless that was done; then load it.
    Waits for both."""
    if not compiling.everything_is_kept():
        file = settings().var / "run" / "engine.log"
        file.parent.mkdir(parents=True, exist_ok=True)
        ended = start_child([sys.executable, "-m", compiled.__name__], file).wait()
        if ended != 0:
            log.warning(
                "the engine could not be compiled (exit %s, see %s); it runs as plain Python", ended, file
            )
            return
    compiled.load()


def get_ready_in_background() -> None:
    """The same on a thread. It starts the compiling process and outlives it, for a child ends with the thread
    that began it."""
    Thread(target=get_ready, daemon=True).start()
