"""Work requests."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nundine.services.exchange.forms import Cells


class RequestForm(BaseModel):
    title: str = Field(max_length=200)
    asset: str | None = Field(None, max_length=60)
    place: str = Field("", max_length=160)
    description: str = Field("", max_length=4000)
    urgency: Literal["now", "this week", "when it fits"] = "when it fits"


class RequestNumber(BaseModel):
    number: str


class RequestWord(BaseModel):
    """A word on a request that was seen at a revision: an answer, a question, a reason."""

    text: str = Field(max_length=2000)
    revision: int


class RequestSeen(BaseModel):
    revision: int


class RequestJoin(BaseModel):
    order: str = Field(max_length=40)
    revision: int


class RequestOrder(BaseModel):
    """The WO that a request becomes; cells that are empty are filled from the request."""

    order: Cells
    tasks: list[Cells] = Field(max_length=400)
    revision: int
