"""Connections that say nothing, or never come to the end of what they ask, are closed."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

PATIENCE = 20.0
"""Seconds within which the first line and the headers of a first request must be there."""


class PatientProtocol(H11Protocol):
    """HTTP as usual; a connection whose first request has no end of its headers is closed after a while."""

    _deadline: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._deadline = self.loop.call_later(PATIENCE, self._close_if_silent)

    def _close_if_silent(self) -> None:
        if self.cycle is None and not self.transport.is_closing():
            self.transport.close()

    def connection_lost(self, exc: Exception | None) -> None:
        if self._deadline is not None:
            self._deadline.cancel()
        super().connection_lost(exc)
