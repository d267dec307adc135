"""Asks of a week: worked out in the background, kept until the week changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from nundine.core.week.asks import asks
from nundine.core.week.building.build import Scope
from nundine.services import wording
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin, how_it_stands, newest, target_of_week
from nundine.services.background.working import Working, need_week
from nundine.services.week.builds import problem_to_build
from nundine.services.week.parts_sooner import naming_parts, with_late_parts
from nundine.services.week.state import WeekState, load_state
from nundine.store.account import Account
from nundine.store.run import Run

KIND, SECONDS = "asks", 20.0


def ask_for(state: WeekState, account: Account) -> Run:
    """Have the asks worked out by the worker. Raises Refused while that is being done."""
    name = state.week.name
    return begin(KIND, target_of_week(name), f"the asks of week {name}", account, _as_it_stands(state))


def _as_it_stands(state: WeekState) -> dict[str, Any]:
    return {"edits": state.week.edits, "mark": state.data_mark}


def _anew(run: Run) -> dict[str, Any]:
    return _as_it_stands(load_state(need_week(run.target)))


@background(KIND, busy="The asks of this week are being worked out already.", anew=_anew)
def run_asks(working: Working) -> dict[str, Any]:
    """What the worker does: asks around pins and hand work, also for parts that come too late, in the site's
    words."""
    state = with_late_parts(load_state(working.week))
    found = asks(problem_to_build(state, Scope()), state.placements, seconds=SECONDS)
    return {"asks": [wording.ask_document(naming_parts(a), state.names) for a in found]}


@dataclass(frozen=True)
class AskRow:
    """What could be asked for, in words. `value` (points) and `hours` are gained beside the asks before
    it; the totals are those of all up to this one."""

    code: Literal["window", "hours", "part", "tool", "put back", "lent"]
    text: str
    facts: dict[str, Any]
    value: float
    hours: float
    jobs: list[str]
    confirmed: bool
    total_value: float
    total_hours: float
    alternatives: list[AskRow]

    @classmethod
    def of(cls, kept: dict[str, Any]) -> AskRow:
        """As it was kept by the run that worked it out."""
        return cls(**{**kept, "alternatives": [cls.of(a) for a in kept.get("alternatives", ())]})


@dataclass(frozen=True)
class Asks:
    """`current`: the week has not changed since they were worked out."""

    state: Literal["none", "running", "ready", "failed"]
    asks: list[AskRow]
    current: bool
    error: str | None


def listed(state: WeekState) -> Asks:
    """The asks as last worked out, and whether the week has changed since."""
    found = newest(KIND, target_of_week(state.week.name))
    if found is None:
        return Asks("none", [], False, None)
    current = found.asked["edits"] == state.week.edits and found.asked["mark"] == state.data_mark
    result: dict[str, Any] = found.result or {}
    kept = result.get("asks", [])
    return Asks(how_it_stands(found), [AskRow.of(a) for a in kept], current, found.error)
