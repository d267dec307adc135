"""What the engine is asked and answers beside builds: mending, asks, its parameters."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nundine.services.week.overview import AreaName


class MendForm(BaseModel):
    put_in: list[str] = Field(default=[], max_length=50)


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


class CraftShare(BaseModel):
    key: str
    name: str
    held_back: float
    rate: float


class KeepDays(BaseModel):
    """Days for which events, plans of builds and crew sheets are kept."""

    events: int
    plans: int
    sheets: int


class RoleLimit(BaseModel):
    """Up to which amount a role approves buying; null = nothing."""

    role: str
    limit: float | None


class Parameters(BaseModel):
    revision: int
    seconds: float
    weights: WeightsShape
    reasons: list[str]
    keep_days: KeepDays
    crafts: list[CraftShare]
    areas: list[AreaName]
    usual_prices: PricesForm
    ways: list[WayShape]
    currency: str
    sheets_to: list[str]
    approvals: list[RoleLimit]


class ParametersForm(BaseModel):
    revision: int | None = None
    seconds: float
    weights: WeightsShape
    held_back: dict[str, float]
    reasons: list[str] = Field([], max_length=200)
    keep_days: KeepDays | None = None
    ways: list[WayShape] | None = Field(None, max_length=2000)
    rates: dict[str, float] = {}
    currency: str | None = Field(None, max_length=20)
    sheets_to: list[str] | None = Field(None, max_length=50)
    approvals: dict[str, float] | None = Field(None, max_length=40)
