"""Why a job is not in the week, against the week as it stands."""

from __future__ import annotations

from typing import Any

from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.explain import Explainer
from nundine.core.week.files import not_placed_document
from nundine.services import wording
from nundine.services.week.state import WeekState
from nundine.services.work import backlog


def why(state: WeekState, number: str) -> dict[str, Any]:
    """Reasons in facts, and what would let the job in, each tried against the week."""
    job = backlog.whole_job(state, number)
    if job["placements"]:
        return {"job": number, "placed": True, "reasons": [], "would_help": []}
    core_job = state.problem.job_by_id.get(number)
    if core_job is None:
        shut = [{"code": f"gate {g['gate']}", "text": g["text"], "facts": {}} for g in job["shut"]]
        if job["elsewhere"]:
            shut.append({"code": "elsewhere", "text": f"it stands in week {job['elsewhere']}", "facts": {}})
        return {"job": number, "placed": False, "reasons": shut, "would_help": []}
    board = Board(state.draft)
    Draft(board, complete=False)
    kept = {k[0]: 99 for k, r in state.rows.items() if r["pinned"]}
    found = Explainer(board, kept).explain(core_job)
    return {"placed": False, **not_placed_document(found, wording.in_words(state.names))}
