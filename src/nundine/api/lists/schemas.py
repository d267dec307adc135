"""Questions to lists, and views, as they are sent."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from nundine.services.listing.asked import question_of
from nundine.services.listing.column import How
from nundine.services.listing.question import Question

Name = Annotated[str, Field(max_length=40)]
Value = Annotated[str, Field(max_length=200)]


class FilterForm(BaseModel):
    column: Name
    how: How
    values: list[Value] = Field([], max_length=200)


class SortForm(BaseModel):
    column: Name
    down: bool = False


class QuestionForm(BaseModel):
    """All rows that pass every filter and hold every word, in this order."""

    filters: list[FilterForm] = Field([], max_length=40)
    find: str = Field("", max_length=200)
    sort: list[SortForm] = Field([], max_length=4)
    group: Name | None = None

    def question(self) -> Question:
        return question_of(self.model_dump())


class ListFileForm(BaseModel):
    week: str | None = Field(None, max_length=20)
    of: str = Field("", max_length=60)
    question: QuestionForm
    columns: list[Name] = Field(max_length=100)
    format: Literal["csv", "xlsx", "pdf"]


class ViewBody(BaseModel):
    """What a view keeps: the question, the columns in their order, their widths in pixels, low rows."""

    question: QuestionForm
    columns: list[Name] = Field([], max_length=100)
    widths: dict[Name, int] = Field({}, max_length=100)
    dense: bool = False


class ViewForm(BaseModel):
    """`revision`: the one that was seen, of a view that there is."""

    title: str = Field(max_length=200)
    shared: bool = False
    role: Name | None = None
    body: ViewBody
    revision: int | None = None


class PinForm(BaseModel):
    on: bool
