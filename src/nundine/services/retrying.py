"""Work that the database gave up for another's sake (deadlock, lock wait) is done again a few times, then
told as busy."""

from __future__ import annotations

from collections.abc import Callable
from random import random
from time import sleep
from typing import TypeVar

from peewee import OperationalError

from nundine.services.errors import Busy

DEADLOCK, WAITED_TOO_LONG = 1213, 1205
TRIES, PAUSE = 5, 0.05
"""How often work is tried, and seconds between the first two tries; each pause is up to twice as long as the
one before."""

T = TypeVar("T")


def patiently(work: Callable[[], T]) -> T:
    """Do work whose writes stand in one transaction of its own; nothing is changed by a try that fails.

    Raises
    ------
    Busy
        If it had to be given up each time.
    """
    for n in range(TRIES):
        try:
            return work()
        except OperationalError as bad:
            if not bad.args or bad.args[0] not in (DEADLOCK, WAITED_TOO_LONG):
                raise
            sleep(PAUSE * 2**n * (0.5 + random() / 2))
    raise Busy("busy", "Others are changing the same right now; nothing was changed. Try again in a moment.")
