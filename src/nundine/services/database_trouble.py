"""When the database or its disk is in trouble: told in words, with nothing changed."""

from __future__ import annotations

import shutil

from peewee import PeeweeException

from nundine.services.errors import Busy, NoRoom, Refused, Unavailable
from nundine.services.retrying import DEADLOCK, WAITED_TOO_LONG
from nundine.settings import settings

AWAY = (0, 2002, 2003, 2006, 2013, 2014, 2055, 1053, 1927)
"""MariaDB's and its client's numbers for a server that can not be reached, went away or is ending (MariaDB
error codes)."""
FULL = (3, 1021, 1026, 1114)
"""Numbers for a disk or a table space that is full; 1030 is one of them when it passes on the system's ENOSPC
(28)."""
ENOSPC = 28
LEAST_ROOM = 64 * 2**20
"""Bytes that must be free on the disk of our data before anything is written, so that the database never
meets a full one."""


def trouble(bad: PeeweeException) -> Refused | None:
    """What an error of the database means to who asked; None if it is a fault of ours."""
    number = bad.args[0] if bad.args and isinstance(bad.args[0], int) else None
    text = str(bad.args[1]) if len(bad.args) > 1 else str(bad)
    if number in FULL or (number == 1030 and f"error {ENOSPC}" in text):
        return no_room()
    if number in AWAY or "closed" in text.lower() and "connection" in text.lower():
        return Unavailable(
            "database",
            "The database does not answer just now; it is started again by itself. What you see "
            "after that is what was kept.",
        )
    if number in (DEADLOCK, WAITED_TOO_LONG):
        return Busy(
            "busy", "Others are changing the same right now; nothing was changed. Try again in a moment."
        )
    return None


def no_room() -> NoRoom:
    return NoRoom(
        "no room",
        "The disk of Nundine's data is full, so nothing can be changed; nothing is lost. Whoever "
        "runs Nundine has to make room.",
    )


def need_room() -> None:
    """Raises NoRoom if so little is free that a change might not be kept."""
    if shutil.disk_usage(settings().var).free < LEAST_ROOM:
        raise no_room()
