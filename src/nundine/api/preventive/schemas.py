"""Preventive plans: forms, what is raised."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nundine.api.lists.schemas import QuestionForm
from nundine.api.moments import Day
from nundine.services.exchange.forms import Cells


class PreventiveForm(BaseModel):
    """A plan as text cells; `started`: the day on which the cycle of new services begins; `like`: the plan
    after whose pattern it is made."""

    plan: Cells
    started: Day | None = None
    revision: int | None
    like: str | None = Field(default=None, max_length=40)


class PreventiveDraft(BaseModel):
    plan: Cells
    started: Day | None = None


class PreventiveMove(BaseModel):
    to: str = Field(max_length=20)
    revision: int


class ServiceHold(BaseModel):
    asset: str = Field(max_length=60)
    held: bool


class RaisingDue(BaseModel):
    """Of the services that a question to their list finds; of all without one."""

    shown: QuestionForm | None = None


class PickedService(BaseModel):
    plan: str = Field(max_length=40)
    asset: str = Field(max_length=60)


class RaisingPicked(BaseModel):
    picked: list[PickedService] = Field(max_length=1000)


class PickedServices(BaseModel):
    picked: list[PickedService] = Field(max_length=2000)


class ManyServices(BaseModel):
    """What is done with services: `days` where they shift, `crew` where they are given, `day` where
    done, None = today, or where their last time is corrected; `comment` goes with what is
    done."""

    picked: list[PickedService] = Field(max_length=2000)
    act: Literal["hold", "take up", "shift", "give", "done", "last done"]
    days: int = 0
    crew: str = Field(default="", max_length=160)
    day: Day | None = None
    comment: str = Field(default="", max_length=2000)


class PutOff(BaseModel):
    plan: str = Field(max_length=40)
    asset: str = Field(max_length=60)
    to: Day
    reason: str = Field(default="", max_length=400)


class ServiceShift(BaseModel):
    plan: str = Field(max_length=40)
    asset: str = Field(max_length=60)
    day: Day
    to: Day


class ServiceShifts(BaseModel):
    shifts: list[ServiceShift] = Field(max_length=1000)


class PreventiveRow(BaseModel):
    """A meter or a shutdown as text cells by column; `revision` None makes it."""

    cells: Cells
    revision: int | None


class PreventiveRowRemoval(BaseModel):
    key: str = Field(max_length=60)
    revision: int


class ReadingForm(BaseModel):
    """What a meter showed, today where no day is said; `fresh`: the first of a meter that was put in the
    place of another."""

    meter: str = Field(max_length=40)
    day: Day | None = None
    value: float = Field(ge=0, le=10**9)
    fresh: bool = False
    remark: str = Field(default="", max_length=400)


class ReadingsForm(BaseModel):
    readings: list[ReadingForm] = Field(max_length=2000)


class ReadingKey(BaseModel):
    meter: str = Field(max_length=40)
    day: Day


class ShutdownMove(BaseModel):
    """Its days from now on; `trial` only asks what would move."""

    first: Day
    last: Day
    revision: int
    trial: bool = True


class PreventiveNumber(BaseModel):
    number: str
