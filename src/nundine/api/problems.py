"""Every error as an RFC 9457 problem document."""

from __future__ import annotations

from http import HTTPStatus
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from peewee import PeeweeException
from starlette.exceptions import HTTPException

from nundine.services.database_trouble import trouble
from nundine.services.errors import Refused


def problem(status: int, code: str, text: str, **facts: Any) -> JSONResponse:
    """An RFC 9457 problem document."""
    body = {
        "type": f"urn:nundine:{code.replace(' ', '-')}",
        "title": text,
        "status": status,
        "code": code,
        **facts,
    }
    headers = {"retry-after": str(facts["wait"])} if "wait" in facts else None
    return JSONResponse(body, status, headers, media_type="application/problem+json")


def as_problem(bad: Exception) -> JSONResponse | None:
    """What an error is to who asked; None for one that nobody foresaw."""
    if isinstance(bad, Refused):
        return problem(bad.status, bad.code, bad.text, **bad.facts)
    if isinstance(bad, RequestValidationError):
        first = bad.errors()[0]
        field = ".".join(str(p) for p in first["loc"][1:])
        return problem(422, "malformed", f"{field or 'The request'}: {first['msg']}", field=field)
    if isinstance(bad, HTTPException):
        text = {404: "There is no such address.", 405: "This address does not do that."}.get(bad.status_code)
        phrase = HTTPStatus(bad.status_code).phrase.lower()
        return problem(bad.status_code, phrase, text or str(bad.detail))
    if isinstance(bad, PeeweeException):
        told = trouble(bad)
        return as_problem(told) if told else None
    return None


def add_problem_handlers(app: FastAPI) -> None:
    """Refusals, malformed requests, unknown addresses and a database in trouble become problem documents."""

    async def told(_: Request, bad: Exception) -> JSONResponse:
        found = as_problem(bad)
        if found is None:
            raise bad
        return found

    for kind in (Refused, RequestValidationError, HTTPException, PeeweeException):
        app.add_exception_handler(kind, told)
