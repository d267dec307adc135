"""Assets: put in store, fitted."""

from __future__ import annotations

from pydantic import BaseModel, Field


class Fitting(BaseModel):
    """Assets that go into store, or are fitted: where they were, or as parts of `parent`."""

    assets: list[str] = Field(max_length=500)
    in_store: bool
    parent: str | None = Field(None, max_length=60)
