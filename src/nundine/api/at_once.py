"""How much of what is costly one account may have under way at one moment, and all together."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from threading import Lock

from nundine.services.errors import TooMany
from nundine.store.account import Account


@dataclass
class AtOnce:
    """At most `each` for one account and `all_` in all. `what` says what they are."""

    what: str
    each: int
    all_: int
    going: Counter[str] = field(default_factory=Counter)
    lock: Lock = field(default_factory=Lock)

    def begin(self, account: Account) -> None:
        """Raises TooMany."""
        with self.lock:
            if self.going[account.name] >= self.each:
                raise TooMany(
                    "at once",
                    f"{self.each} {self.what} of yours are under way. Wait for one of them.",
                    wait=5,
                )
            if self.going.total() >= self.all_:
                raise TooMany("at once", f"{self.all_} {self.what} are under way. Try again soon.", wait=5)
            self.going[account.name] += 1

    def end(self, account: Account) -> None:
        with self.lock:
            self.going[account.name] -= 1
            if not self.going[account.name]:
                del self.going[account.name]

    @contextmanager
    def turn(self, account: Account) -> Iterator[None]:
        """For the time of the block. Raises TooMany."""
        self.begin(account)
        try:
            yield
        finally:
            self.end(account)


FILES_IN = AtOnce("files on their way in", 2, 6)
FILES_OUT = AtOnce("files being made", 3, 12)
STREAMS = AtOnce("open windows", 30, 1000)
