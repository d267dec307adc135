"""The gates of a WO: what must be true before it is ready for a week. Decided here, and once more in SQL for
lists.

A gate is open or shut for one week; a WO is ready when all five are open and it stands in no other open week.
Build takes ready WOs. By hand one whose tasks are known may be placed before its gates are open, and is
marked.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

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


@dataclass(frozen=True)
class Shut:
    """A gate that is shut, and what would open it."""

    gate: str
    text: str


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


def shut(facts: WorkFacts, last_day: date) -> tuple[Shut, ...]:
    """The gates that are shut, each with what is missing."""
    return tuple(Shut(g, _missing(g, facts)) for g, is_open in gates(facts, last_day).items() if not is_open)


def is_ready(facts: WorkFacts, last_day: date) -> bool:
    """Whether all gates are open and it stands in no other open week."""
    return all(gates(facts, last_day).values()) and facts.elsewhere is None


def may_be_placed(facts: WorkFacts) -> str | None:
    """Why it can not be placed even by hand; None if it can."""
    if facts.state not in OPEN:
        return f"it is {facts.state}"
    if not facts.planned:
        return "it has no tasks with hours and crafts yet"
    if facts.elsewhere is not None:
        return f"it stands in week {facts.elsewhere}; take it out there first"
    return None


def _missing(gate: str, facts: WorkFacts) -> str:
    if gate == "plan":
        if not facts.planned:
            return "it has no tasks with hours and crafts yet"
        return f"it is {facts.state}; it has to be approved first"
    if gate == "parts":
        when = (
            f"{facts.parts_ready:%a} {facts.parts_ready.day} {facts.parts_ready:%b}"
            if facts.parts_ready
            else ""
        )
        return (
            "nobody knows when its parts come"
            if facts.parts_unknown
            else f"its parts come on {when}, after this week"
        )
    return {
        "people": "too few people on the roster have the crafts, levels or certificates that it needs",
        "window": "its asset has no work window in this week",
        "permit": "its permit has not been granted",
    }[gate]
