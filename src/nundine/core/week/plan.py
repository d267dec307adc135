"""The week plan: what the engine answers (format `nundine-plan/1`)."""

from __future__ import annotations

from dataclasses import dataclass

from nundine.core.finding import Finding
from nundine.core.week.problem import Placement


@dataclass(frozen=True)
class NotPlaced:
    """Why a job is not in the week, and what would let it in; each claim was tried."""

    job: str
    reasons: tuple[Finding, ...]
    would_help: tuple[Finding, ...] = ()


@dataclass(frozen=True)
class WeekPlan:
    """`value` and `bound` in points, `gap` = (bound - value) / bound, `seconds` of computing."""

    week: str
    status: str
    value: float
    bound: float
    seconds: float
    placements: tuple[Placement, ...]
    not_placed: tuple[NotPlaced, ...] = ()
    conflicts: tuple[Finding, ...] = ()

    @property
    def gap(self) -> float:
        return max(0.0, (self.bound - self.value) / self.bound) if self.bound > 0 else 0.0
