"""The application of these tests, made once for each way in which it is set: its routes take it half a
second."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from fastapi import FastAPI

from nundine.api.app import create_app
from nundine.api.events.routes import Feed
from nundine.settings import settings


def application() -> FastAPI:
    """The application as it is set now, with nobody who listens."""
    here = settings()
    made = _made(here.allowed_names, here.secure, here.web)
    made.state.feed = Feed()
    return made


@cache
def _made(names: frozenset[str], secure: bool, web: Path) -> FastAPI:
    return create_app()
