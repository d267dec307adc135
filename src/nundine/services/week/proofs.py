"""Proofs of bounds: asked for by the weeks that are looked at, at most one a week and a few at all, done one
after another."""

from __future__ import annotations

from typing import Any

from nundine.core.week.bound.prove import proven_within
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin, target_of_week
from nundine.services.background.working import Working
from nundine.services.database_trouble import need_room
from nundine.services.errors import Refused
from nundine.services.week.builds import PROVE_SECONDS, keep_bound
from nundine.services.week.state import WeekState, load_state
from nundine.store.run import GOING, Run

KIND = "bound"
MOST = 4
"""Weeks whose proof may wait or be under way; who looks at another meanwhile has it proven when it is looked
at again."""


def ask(state: WeekState) -> Run | None:
    """A proof for the worker: the bound of a week that is looked at is not known, and its proof fits in."""
    if not state.problem.jobs or state.week.bound_of == state.data_mark or state.week.status == "closed":
        return None
    going = [r.target for r in Run.select(Run.target).where((Run.kind == KIND) & Run.state.in_(GOING))]
    name = state.week.name
    if len(going) >= MOST or target_of_week(name) in going:
        return None
    try:
        need_room()
        return begin(KIND, target_of_week(name), f"the bound of week {name}", None, {})
    except Refused:
        return None  # somebody else looked at it at this moment, or the disk is full: it can still be read


@background(KIND, busy="The bound of this week is being proven already.", alone=True)
def prove(working: Working) -> dict[str, Any]:
    """Prove the bound of the free week for the people and work as they are now."""
    state = load_state(working.week)
    if state.week.bound_of != state.data_mark:
        keep_bound(state.week, proven_within(state.problem, PROVE_SECONDS), state.data_mark)
    return {}
