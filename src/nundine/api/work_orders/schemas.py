"""Work orders by hand."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nundine.api.moments import Moment
from nundine.services.exchange.forms import Cells


class OrderForm(BaseModel):
    order: Cells
    tasks: list[Cells] = Field(max_length=400)
    revision: int | None


class OrderDraft(BaseModel):
    """A WO as it is being entered."""

    order: Cells
    tasks: list[Cells] = Field(max_length=400)


class PermitsAsked(BaseModel):
    kinds: list[str] = Field(max_length=50)


class PermitDecided(BaseModel):
    to: Literal["given", "refused", "ended"]
    revision: int
    valid_from: Moment | None = None
    valid_to: Moment | None = None
    remark: str = Field(default="", max_length=400)


class Answers(BaseModel):
    """By entry as the checklist has it; an empty answer takes one back."""

    answers: dict[str, str] = Field(max_length=400)


class OrderMove(BaseModel):
    to: str


class BreakInForm(BaseModel):
    title: str = Field(min_length=1, max_length=200)
    asset: str
    hours: float = Field(gt=0, le=200)
    craft: str
    people: int = Field(ge=1, le=20, default=1)
    urgency: Literal["now", "this week", "when it fits"]


class OrderMoves(BaseModel):
    numbers: list[str] = Field(max_length=5000)
    to: str = Field(max_length=20)


class OrderField(BaseModel):
    """A field and its text cell, for many WOs."""

    numbers: list[str] = Field(max_length=5000)
    name: str = Field(max_length=20)
    cell: str = Field(max_length=160)


class OrderClosing(BaseModel):
    numbers: list[str] = Field(max_length=5000)


class OrderNote(BaseModel):
    text: str = Field(max_length=4000)


class OrderNumber(BaseModel):
    number: str
