"""Exports of other systems on their way in."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

Style = Literal["dmy", "mdy", "ymd"]


class MappingShape(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: str = Field(max_length=80)
    columns: dict[str, str]
    dates: Style | None
    decimals: Literal[",", "."] | None
    unit: Literal["h", "min"]
    hours_are: Literal["elapsed", "work"]
    chain: bool
    values: dict[str, dict[str, str]]
    defaults: dict[str, str]


class ColumnShape(BaseModel):
    name: str
    samples: list[str]


class FieldShape(BaseModel):
    name: str
    label: str


class Opened(BaseModel):
    id: int
    file: str
    title: str
    read_as: str
    rows: int
    columns: list[ColumnShape]
    fields: list[FieldShape]
    mapping: MappingShape
    saved: str | None
    meanings: dict[str, list[str]]


class MappingForm(BaseModel):
    mapping: MappingShape


class ChoiceShape(BaseModel):
    value: str
    label: str


class QuestionShape(BaseModel):
    what: Literal["dates", "decimals"]
    text: str
    choices: list[ChoiceShape]


class WordShape(BaseModel):
    field: str
    label: str
    word: str
    rows: int


class ProblemRow(BaseModel):
    row: int
    column: str
    text: str
    number: str | None


class UnderstoodTask(BaseModel):
    task: str
    title: str
    hours: float
    needs: str
    after: str


class UnderstoodOrder(BaseModel):
    number: str
    row: int
    fields: dict[str, str]
    tasks: list[UnderstoodTask]


class ForeignPreview(BaseModel):
    questions: list[QuestionShape]
    words: list[WordShape]
    problems: list[ProblemRow]
    bad_rows: int
    notes: list[str]
    orders: int
    tasks: int
    rows: list[UnderstoodOrder]


class DecisionShape(BaseModel):
    new: bool = True
    changed: bool = True
    both: Literal["ours", "theirs"] = "ours"
    vanished: Literal["leave", "on hold", "cancelled", "done"] = "leave"
    fields: list[str] = Field(default=[], max_length=40)
    without_bad_rows: bool = False


class DecidedForm(BaseModel):
    mapping: MappingShape
    decision: DecisionShape = DecisionShape()


class TitledOrder(BaseModel):
    number: str
    title: str
    week: str | None = None


class ChangeLine(BaseModel):
    field: str
    what: str
    before: str
    after: str
    by_hand: bool


class ChangedOrder(TitledOrder):
    lines: list[ChangeLine]


class FieldCount(BaseModel):
    name: str
    label: str
    count: int


class ForeignDifference(BaseModel):
    new: list[TitledOrder]
    new_count: int
    changed: list[ChangedOrder]
    changed_count: int
    unchanged: int
    kept: int
    both: int
    fields: list[FieldCount]
    vanished: list[TitledOrder]
    vanished_count: int


class BroughtIn(BaseModel):
    new: int
    changed: int
    unchanged: int
    kept: int
    vanished: int
    vanished_as: str
    marked: int


class BringingShape(BaseModel):
    id: int
    file: str
    state: Literal["new", "waiting", "working", "done", "failed", "stopped"]
    progress: float
    result: BroughtIn | None
    error: str | None


class MarkLine(ChangeLine):
    source: str
    at: str
