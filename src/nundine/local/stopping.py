"""Being told to stop: Ctrl-C, SIGTERM, a closed terminal."""

from __future__ import annotations

import contextlib
import signal
from collections.abc import Iterator

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
