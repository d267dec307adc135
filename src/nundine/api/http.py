"""What every route shares: a database connection, the signed-in account, rights."""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable, Coroutine
from typing import Annotated, Any

from fastapi import Depends, Query, Request, Response
from fastapi.routing import APIRoute
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from nundine.api.shared import SharedAnswers, key_of
from nundine.api.turns import Turns
from nundine.core.characters import bad_character
from nundine.services import access
from nundine.services.admin import sign_in, sign_in_rules
from nundine.services.background.courtesy import answering
from nundine.services.database_trouble import need_room
from nundine.services.errors import NotAllowed
from nundine.services.retrying import patiently
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db

SAFE = ("GET", "HEAD", "OPTIONS")


def cookie(name: str) -> str:
    """The full name of a cookie of ours: behind TLS one that no other host can set (RFC 6265bis, 4.1.3.2
    "__Host-")."""
    return f"__Host-nundine_{name}" if settings().secure else f"nundine_{name}"


def with_db(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Run with a connection of the pool, on the thread that runs the function."""

    @functools.wraps(fn)
    def inner(*args: Any, **kwargs: Any) -> Any:
        with db.connection_context():
            return fn(*args, **kwargs)

    return inner


def tried_again(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Done again where the database gave it up for another's sake: what a route writes stands in one
    transaction."""

    @functools.wraps(fn)
    def inner(*args: Any, **kwargs: Any) -> Any:
        return patiently(lambda: fn(*args, **kwargs))

    return inner


def with_room(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Only where there is room on the disk for what a route may write."""

    @functools.wraps(fn)
    def inner(*args: Any, **kwargs: Any) -> Any:
        need_room()
        return fn(*args, **kwargs)

    return inner


def waits(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Marks a route that takes no turn: it waits for others more than it computes, or is at a file for
    seconds."""
    fn.waits = True  # type: ignore[attr-defined]
    return fn


class PlainText(Request):
    """A request whose JSON holds only characters that texts may hold."""

    async def json(self) -> Any:
        document = await super().json()
        bad = _bad_text(document)
        if bad:
            raise HTTPException(422, f"{bad} is no character of a text. Take it out; nothing was changed.")
        return document


def _bad_text(document: Any) -> str | None:
    """The first character in a JSON document, keys included, that no text may hold."""
    if isinstance(document, str):
        return bad_character(document)
    if isinstance(document, dict):
        return next((b for pair in document.items() for one in pair if (b := _bad_text(one))), None)
    if isinstance(document, list):
        return next((b for one in document if (b := _bad_text(one))), None)
    return None


TURNS, SHARED = Turns(), SharedAnswers()


class DbRoute(APIRoute):
    """A route whose plain function runs with a connection; builds stand aside meanwhile. What may write needs
    room. Each takes its turn, once all that it sends is there."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **kwargs: Any) -> None:
        self.reads = set(kwargs.get("methods") or ()) <= set(SAFE)
        self.in_turn = not inspect.iscoroutinefunction(endpoint) and not hasattr(endpoint, "waits")
        self.shared = hasattr(endpoint, "shared")
        if not inspect.iscoroutinefunction(endpoint):
            work = with_db(tried_again(endpoint if self.reads else with_room(endpoint)))
            endpoint = answering()(work)
        super().__init__(path, endpoint, **kwargs)

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handle = super().get_route_handler()

        async def plain(request: Request) -> Response:
            asked = PlainText(request.scope, request.receive)
            if not self.in_turn:
                return await handle(asked)
            if not self.reads:
                await asked.body()
            turn, known = TURNS.turn(edits=not self.reads), request.scope.get("nundine.sender")
            if self.shared and known is not None:
                return await SHARED.answer(key_of(request, known), turn, lambda: handle(asked))
            async with turn:
                return await handle(asked)

        return plain


def current(request: Request) -> Account:
    """The account of the session, as it was found before the body was read."""
    known: Account | None = request.scope.get("nundine.sender")
    return known if known is not None else sender(request)


@with_db
def sender(request: Request) -> Account:
    """The account of the session, with what it may. A write must come from our own page: same origin, and the
    header that only scripts of it set.

    Raises
    ------
    NotAllowed
        If it comes from elsewhere.
    NotSignedIn
        If there is no session, or it has ended.
    """
    if request.method not in SAFE:
        origin = request.headers.get("origin")
        own = f"{request.url.scheme}://{request.headers.get('host')}"
        if request.headers.get("x-nundine") != "1" or (origin is not None and origin != own):
            raise NotAllowed("origin", "This request did not come from Nundine's own page.")
    account = sign_in.signed_in(request.cookies.get(cookie("session")), is_active(request))
    access.look_up(account)
    return account


def is_active(request: Request) -> bool:
    """Whether somebody sits before the browser that asks: a write, or a question with the header that our
    page sets while keys and pointer are used."""
    return request.method not in SAFE or request.headers.get("x-nundine-active") == "1"


def may(*rights: str) -> Any:
    """A dependency: the account, if a role of it has one of the rights, and its password is its own."""

    async def check(request: Request) -> Account:
        known: Account | None = request.scope.get("nundine.sender")
        account = known if known is not None else await run_in_threadpool(sender, request)
        if account.one_time:
            raise NotAllowed("one time", "Choose a password of your own first.")
        if account.factor is None and access.may(account, access.ADMINISTER):
            await run_in_threadpool(_need_no_factor, account)
        access.require_site(account)
        if not access.rights_of(account) & set(rights):
            await run_in_threadpool(with_db(access.require), account, *rights)
        return account

    return Depends(check)


@with_db
def _need_no_factor(account: Account) -> None:
    if sign_in_rules.demands_factor(account):
        raise NotAllowed("factor", "This site asks administrators for a second factor. Set it up first.")


Areas = Annotated[list[str], Query(default_factory=list, max_length=200)]
"""Areas that a question is limited to; none = all."""
Reader = Annotated[Account, may(access.READ)]
Editor = Annotated[Account, may(access.EDIT)]
Crewer = Annotated[Account, may(access.EDIT, access.SWAP, access.SWAP_TODAY)]
Planner = Annotated[Account, may(access.PLAN)]
Storekeeper = Annotated[Account, may(access.STOCK)]
Teller = Annotated[Account, may(access.STOCK, access.REPORT)]
"""Whoever hands parts out, or says what a job used."""
Knower = Annotated[Account, may(access.PLAN, access.REPORT, access.EDIT)]
"""Whoever plans, schedules or does the work, and so has something to say of it."""
Self = Annotated[Account, Depends(current)]
Answerer = Annotated[Account, may(access.ANSWER)]
Permitter = Annotated[Account, may(access.PERMIT)]
Reporter = Annotated[Account, may(access.REPORT)]
Importer = Annotated[Account, may(access.IMPORT)]
Manager = Annotated[Account, may(access.MANAGE)]
Administrator = Annotated[Account, may(access.ADMINISTER)]
Reopener = Annotated[Account, may(access.REOPEN)]
