"""Histories and the audit."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, ConfigDict


class FieldLineShape(BaseModel):
    """One field of one record in words."""

    model_config = ConfigDict(from_attributes=True)

    record: str
    label: str
    before: str
    after: str


class DeedShape(BaseModel):
    """One entry of the ledger."""

    model_config = ConfigDict(from_attributes=True)

    id: int
    at: datetime
    by: str
    stream: str
    kind: str
    label: str
    lines: list[FieldLineShape]
    more: int


class Deeds(BaseModel):
    """A page of deeds, and how many there are in all."""

    model_config = ConfigDict(from_attributes=True)

    total: int
    rows: list[DeedShape]
