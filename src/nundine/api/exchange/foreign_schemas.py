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
    make: list[Literal["asset", "area", "craft"]] = []


class MappingForm(BaseModel):
    mapping: MappingShape


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
