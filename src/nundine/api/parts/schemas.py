"""Shapes of what is said of parts."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nundine.services.exchange.forms import Cells
from nundine.services.parts.posting import Kind


class PostingForm(BaseModel):
    """A movement: what moves, of a count what was found."""

    kind: Kind
    part: str = Field(max_length=40)
    storeroom: str = Field(max_length=40)
    quantity: float = Field(ge=-1e9, le=1e9)
    shelf: str = Field("", max_length=40)
    lot: str = Field("", max_length=40)
    price: float | None = Field(None, ge=0, le=1e9)
    order: str | None = Field(None, max_length=40)
    reason: str = Field("", max_length=400)
    to: str | None = Field(None, max_length=40)
    to_shelf: str = Field("", max_length=40)


class PostingForms(BaseModel):
    lines: list[PostingForm] = Field(max_length=1000)


class PickedNeed(BaseModel):
    order: str = Field(max_length=40)
    task: str = Field(max_length=20)
    part: str = Field(max_length=40)


class Picked(BaseModel):
    picked: list[PickedNeed] = Field(max_length=500)


class KitNames(BaseModel):
    """WOs by number."""

    orders: list[str] = Field(max_length=500)


class KitsSetAside(KitNames):
    place: str = Field(max_length=60)


class TaskName(BaseModel):
    order: str = Field(max_length=40)
    task: str = Field(max_length=20)


class TaskNames(BaseModel):
    tasks: list[TaskName] = Field(max_length=500)


class UsedForm(TaskName):
    """How much of a part was used in all."""

    part: str = Field(max_length=40)
    quantity: float = Field(ge=0, le=1e9)


class UsedForms(BaseModel):
    used: list[UsedForm] = Field(max_length=500)


class AssetPartForm(BaseModel):
    asset: str = Field(max_length=60)
    part: str = Field(max_length=40)
    quantity: float = Field(1.0, gt=0, le=1e6)
    remark: str = Field("", max_length=200)


class AssetPartKey(BaseModel):
    asset: str = Field(max_length=60)
    part: str = Field(max_length=40)


class PartRow(BaseModel):
    """A storeroom or part as text cells, and the revision at which it was seen; null for a new one."""

    cells: Cells
    revision: int | None


class PartRowRemoval(BaseModel):
    key: str = Field(max_length=40)
    revision: int
