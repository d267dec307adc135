"""The gates of a WO: what must be true before it is ready for a week. Decided here, and once more in SQL for
lists.

A gate is open or shut for one week; a WO is ready when all five are open and it stands in no other open week.
Build takes ready WOs. By hand one whose tasks are known may be placed before its gates are open, and is
marked.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from nundine.core.finding import Finding

GATES = ("plan", "parts", "people", "window", "permit")
APPROVED = ("approved", "under way")
OPEN = ("planned", "approved", "under way")


@dataclass(frozen=True)
class WorkFacts:
    """What the gates look at.

    Parameters
    ----------
    planned
        Whether it has tasks with hours and crafts.
    parts_ready, parts_unknown
        The first day on which all parts are there (None = none are waited for); whether nobody knows
        that day.
    staffed
        Whether enough people on the roster have the crafts, levels and certificates.
    needs_stop, asset_free
        Whether a task needs the asset stopped; whether the asset may be stopped at some time of the week.
    elsewhere
        The other open week in which it stands.
    """

    state: str
    planned: bool
    parts_ready: date | None = None
    parts_unknown: bool = False
    permit: str = "not needed"
    staffed: bool = True
    needs_stop: bool = False
    asset_free: bool = True
    elsewhere: str | None = None


def gates(facts: WorkFacts, last_day: date) -> dict[str, bool]:
    """Each gate for a week whose last day is given: True = open."""
    parts = not facts.parts_unknown and (facts.parts_ready is None or facts.parts_ready <= last_day)
    return {
        "plan": facts.planned and facts.state in APPROVED,
        "parts": parts,
        "people": facts.staffed,
        "window": not facts.needs_stop or facts.asset_free,
        "permit": facts.permit != "waiting",
    }


def shut(facts: WorkFacts, last_day: date) -> tuple[Finding, ...]:
    """The gates that are shut, each with what is missing; the code is the gate."""
    return tuple(_missing(g, facts) for g, is_open in gates(facts, last_day).items() if not is_open)


def is_ready(facts: WorkFacts, last_day: date) -> bool:
    """Whether all gates are open and it stands in no other open week."""
    return all(gates(facts, last_day).values()) and facts.elsewhere is None


def may_be_placed(facts: WorkFacts) -> Finding | None:
    """Why it can not be placed even by hand; None if it can."""
    if facts.state not in OPEN:
        return Finding("state", {"state": facts.state})
    if not facts.planned:
        return Finding("plan", {"how": "no tasks"})
    if facts.elsewhere is not None:
        return Finding("elsewhere", {"week": facts.elsewhere})
    return None


def _missing(gate: str, facts: WorkFacts) -> Finding:
    if gate == "plan":
        return Finding(gate, {"how": "state", "state": facts.state} if facts.planned else {"how": "no tasks"})
    if gate == "parts":
        if facts.parts_unknown or facts.parts_ready is None:
            return Finding(gate, {"how": "unknown"})
        return Finding(gate, {"how": "late", "day": facts.parts_ready.isoformat()})
    return Finding(gate)
