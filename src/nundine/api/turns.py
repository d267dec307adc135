"""Who computes now. All requests of a process share one processor: few at once are answered sooner than all
together, and edits go before questions.

A request takes its turn before it takes a thread, so that questions which wait can not hold all the threads
that an edit needs.
"""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from threading import Lock
from time import monotonic

EDITS, QUESTIONS = 2, 2
"""Edits, and questions, that are worked on at once: beside a long one there is room for another."""
BESIDE_EDITS = 1
"""Questions that are worked on while an edit is."""
PATIENCE = 1.0
"""Seconds for which a question lets edits that wait go first: whoever reads is answered as well."""

Waiting = deque[asyncio.Future[None]]


class Turns:
    """Turns of one process. Requests may come from several event loops (tests do that)."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._edits: Waiting = deque()
        self._questions: Waiting = deque()
        self._came = deque[float]()
        """When each of the questions came, by the monotonic clock."""
        self._editing = self._asking = 0

    @asynccontextmanager
    async def turn(self, edits: bool) -> AsyncIterator[None]:
        """For the time of the block it is one's turn: with `edits` among those that write."""
        loop = asyncio.get_running_loop()
        mine = loop.create_future()
        with self._lock:
            (self._edits if edits else self._questions).append(mine)
            if not edits:
                self._came.append(monotonic())
            self._let_in()
            if mine in self._questions:
                loop.call_later(PATIENCE + 0.01, self._look_again)
        try:
            await mine
        except asyncio.CancelledError:
            with self._lock:
                self._leave(mine, edits)
            raise
        try:
            yield
        finally:
            with self._lock:
                self._end(edits)

    def _leave(self, mine: asyncio.Future[None], edits: bool) -> None:
        """Whoever asked is gone: out of the line, or out of the turn that had just come."""
        line = self._edits if edits else self._questions
        if mine in line:
            if not edits:
                del self._came[line.index(mine)]
            line.remove(mine)
        else:
            self._end(edits)

    def _end(self, edits: bool) -> None:
        if edits:
            self._editing -= 1
        else:
            self._asking -= 1
        self._let_in()

    def _look_again(self) -> None:
        """Questions may go on that were patient for long enough, also where no edit comes to its end."""
        with self._lock:
            self._let_in()

    def _let_in(self) -> None:
        while self._edits and self._editing < EDITS:
            self._editing += 1
            _call(self._edits.popleft())
        while self._questions and self._asking < self._most():
            self._asking += 1
            _call(self._questions.popleft())
            self._came.popleft()

    def _most(self) -> int:
        """Questions that may be worked on now."""
        if not self._editing:
            return QUESTIONS
        return 0 if self._edits and monotonic() - self._came[0] < PATIENCE else BESIDE_EDITS


def _call(one: asyncio.Future[None]) -> None:
    one.get_loop().call_soon_threadsafe(_set, one)


def _set(one: asyncio.Future[None]) -> None:
    if not one.done():
        one.set_result(None)
