"""The priority index of a work order: asset criticality x kind of work, plus ageing.

Source: the product of a criticality 1-10 and a work class 1-10 is the Ranking Index for Maintenance
Expenditures (RIME), a public method described in the trade's textbooks since the 1960s (source from memory).
Ageing so that small jobs are not passed over for ever: common practice, no source.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from types import MappingProxyType

KINDS = ("statutory", "safety", "breakdown", "corrective", "preventive", "improvement", "project")
URGENCIES = ("now", "this week", "when it fits")
"""How soon a need wants looking after, as whoever reports it says."""

DEFAULT_KIND_WEIGHTS: Mapping[str, float] = MappingProxyType(
    {
        "statutory": 9,
        "safety": 10,
        "breakdown": 8,
        "corrective": 6,
        "preventive": 7,
        "improvement": 3,
        "project": 4,
    }
)


@dataclass(frozen=True)
class PriorityWeights:
    """What the site may set. Ageing in points a week, up to a cap."""

    kinds: Mapping[str, float] = field(default_factory=lambda: DEFAULT_KIND_WEIGHTS)
    ageing_per_week: float = 1.0
    ageing_cap: float = 15.0

    def __post_init__(self) -> None:
        """Raises ValueError for a weight outside 1-10 or a negative ageing."""
        for kind, weight in self.kinds.items():
            if not 1 <= weight <= 10:
                raise ValueError(f"weight of {kind} must lie between 1 and 10, not {weight}")
        if self.ageing_per_week < 0 or self.ageing_cap < 0:
            raise ValueError("ageing can not be negative")


@dataclass(frozen=True)
class PriorityParts:
    """What a priority is made of: criticality 1-10 times the weight of the kind, points for its age, and what
    a planner added or took off by hand."""

    criticality: int
    kind_weight: float
    ageing: float
    correction: float

    @property
    def index(self) -> float:
        """Points to one decimal, never below 0."""
        return max(0.0, round(self.criticality * self.kind_weight + self.ageing + self.correction, 1))


MOST_CORRECTION = 100.0
"""Points by which a priority may be corrected, up or down."""


def priority_parts(
    criticality: int, kind: str, raised: date, today: date, weights: PriorityWeights, correction: float = 0.0
) -> PriorityParts:
    """The priority of a job, part by part.

    Raises
    ------
    ValueError
        If the criticality is not 1-10, the kind of work has no weight, or the correction is too large.
    """
    if not 1 <= criticality <= 10:
        raise ValueError(f"criticality must lie between 1 and 10, not {criticality}")
    if kind not in weights.kinds:
        raise ValueError(f"{kind!r} is no kind of work; kinds are {', '.join(weights.kinds)}")
    if abs(correction) > MOST_CORRECTION:
        raise ValueError(f"a correction lies between -{MOST_CORRECTION:g} and {MOST_CORRECTION:g}")
    weeks = max(0, (today - raised).days) / 7
    ageing = min(weights.ageing_cap, weeks * weights.ageing_per_week)
    return PriorityParts(criticality, weights.kinds[kind], ageing, correction)


def priority_index(
    criticality: int, kind: str, raised: date, today: date, weights: PriorityWeights, correction: float = 0.0
) -> float:
    """Priority of a job: 1-100, plus ageing and what was corrected by hand, to one decimal. Raises ValueError
    as `priority_parts` does."""
    return priority_parts(criticality, kind, raised, today, weights, correction).index
