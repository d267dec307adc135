"""One answer for all who ask the same at the same time."""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from contextlib import asynccontextmanager

import pytest
from fastapi import Request, Response

from nundine.api.shared import SharedAnswers, key_of
from nundine.store.account import Account
from tests.api.conftest import Client
from tests.conftest import WEEK


class Desk:
    """Questions that wait until `begin`, and how often each was computed."""

    def __init__(self) -> None:
        self.shared, self.open, self.computed = SharedAnswers(), asyncio.Event(), list[str]()
        self.fails = False

    @asynccontextmanager
    async def turn(self):  # type: ignore[no-untyped-def]
        await self.open.wait()
        yield

    def ask(self, what: str) -> asyncio.Task[Response]:
        async def compute() -> Response:
            self.computed.append(what)
            if self.fails:
                raise ValueError(what)
            told = f"{what} {len(self.computed)}"
            await asyncio.sleep(0)
            return Response(told)

        return asyncio.create_task(self.shared.answer((what,), self.turn(), compute))


def _run(story: Callable[[Desk], Awaitable[None]]) -> None:
    async def told() -> None:
        await story(Desk())

    asyncio.run(told())


def test_sixty_who_ask_the_same_while_it_waits_get_one_answer() -> None:
    async def story(desk: Desk) -> None:
        asked = [desk.ask("crew") for _ in range(60)] + [desk.ask("agree")]
        await asyncio.sleep(0)
        desk.open.set()
        answers = await asyncio.gather(*asked)
        assert {bytes(a.body) for a in answers[:-1]} == {b"crew 1"}
        assert desk.computed == ["crew", "agree"]

    _run(story)


def test_whoever_asks_once_it_is_being_computed_gets_an_answer_of_his_own() -> None:
    async def story(desk: Desk) -> None:
        desk.open.set()
        first = desk.ask("crew")
        while not desk.computed:
            await asyncio.sleep(0)
        second = desk.ask("crew")
        assert (await first).body != (await second).body

    _run(story)


def test_where_the_first_one_leaves_or_fails_the_others_ask_for_themselves() -> None:
    async def story(desk: Desk) -> None:
        asked = [desk.ask("crew") for _ in range(3)]
        await asyncio.sleep(0)
        asked[0].cancel()
        desk.open.set()
        left = await asyncio.gather(*asked, return_exceptions=True)
        assert isinstance(left[0], asyncio.CancelledError)
        assert desk.computed == ["crew", "crew"]
        desk.fails = True
        failed = await asyncio.gather(desk.ask("crew"), desk.ask("crew"), return_exceptions=True)
        assert [type(f) for f in failed] == [ValueError, ValueError]

    _run(story)


@pytest.mark.parametrize("other", ["sven", "olivia"])
def test_questions_of_people_with_other_rights_are_not_the_same(client: Client, other: str) -> None:
    client("rene")
    request = Request({"type": "http", "path": f"/api/weeks/{WEEK}/crew", "query_string": b"", "headers": []})

    async def keys() -> tuple[object, object, object]:
        rene, again, who = (Account.get(Account.name == n) for n in ("rene", "rene", other))
        return key_of(request, rene), key_of(request, again), key_of(request, who)

    mine, again, others = asyncio.run(keys())
    assert mine == again != others
