"""What every route shares: a database connection, the signed-in account, rights, problem documents."""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable
from typing import Annotated, Any

from fastapi import Depends, FastAPI, Query, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from fastapi.routing import APIRoute

from nundine.services import accounts
from nundine.services.errors import NotAllowed, Refused
from nundine.services.patience import patiently
from nundine.services.turns import answering
from nundine.store.account import Account
from nundine.store.base import db

COOKIE = "nundine_session"
SAFE = ("GET", "HEAD", "OPTIONS")


def with_db(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Run with a connection of the pool, on the thread that runs the function."""

    @functools.wraps(fn)
    def inner(*args: Any, **kwargs: Any) -> Any:
        with db.connection_context():
            return fn(*args, **kwargs)

    return inner


def tried_again(fn: Callable[..., Any]) -> Callable[..., Any]:
    """Done again where the database gave it up for another's sake: what a route writes stands in one transaction."""

    @functools.wraps(fn)
    def inner(*args: Any, **kwargs: Any) -> Any:
        return patiently(lambda: fn(*args, **kwargs))

    return inner


class DbRoute(APIRoute):
    """A route whose plain function runs with a connection; builds stand aside meanwhile."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **kwargs: Any) -> None:
        plain = not inspect.iscoroutinefunction(endpoint)
        super().__init__(path, answering()(with_db(tried_again(endpoint))) if plain else endpoint, **kwargs)


@with_db
def current(request: Request) -> Account:
    """The account of the session. A write must come from our own page: same origin, and the header that only scripts of it set."""
    if request.method not in SAFE:
        origin = request.headers.get("origin")
        own = f"{request.url.scheme}://{request.headers.get('host')}"
        if request.headers.get("x-nundine") != "1" or (origin is not None and origin != own):
            raise NotAllowed("origin", "This request did not come from Nundine's own page.")
    return accounts.signed_in(request.cookies.get(COOKIE))


def may(right: str) -> Any:
    """A dependency: the account, if its role has the right."""

    def check(account: Annotated[Account, Depends(current)]) -> Account:
        accounts.require(account, right)
        return account

    return Depends(check)


Areas = Annotated[list[str], Query(default_factory=list, max_length=200)]
"""Areas that a question is limited to; none = all."""
Reader = Annotated[Account, may(accounts.READ)]
Editor = Annotated[Account, may(accounts.EDIT)]
Crewer = Annotated[Account, may(accounts.SWAP)]
Answerer = Annotated[Account, may(accounts.ANSWER)]
Reporter = Annotated[Account, may(accounts.REPORT)]
Importer = Annotated[Account, may(accounts.IMPORT)]
Manager = Annotated[Account, may(accounts.MANAGE)]
Reopener = Annotated[Account, may(accounts.REOPEN)]


def problem(status: int, code: str, text: str, **facts: Any) -> JSONResponse:
    """An RFC 9457 problem document."""
    body = {
        "type": f"urn:nundine:{code.replace(' ', '-')}",
        "title": text,
        "status": status,
        "code": code,
        **facts,
    }
    return JSONResponse(body, status, media_type="application/problem+json")


def add_problem_handlers(app: FastAPI) -> None:
    """Refusals and malformed requests become problem documents."""

    @app.exception_handler(Refused)
    async def refused(_: Request, bad: Refused) -> JSONResponse:
        return problem(bad.status, bad.code, bad.text, **bad.facts)

    @app.exception_handler(RequestValidationError)
    async def malformed(_: Request, bad: RequestValidationError) -> JSONResponse:
        first = bad.errors()[0]
        field = ".".join(str(p) for p in first["loc"][1:])
        return problem(422, "malformed", f"{field or 'The request'}: {first['msg']}", field=field)
