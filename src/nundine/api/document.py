"""The API's own document (OpenAPI 3.1): what FastAPI knows, with every status that a route can answer and
what an error looks like."""

from __future__ import annotations

from http import HTTPStatus
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

ALWAYS = (400, 401, 403, 404, 405, 409, 422, 429, 500, 503)
"""What any route may answer: to a wrong name, a stranger, a role or an area that may not, no such record,
others at the same, what is malformed or refused, too much at once, a fault of ours, and a database that
does not answer."""
WRITES = (408, 413, 507)
"""Beside those, what is sent a body: too slow, too large, a full disk."""
PROBLEM: dict[str, Any] = {
    "title": "Problem",
    "description": "An error (RFC 9457): `title` says what happened and what to do; further members say "
    "where.",
    "type": "object",
    "required": ["type", "title", "status", "code"],
    "properties": {
        "type": {"type": "string", "description": "urn:nundine: and the code"},
        "title": {"type": "string"},
        "status": {"type": "integer"},
        "code": {"type": "string", "description": "stable, for programs"},
        "field": {"type": "string", "description": "which field is meant"},
        "wait": {"type": "integer", "description": "seconds after which to try again, as in Retry-After"},
    },
    "additionalProperties": True,
}
BODY = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}


def document(app: FastAPI) -> dict[str, Any]:
    """The document of all routes."""
    made = get_openapi(title=app.title, version=app.version, routes=app.routes)
    schemas = made["components"]["schemas"]
    schemas["Problem"] = PROBLEM
    for name in ("HTTPValidationError", "ValidationError"):
        schemas.pop(name, None)
    for operations in made["paths"].values():
        for method, operation in operations.items():
            statuses = ALWAYS if method == "get" else (*ALWAYS, *WRITES)
            operation["responses"].update(
                {str(s): {"description": HTTPStatus(s).phrase, "content": BODY} for s in sorted(statuses)}
            )
    return made
