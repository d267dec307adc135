"""Assets: put in store, fitted."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nundine.services.exchange.forms import Cells


class Fitting(BaseModel):
    """Assets that go into store, or are fitted: where they were, or as parts of `parent`."""

    assets: list[str] = Field(max_length=500)
    in_store: bool
    parent: str | None = Field(None, max_length=60)


class AssetRow(BaseModel):
    """An asset as text cells, and the revision at which it was seen; null for a new one."""

    cells: Cells
    revision: int | None


class AssetRemoval(BaseModel):
    key: str = Field(max_length=60)
    revision: int
