"""Job plans."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nundine.services.exchange.forms import Cells


class PlanForm(BaseModel):
    """A plan and its tasks as text cells; `revision` None makes a new one."""

    plan: Cells
    tasks: list[Cells] = Field(max_length=400)
    revision: int | None


class PlanNumber(BaseModel):
    number: str


class PlanMove(BaseModel):
    to: str = Field(max_length=20)
    revision: int


class PlanHours(BaseModel):
    """Tasks whose suggested hours are accepted."""

    tasks: list[str] = Field(max_length=400)
    revision: int


class PlanOfOrder(BaseModel):
    """The WO as it was seen."""

    revision: int
