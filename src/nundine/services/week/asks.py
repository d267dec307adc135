"""Asks of a week: worked out in the background, kept until the week changes."""

from __future__ import annotations

from typing import Any

from nundine.core.week.asks import Ask, asks
from nundine.core.week.building.build import Scope
from nundine.services.background.runs import begin, how_it_stands, newest, work_on
from nundine.services.week.builds import problem_to_build
from nundine.services.week.state import WeekState, load_state
from nundine.services.wording import Speaker
from nundine.store.account import Account
from nundine.store.week import Build

SECONDS = 20.0


def ask_for(state: WeekState, account: Account) -> Build:
    """Have the asks worked out by the worker. Raises Refused while that is being done."""
    asked = {"kind": "asks", "edits": state.week.edits, "mark": state.data_mark}
    return begin(state.week, account, asked, "The asks of this week are being worked out already.")


def run_asks(build_id: int) -> None:
    """What the worker does: asks around pins and hand work, in the site's words."""

    def work(row: Build) -> tuple[str, dict[str, Any]]:
        speak, state = Speaker(), load_state(row.week.name)
        found = asks(problem_to_build(state, Scope()), state.placements, seconds=SECONDS)
        return "accepted", {"asks": [_told(a, speak) for a in found]}

    work_on(build_id, "asks", work)


def _told(ask: Ask, speak: Speaker) -> dict[str, Any]:
    """An ask as it is kept: in the site's words, with its alternatives."""
    others = [_told(other, speak) for other in ask.alternatives]
    return {**vars(ask), "jobs": list(ask.jobs), "text": speak(ask.text, ask.facts), "alternatives": others}


def listed(state: WeekState) -> dict[str, Any]:
    """The asks as last worked out, and whether the week has changed since."""
    found = newest(state.week, "asks")
    if found is None:
        return {"state": "none", "asks": [], "current": False, "error": None}
    current = found.asked["edits"] == state.week.edits and found.asked["mark"] == state.data_mark
    result: dict[str, Any] = found.result or {}
    stands, error = how_it_stands(found, "The worker went away. Work the asks out again.")
    return {
        "state": stands,
        "asks": result.get("asks", []),
        "current": current,
        "error": error,
    }
