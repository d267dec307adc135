"""One answer for all who ask the same at the same time: after an edit, everybody who looks at the week asks
for it anew.

Whoever asks while the same question still waits for its turn is given its answer, which is computed after all
of them asked. Two questions are the same if they go to one address of one site with the same rights.
"""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from contextlib import AbstractAsyncContextManager
from typing import Any

from fastapi import Request, Response

from nundine.services import access
from nundine.store.account import Account
from nundine.store.belonging import here

Key = tuple[object, ...]
Answer = asyncio.Future[Response | None]


def shared(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Marks a question whose answer depends on the address and on what somebody may do, not on who asks."""
    fn.shared = True  # type: ignore[attr-defined]
    return fn


def key_of(request: Request, account: Account) -> Key:
    """What two questions must have in common."""
    sites = None if account.sites is None else frozenset(account.sites)
    allowed = (access.grants(account), sites, bool(account.one_time), account.factor is None)
    return (id(asyncio.get_running_loop()), here(), request.url.path, request.url.query, *allowed)


class SharedAnswers:
    """Questions that wait for their turn, by what they ask."""

    def __init__(self) -> None:
        self._waiting: dict[Key, Answer] = {}

    async def answer(
        self,
        key: Key,
        turn: AbstractAsyncContextManager[None],
        ask: Callable[[], Awaitable[Response]],
    ) -> Response:
        """The answer of the one that waits already, or else what `ask` gives in its turn."""
        leader = self._waiting.get(key)
        if leader is not None:
            given = await asyncio.shield(leader)
            # Where the first one left, or was refused, each asks for himself.
            return _copy(given) if given is not None else await _in_turn(turn, ask)
        mine: Answer = asyncio.get_running_loop().create_future()
        self._waiting[key] = mine
        made: Response | None = None
        try:
            async with turn:
                self._waiting.pop(key, None)
                made = await ask()
            return made
        finally:
            if self._waiting.get(key) is mine:
                del self._waiting[key]
            mine.set_result(made if made is not None and made.status_code == 200 else None)


async def _in_turn(
    turn: AbstractAsyncContextManager[None], ask: Callable[[], Awaitable[Response]]
) -> Response:
    async with turn:
        return await ask()


def _copy(one: Response) -> Response:
    """The same answer for somebody else."""
    return Response(bytes(one.body), one.status_code, media_type=one.media_type)
