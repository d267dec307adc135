"""Asks of a week: worked out in the background, kept until the week changes."""

from __future__ import annotations

from typing import Any

from nundine.core.week.asks import asks
from nundine.core.week.building.build import Scope
from nundine.services import wording
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin, how_it_stands, newest, target_of_week
from nundine.services.background.working import Working, need_week
from nundine.services.week.builds import problem_to_build
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
    """What the worker does: asks around pins and hand work, in the site's words."""
    state = load_state(working.week)
    found = asks(problem_to_build(state, Scope()), state.placements, seconds=SECONDS)
    return {"asks": [wording.ask_document(a, state.names) for a in found]}


def listed(state: WeekState) -> dict[str, Any]:
    """The asks as last worked out, and whether the week has changed since."""
    found = newest(KIND, target_of_week(state.week.name))
    if found is None:
        return {"state": "none", "asks": [], "current": False, "error": None}
    current = found.asked["edits"] == state.week.edits and found.asked["mark"] == state.data_mark
    result: dict[str, Any] = found.result or {}
    return {
        "state": how_it_stands(found),
        "asks": result.get("asks", []),
        "current": current,
        "error": found.error,
    }
