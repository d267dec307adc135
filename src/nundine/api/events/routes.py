"""What happens, to all who look at it: one reader of the table of events a process, and a stream to each
browser."""

from __future__ import annotations

import asyncio
import json
import logging
from collections import Counter, deque
from collections.abc import AsyncIterator, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from functools import cached_property
from time import monotonic
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from peewee import PeeweeException
from sse_starlette import EventSourceResponse, ServerSentEvent

from nundine.api.at_once import STREAMS
from nundine.api.http import DbRoute, Reader, cookie, with_db
from nundine.services.admin import sign_in
from nundine.services.week.state import find_week
from nundine.store.belonging import here
from nundine.store.week import Event

log = logging.getLogger("nundine")
router = APIRouter(prefix="/api/events", tags=["events"], route_class=DbRoute)

LOOK, BEAT, SESSION = 0.25, 0.6, 5.0
"""Seconds between two looks at the table, two signs of life, and two looks at the session."""
FRESH = 0.7
"""Seconds for which a look at the table shows that the database answers."""
EVERYWHERE = ""
"""The week of what concerns all who look at any."""
OVERLAP = 200
"""Events are read again so far back: of two transactions the one with the later number may be there first."""


@dataclass(frozen=True)
class Told:
    id: int
    site: int | None
    week: str
    kind: str
    body: Any

    @cached_property
    def sent(self) -> bytes:
        """As all who look at its week are told it."""
        return _sent(self.kind, json.dumps(self.body), self.id)


AS_TOLD = (Event.id, Event.site, Event.week, Event.kind, Event.body)


class Feed:
    """Events in the order in which they came to be seen. It reads while somebody listens."""

    def __init__(self) -> None:
        self.events: deque[Told] = deque(maxlen=4000)
        self.count = 0
        self._looked = 0.0
        self._tokens: Counter[str] = Counter()
        self._sessions_at = 0.0
        self.ended: set[str] = set()
        """Sessions of listeners that were over when they were looked at last."""
        self._seen: set[int] = set()
        self._newest = 0
        self._bells: set[asyncio.Event] = set()
        self._reading: asyncio.Task[None] | None = None
        self.begun = asyncio.Event()
        """Set once it is known which events are old."""

    @contextmanager
    def listening(self, token: str) -> Iterator[asyncio.Event]:
        """For the time of the block, in a session: what rings when something happened."""
        bell = asyncio.Event()
        self._tokens[token] += 1
        self.ended.discard(token)
        self._bells.add(bell)
        if self._reading is None or self._reading.done():
            self.begun.clear()
            self._reading = asyncio.create_task(self._read())
        try:
            yield bell
        finally:
            self._bells.discard(bell)
            self._tokens[token] -= 1
            if not self._tokens[token]:
                del self._tokens[token]

    @property
    def alive(self) -> bool:
        """Whether the database answered a moment ago; one that hangs does not."""
        return monotonic() - self._looked < FRESH

    def since(self, count: int) -> list[Told]:
        """Those that came after the first `count`."""
        new = self.count - count
        return list(self.events)[-new:] if new > 0 else []

    async def _read(self) -> None:
        self._newest, self._seen = 0, set()
        while self._bells:
            try:
                if not self._newest:
                    self._newest = await asyncio.to_thread(_newest) or 1
                    self._seen = set(range(max(0, self._newest - OVERLAP), self._newest + 1))
                    self.begun.set()
                found = await asyncio.to_thread(_after, self._newest - OVERLAP, self._seen)
                self._looked = monotonic()
                if self._looked - self._sessions_at > SESSION:
                    self._sessions_at = self._looked
                    self.ended = await asyncio.to_thread(with_db(sign_in.ended_among), set(self._tokens))
            except Exception as bad:  # whatever it is, it is tried again; the silence tells those who listen
                log.warning("events can not be read: %s", bad)
                found = []
            for one in found:
                self._seen.add(one.id)
                self._newest = max(self._newest, one.id)
                self.events.append(one)
                self.count += 1
            if found:
                self._seen = {n for n in self._seen if n >= self._newest - OVERLAP}
                for bell in self._bells:
                    bell.set()
            await asyncio.sleep(LOOK)


@with_db
def _newest() -> int:
    return int(Event.of_all_sites(Event.id).order_by(Event.id.desc()).scalar() or 0)


@with_db
def _after(number: int, but: set[int]) -> list[Told]:
    rows = Event.of_all_sites(*AS_TOLD).where(Event.id > number).order_by(Event.id)
    return [Told(*row) for row in rows.limit(2 * OVERLAP + 1000).tuples() if row[0] not in but]


@with_db
def _missed(week: str, after: int) -> list[Told]:
    """What a browser that was away did not hear."""
    mine = Event.week.in_((week, EVERYWHERE)) & (Event.id > after)
    return [Told(*row) for row in Event.select(*AS_TOLD).where(mine).order_by(Event.id).limit(1000).tuples()]


def _sent(kind: str, data: str = "{}", id_: int | None = None) -> bytes:
    return ServerSentEvent(data, event=kind, id=None if id_ is None else str(id_)).encode()


HELLO, BEATS, ENDED = _sent("hello"), _sent("beat"), _sent("ended")


@router.get("", response_class=EventSourceResponse)
async def events(
    request: Request,
    account: Reader,
    week: str | None = None,
    after: Annotated[int | None, Query(ge=0)] = None,
) -> EventSourceResponse:
    """Edits, builds and bounds of a week as they happen, and a sign of life more than once a second; ends
    with the session.

    `after` is the number of the last event that was heard: what came since is told first.
    """
    if week is not None:
        await asyncio.to_thread(with_db(find_week), week)
    at = await asyncio.to_thread(with_db(here))
    STREAMS.begin(account)
    feed: Feed = request.app.state.feed
    token = request.cookies.get(cookie("session"), "")

    async def stream() -> AsyncIterator[bytes]:
        try:
            with feed.listening(token) as bell:
                await feed.begun.wait()
                count = feed.count
                yield HELLO
                if week is not None and after is not None:
                    missed = await asyncio.to_thread(_missed, week, after)
                    if missed:
                        yield b"".join(o.sent for o in missed)
                while True:
                    bell.clear()
                    new = feed.since(count)
                    count = feed.count
                    ours = (o.sent for o in new if o.week in (week, EVERYWHERE) and o.site in (at, None))
                    told = b"".join(ours) + (BEATS if feed.alive else b"")
                    if token in feed.ended:
                        yield told + ENDED
                        return
                    if told:
                        yield told
                    with suppress(TimeoutError):
                        await asyncio.wait_for(bell.wait(), BEAT)
        except PeeweeException:
            return  # the browser comes again
        finally:
            STREAMS.end(account)

    return EventSourceResponse(stream(), ping=60)
