"""Work orders by hand."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

Cells = dict[str, str]


class OrderForm(BaseModel):
    order: Cells
    tasks: list[Cells] = Field(max_length=400)
    revision: int | None


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
