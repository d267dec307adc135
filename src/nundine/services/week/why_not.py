"""Why a job is not in the week, against the week as it stands."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.explain import Explainer
from nundine.services import wording
from nundine.services.week.state import WeekState
from nundine.services.work.gates import facts_of, shut_gates


@dataclass(frozen=True)
class FindingRow:
    """A finding in words, with its code and facts."""

    code: str
    text: str
    facts: dict[str, Any]


@dataclass(frozen=True)
class Why:
    job: str
    placed: bool
    reasons: list[FindingRow]
    would_help: list[FindingRow]


def why(state: WeekState, number: str) -> Why:
    """Reasons in facts, and what would let the job in, each tried against the week. Raises NotFound."""
    facts = facts_of(state, number)
    if any(p.job == number for p in state.placements):
        return Why(number, True, [], [])
    core_job = state.problem.job_by_id.get(number)
    if core_job is None:
        shut = [FindingRow(f"gate {g.gate}", g.text, {}) for g in shut_gates(state, facts)]
        if facts.elsewhere:
            shut.append(FindingRow("elsewhere", f"it stands in week {facts.elsewhere}", {}))
        return Why(number, False, shut, [])
    board = Board(state.draft)
    Draft(board, complete=False)
    kept = {k[0]: 99 for k, r in state.rows.items() if r["pinned"]}
    found = Explainer(board, kept).explain(core_job)
    return Why(
        number,
        False,
        [FindingRow(r.code, wording.reason(r, state.names), r.facts) for r in found.reasons],
        [FindingRow(h.code, wording.helps(h, state.names), h.facts) for h in found.would_help],
    )
