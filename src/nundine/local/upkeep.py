"""Parts that run side by side are looked after: one that ends by itself is started again, with waits that
grow."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from subprocess import Popen

from nundine.local.errors import CannotStart

SHORTEST, LONGEST = 0.5, 30.0
"""Seconds before a part is started again: after its first end, and at most; each wait is twice the one
before."""
WELL = 60.0
"""Seconds after which a part that runs counts as well again."""


@dataclass
class Part:
    """`start` gives the running process or raises CannotStart; `after` is called when it runs again."""

    name: str
    start: Callable[[], Popen[bytes]]
    process: Popen[bytes] | None = None
    after: Callable[[], None] | None = None
    since: float = 0.0
    wait: float = SHORTEST
    again_at: float | None = None

    def begin(self) -> None:
        """Start it. Raises CannotStart."""
        self.process = self.start()
        self.since, self.again_at = time.monotonic(), None

    def look(self, say: Callable[[str], None]) -> None:
        """Note that it ended, or start it again when its time has come."""
        now = time.monotonic()
        if self.again_at is None and self.process is not None and self.process.poll() is not None:
            if now - self.since > WELL:
                self.wait = SHORTEST
            self._later(f"The {self.name} ended (exit {self.process.returncode})", say)
        elif self.again_at is not None and now >= self.again_at:
            try:
                self.begin()
            except CannotStart as bad:
                self._later(f"The {self.name} could not be started again ({bad})", say)
                return
            say(f"The {self.name} runs again.")
            if self.after is not None:
                self.after()
        elif self.process is not None and now - self.since > WELL:
            self.wait = SHORTEST

    def _later(self, what: str, say: Callable[[str], None]) -> None:
        say(f"{what}; it is started again in {self.wait:g} s. Its log lies in the folder run.")
        self.again_at = time.monotonic() + self.wait
        self.wait = min(LONGEST, 2 * self.wait)
