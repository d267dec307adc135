"""Shapes of what is said of buying."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import BaseModel, Field

MOST = 1e9


class WantedForm(BaseModel):
    """What is to be bought; `line`: of a line that is there, None = a new one."""

    line: str | None = Field(None, max_length=20)
    part: str | None = Field(None, max_length=40)
    words: str = Field("", max_length=200)
    quantity: float = Field(gt=0, le=MOST)
    price: float | None = Field(None, ge=0, le=MOST)
    storeroom: str | None = Field(None, max_length=40)
    order: str | None = Field(None, max_length=40)
    day: date | None = None


class Asking(BaseModel):
    lines: list[WantedForm] = Field(max_length=200)
    remark: str = Field("", max_length=4000)


class AskingAgain(Asking):
    """Of a request that was seen at a revision."""

    revision: int


class LackingParts(BaseModel):
    parts: list[str] = Field(min_length=1, max_length=200)


class RequestMove(BaseModel):
    to: Literal["written", "asked", "approved", "refused"]
    revision: int
    remark: str = Field("", max_length=400)


class Settling(BaseModel):
    """How a line was dealt with without an order; empty: it is still wanted."""

    line: str = Field(max_length=20)
    how: str = Field("", max_length=120)
    revision: int


class PickedForm(BaseModel):
    request: str = Field(max_length=40)
    line: str = Field(max_length=20)
    quantity: float | None = Field(None, gt=0, le=MOST)


class Ordering(BaseModel):
    """Lines of requests for an order; `into` one that is being written, None = a new one."""

    picked: list[PickedForm] = Field(max_length=200)
    supplier: str = Field("", max_length=120)
    into: str | None = Field(None, max_length=40)


class PurchaseForm(BaseModel):
    supplier: str = Field("", max_length=120)
    lines: list[WantedForm] = Field(max_length=200)
    remark: str = Field("", max_length=4000)


class PurchaseFormAgain(PurchaseForm):
    revision: int


class PurchaseMove(BaseModel):
    to: Literal["placed", "cancelled"]
    revision: int


class Promise(BaseModel):
    """When a line comes, whether the supplier says so, and whether the rest is awaited."""

    line: str = Field(max_length=20)
    day: date | None = None
    confirmed: bool = False
    awaited: bool = True
    revision: int


class LineOff(BaseModel):
    line: str = Field(max_length=20)
    revision: int


class CameForm(BaseModel):
    line: str = Field(max_length=20)
    quantity: float = Field(gt=0, le=MOST)
    shelf: str = Field("", max_length=40)
    lot: str = Field("", max_length=40)


class Receiving(BaseModel):
    came: list[CameForm] = Field(max_length=200)
    revision: int


class SendingBack(BaseModel):
    back: CameForm
    reason: str = Field(max_length=400)
    revision: int


class Numbered(BaseModel):
    number: str
