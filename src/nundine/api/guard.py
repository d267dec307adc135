"""What stands before the application: names, addresses, sizes and senders are checked before anything is
read.

And after it: headers that browsers heed, on errors too, and errors told as problem documents.
"""

from __future__ import annotations

import asyncio
import logging
from collections.abc import Callable
from dataclasses import dataclass
from time import monotonic
from typing import Any
from urllib.parse import parse_qsl

from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from nundine.api.at_site import at_its_site
from nundine.api.problems import as_problem, problem
from nundine.core.characters import bad_character
from nundine.formats.tables import MOST_BYTES

log = logging.getLogger("nundine")

CSP = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'self'; object-src 'none'"
)
HEADERS = {
    "content-security-policy": CSP,
    "x-content-type-options": "nosniff",
    "x-frame-options": "DENY",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}
HSTS = "max-age=31536000"
LONGEST_ADDRESS = 2000
SAFE = ("GET", "HEAD", "OPTIONS")


@dataclass(frozen=True)
class Limit:
    """What a body may be: bytes, seconds for all of it, and seconds between two pieces of it."""

    size: int
    seconds: float
    pause: float = 20.0


SIGN_IN, FORM, DECISIONS = Limit(4_000, 20), Limit(2**20, 30), Limit(8 * 2**20, 60)
FILE, FILES = Limit(MOST_BYTES + 2**16, 600), Limit(2 * MOST_BYTES + 2**16, 600)


def limit_of(path: str) -> Limit:
    """The limit for a body that is sent to an address of ours."""
    if path == "/api/session":
        return SIGN_IN
    if path == "/api/foreign":
        return FILE
    if path in ("/api/imports", "/api/imports/check"):
        return FILES
    return DECISIONS if path.startswith("/api/foreign/") else FORM


class Guard:
    """`sender` gives the account of a request or raises a refusal; it runs on a thread of its own, before the
    body is read."""

    def __init__(
        self, app: ASGIApp, *, sender: Callable[[Request], Any], names: frozenset[str], secure: bool
    ) -> None:
        self.app, self.sender, self.names = app, sender, names
        self.headers = {**HEADERS, **({"strict-transport-security": HSTS} if secure else {})}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        scope, begun = await at_its_site(scope), False

        async def with_headers(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                message["headers"] = self._headers(scope, message["headers"])
            await send(message)

        refused = self._refused(scope) or await self._stranger(scope)
        if refused is not None:
            await refused(scope, receive, with_headers)
            return
        try:
            await self.app(scope, self._limited(scope, receive), with_headers)
        except Exception as bad:
            told = as_problem(bad)
            if told is None:
                log.exception("%s %s failed", scope["method"], scope["path"])
                told = problem(500, "error", FAILED)
            if begun:
                raise
            await told(scope, receive, with_headers)

    def _headers(self, scope: Scope, given: list[tuple[bytes, bytes]]) -> list[tuple[bytes, bytes]]:
        there = {name.lower() for name, _ in given}
        more = dict(self.headers)
        if scope["path"].startswith("/api"):
            more["cache-control"] = "no-store"
        return [*given, *((k.encode(), v.encode()) for k, v in more.items() if k.encode() not in there)]

    def _refused(self, scope: Scope) -> Response | None:
        """What is wrong with the address or the size that is announced."""
        request = Request(scope)
        name = (request.url.hostname or "").lower()
        if name not in self.names:
            return problem(
                400,
                "host",
                f"Nundine is not called {name[:60]!r} here. NUNDINE_NAMES holds the names it has.",
            )
        path, query = scope["path"], scope["query_string"].decode("ascii", "replace")
        if len(path) > LONGEST_ADDRESS or bad_character(path):
            return problem(404, "not found", "There is no such address.")
        for key, value in parse_qsl(query, keep_blank_values=True):
            bad = bad_character(key) or bad_character(value)
            if bad:
                return problem(422, "character", f"{key[:40]!r} holds {bad}, which no text may hold.")
        length = request.headers.get("content-length", "0")
        limit = limit_of(path)
        if not length.isascii() or not length.isdigit() or int(length) > limit.size:
            return too_large(limit)
        return None

    async def _stranger(self, scope: Scope) -> Response | None:
        """Who sends a body must be signed in, or be about to."""
        path, request = scope["path"], Request(scope)
        if scope["method"] in SAFE or not path.startswith("/api/") or path == "/api/session":
            return None
        try:
            scope["nundine.sender"] = await run_in_threadpool(self.sender, request)
        except Exception as bad:
            told = as_problem(bad)
            if told is None:
                raise
            return told
        return None

    def _limited(self, scope: Scope, receive: Receive) -> Receive:
        """Bodies end, in time and in bytes."""
        if scope["method"] in SAFE:
            return receive  # nothing of it is read; a stream waits there for its end
        limit, began = limit_of(scope["path"]), monotonic()
        size, whole = 0, False

        async def limited() -> Message:
            nonlocal size, whole
            if whole:
                return await receive()
            left = limit.seconds - (monotonic() - began)
            try:
                message = await asyncio.wait_for(receive(), max(0.01, min(limit.pause, left)))
            except TimeoutError as bad:
                raise HTTPException(408, "The request did not come to an end. Send it again.") from bad
            size += len(message.get("body", b""))
            whole = not message.get("more_body", False)
            if size > limit.size:
                raise HTTPException(413, too_large_text(limit))
            return message

        return limited


FAILED = "Something went wrong in Nundine, and nothing was changed. Try again; the log says what it was."


def too_large_text(limit: Limit) -> str:
    most = f"{limit.size // 2**20} MB" if limit.size >= 2**20 else f"{limit.size // 1000} kB"
    return f"More was sent than is taken here: at most {most}. Nothing was changed."


def too_large(limit: Limit) -> Response:
    return problem(413, "too large", too_large_text(limit))
