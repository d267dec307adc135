"""What Publish and Run show."""

from __future__ import annotations

from pydantic import BaseModel, Field


class CloseForm(BaseModel):
    """`early`: close it although hours of the week lie ahead."""

    why: dict[str, str] = Field(max_length=2000)
    into_next: list[str] = Field(max_length=2000)
    early: bool = False


class ReopenForm(BaseModel):
    reason: str = Field(max_length=200)


class CommandShape(BaseModel):
    seq: int
    at: str
    by: str
    label: str
    undone: bool
