"""Files in our own tables, in and out."""

from __future__ import annotations

from pydantic import BaseModel

from nundine.api.runs.schemas import RunShape


class RowErrorShape(BaseModel):
    file: str
    row: int | None
    column: str | None
    reason: str


class ImportReport(BaseModel):
    done: bool
    kinds: dict[str, dict[str, int]]
    errors: list[RowErrorShape]


class KindShape(BaseModel):
    name: str
    columns: list[str]


class ImportRun(BaseModel):
    """Files on their way in; the report when they are, or could not be."""

    run: RunShape
    report: ImportReport | None
