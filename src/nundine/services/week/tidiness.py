"""What other prices of loose ends would bring on a week: it is built twice, by the prices as they are and as
they would be."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from typing import Any, Literal

from nundine.core.week.building.build import Limits, Scope, build
from nundine.core.week.problem import PRICE_NAMES, WeekProblem, Weights
from nundine.services.admin.setup import within_limits
from nundine.services.background.courtesy import stand_aside
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin, how_it_stands, newest, target_of_week
from nundine.services.background.working import Working
from nundine.services.week import workable
from nundine.services.week.builds import problem_to_build
from nundine.services.week.state import WeekState, load_state
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.run import Run

KIND, SECONDS = "tidiness", 8.0
"""For each of the two builds."""


def ask_for(state: WeekState, account: Account, prices: dict[str, float]) -> Run:
    """Have a week built by its prices and by these. Raises Refused for a price out of range, and while that
    is being done."""
    within_limits(prices)
    name = state.week.name
    asked = {"edits": state.week.edits, "mark": state.data_mark, "prices": prices}
    return begin(KIND, target_of_week(name), f"week {name} by other prices", account, asked)


@background(KIND, busy="This week is being built by other prices already.", anew=None)
def run_tidiness(working: Working) -> dict[str, Any]:
    """What the worker does: both builds around pins and hand work, and how each could be worked."""
    state = load_state(working.week)
    problem = problem_to_build(state, Scope())
    then = replace(problem.weights, **working.asked["prices"])
    now = _built(state, problem, problem.weights)
    return {"now": now, "then": _built(state, problem, then)}


def _built(state: WeekState, problem: WeekProblem, weights: Weights) -> dict[str, Any]:
    plan = build(
        replace(problem, weights=weights),
        limits=Limits(SECONDS, aside=stand_aside),
        helps=False,
        known_bound=float("inf"),
        workers=settings().workers,
    )
    figures = workable.figures_with(state, plan.placements)
    return {**asdict(figures), "jobs_placed": len({p.job for p in plan.placements})}


@dataclass(frozen=True)
class BuiltFigures(workable.WorkableFigures):
    """How a week that was built can be worked, and how many jobs it holds."""

    jobs_placed: int

    @classmethod
    def of(cls, kept: dict[str, Any] | None) -> BuiltFigures | None:
        """As they were kept by the run that built it."""
        return cls(**{**kept, "prices": workable.PricesPaid(**kept["prices"])}) if kept else None


@dataclass(frozen=True)
class Prices:
    """Prices of loose ends, in points."""

    waiting_per_hour: float
    waiting_cap_hours: float
    handover: float
    area_change: float
    away_per_hour: float


@dataclass(frozen=True)
class Tidiness:
    """A week built by its prices now and by others; `current`: the week has not changed since."""

    state: Literal["none", "running", "ready", "failed"]
    prices: Prices | None
    now: BuiltFigures | None
    then: BuiltFigures | None
    current: bool
    error: str | None


def told(state: WeekState) -> Tidiness:
    """What was found last, for which prices, and whether the week has changed since."""
    found = newest(KIND, target_of_week(state.week.name))
    if found is None:
        return Tidiness("none", None, None, None, False, None)
    result: dict[str, Any] = found.result or {}
    usual = asdict(state.problem.weights)
    return Tidiness(
        how_it_stands(found),
        Prices(**{n: found.asked["prices"].get(n, usual[n]) for n in PRICE_NAMES}),
        BuiltFigures.of(result.get("now")),
        BuiltFigures.of(result.get("then")),
        found.asked["edits"] == state.week.edits and found.asked["mark"] == state.data_mark,
        found.error,
    )
