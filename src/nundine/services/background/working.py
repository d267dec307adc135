"""A run while it is worked on: it shows that it is alive, tells how far it is, and hears whether to stop."""

from __future__ import annotations

import logging
import threading
from contextvars import copy_context
from functools import partial
from typing import Any, Self

from peewee import PeeweeException

from nundine.services.ledger.commands import tell
from nundine.services.retrying import patiently
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.run import Run

log = logging.getLogger("nundine")

LOOK = 0.3
"""Seconds between two looks at whether to stop; how far it is is told as often."""
BEAT = 4
"""Looks between two signs of life of a run that tells nothing."""


class Stopped(Exception):
    """Somebody stopped it; nothing was changed."""


def week_of(target: str) -> str | None:
    """The name of the week that a run is about, if it is about one."""
    return target.removeprefix("week ") if target.startswith("week ") else None


def need_week(target: str) -> str:
    """The same, of what is about a week by its kind. Raises ValueError where it is not."""
    name = week_of(target)
    if name is None:
        raise ValueError(f"{target} is no week")
    return name


class Working:
    """One run for the time of a `with` block; `asked` and `account` are as they were given.

    A thread with a connection of its own keeps the row, beside whatever transaction the work has open.
    """

    def __init__(self, run: Run) -> None:
        self.id: int = run.id
        self.asked: dict[str, Any] = run.asked
        self.account: Account | None = run.account
        self.kind, self.target = run.kind, run.target
        self.stopped = False
        self._progress: Any = None
        self._news: dict[str, Any] | None = None
        self._lock = threading.Lock()
        self._over = threading.Event()
        self._thread = threading.Thread(target=copy_context().run, args=(self._keep,), daemon=True)

    @property
    def week(self) -> str:
        """The name of the week that it is about. Raises ValueError where it is about none."""
        return need_week(self.target)

    def tell(self, progress: Any, news: dict[str, Any] | None = None) -> None:
        """How far it is; `news` is told those who have the week open. Kept within a moment."""
        with self._lock:
            self._progress, self._news = progress, news or {}

    def step(self, share: float) -> None:
        """The same as a share of the whole. Raises Stopped if somebody asked for that."""
        self.tell(round(share, 3))
        if self.stopped:
            raise Stopped

    def __enter__(self) -> Self:
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join()

    def _keep(self) -> None:
        looks = 0
        with db.connection_context():
            while not self._over.wait(LOOK):
                looks += 1
                try:
                    patiently(partial(self._look, looks))
                except PeeweeException as bad:  # it is tried again at the next look
                    log.warning("run %s can not be kept: %s", self.id, bad)

    def _look(self, looks: int) -> None:
        with self._lock:
            progress, news = self._progress, self._news
            self._news = None
        row = Run.id == self.id
        if news is not None:
            with db.atomic():
                Run.update(progress=progress, heartbeat=settings().now()).where(row).execute()
                if (week := week_of(self.target)) is not None:
                    tell(week, self.kind, {"run": self.id, "state": "running", **news})
        elif looks % BEAT == 0:
            Run.update(heartbeat=settings().now()).where(row).execute()
        self.stopped = bool(Run.select(Run.stop).where(row).scalar())
