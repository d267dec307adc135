"""What the engine is asked and answers beside builds: mending, asks, its parameters."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nundine.api.week.schemas import AreaShape, Conflict, WorkableFigures


class MoveShape(BaseModel):
    kind: str
    job: str
    title: str
    text: str
    moves: int


class MendForm(BaseModel):
    put_in: list[str] = Field(default=[], max_length=50)


class StaysBroken(Conflict):
    """A rule that stays broken, and what keeps mending from repairing it."""

    why: str


class MendPreview(BaseModel):
    moves: list[MoveShape]
    count: int
    left: list[str]
    not_in: list[str]
    conflicts: list[StaysBroken]


class AskShape(BaseModel):
    """`value` and `hours` are gained beside the asks before it; the totals are those of all up to this
    one."""

    code: Literal["window", "hours", "part", "tool", "put back", "lent"]
    text: str
    facts: dict[str, Any]
    value: float
    hours: float
    jobs: list[str]
    confirmed: bool
    total_value: float = 0.0
    total_hours: float = 0.0
    alternatives: list[AskShape] = []


class Asks(BaseModel):
    state: Literal["none", "running", "ready", "failed"]
    asks: list[AskShape]
    current: bool
    error: str | None


class WeightsShape(BaseModel):
    must_per_hour: float
    must_per_job: float
    late_share_per_day: float
    overtime_per_hour: float
    waiting_per_hour: float
    waiting_cap_hours: float
    handover: float
    area_change: float
    away_per_hour: float


class WayShape(BaseModel):
    """Minutes from one area to another, the same both ways."""

    start: str
    end: str
    minutes: int


class PricesForm(BaseModel):
    """Prices of loose ends, in points."""

    waiting_per_hour: float
    waiting_cap_hours: float
    handover: float
    area_change: float
    away_per_hour: float


class BuiltFigures(WorkableFigures):
    jobs_placed: int


class Tidiness(BaseModel):
    """A week built by its prices now and by others; `current`: the week has not changed since."""

    state: Literal["none", "running", "ready", "failed"]
    prices: PricesForm | None
    now: BuiltFigures | None
    then: BuiltFigures | None
    current: bool
    error: str | None


class CraftShare(BaseModel):
    key: str
    name: str
    held_back: float


class KeepDays(BaseModel):
    """Days for which events, plans of builds and crew sheets are kept."""

    events: int
    plans: int
    sheets: int


class Parameters(BaseModel):
    revision: int
    seconds: float
    weights: WeightsShape
    reasons: list[str]
    keep_days: KeepDays
    crafts: list[CraftShare]
    areas: list[AreaShape]
    usual_prices: PricesForm
    ways: list[WayShape]


class ParametersForm(BaseModel):
    revision: int | None = None
    seconds: float
    weights: WeightsShape
    held_back: dict[str, float]
    reasons: list[str] = Field([], max_length=200)
    keep_days: KeepDays | None = None
    ways: list[WayShape] | None = Field(None, max_length=2000)
