"""Refusals, each with a stable code and words that say what to do. The API makes RFC 9457 problems of
them."""

from __future__ import annotations

from typing import Any


class Refused(Exception):
    """A request that can not be carried out; nothing was changed."""

    status = 422

    def __init__(self, code: str, text: str, **facts: Any) -> None:
        super().__init__(text)
        self.code, self.text, self.facts = code, text, facts


class NotFound(Refused):
    status = 404


class Stale(Refused):
    """Somebody changed what this edit touches; `facts` says what and who."""

    status = 409


class Busy(Refused):
    """Others hold what this needs; nothing was changed."""

    status = 409


class NotAllowed(Refused):
    status = 403


class NotSignedIn(Refused):
    status = 401


class TooMany(Refused):
    status = 429


class Unavailable(Refused):
    """A part of Nundine does not answer just now."""

    status = 503


class NoRoom(Refused):
    """The disk is full."""

    status = 507
