"""Moves of records past their guards: refused in words that name the guard, offered with what stands in their
way."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import Any

from nundine.core.lifecycle import (
    EARLIER_FINISHED,
    HAND,
    IN_NO_WEEK,
    LATER_NOT_BEGUN,
    LIFECYCLES,
    NOTHING_CAME,
    NOTHING_ORDERED,
    NOTHING_REFUSED,
    OVER_OR_SAID,
    SOMETHING_PLACED,
    WITH_LINES,
    WITH_REASONS,
    WITH_WO,
    WITHIN_LIMIT,
    Blocked,
    Facts,
    Guard,
)
from nundine.services.errors import Refused
from nundine.services.wording.phrases import all_of, some_of


@dataclass(frozen=True)
class Offer:
    """A state to which a record may go by hand, and in words what stands in the way; None if nothing does."""

    to: str
    why: str | None


def need_move(noun: str, name: str, start: str, end: str, facts: Facts, by: str = HAND) -> None:
    """Raises Refused, naming the guard, if a record may not go from one state to another."""
    cycle = LIFECYCLES[noun]
    blocked = cycle.blocked(start, end, by, facts)
    if blocked is None:
        return
    if blocked.guard is None:
        raise Refused("state", words(blocked, name), field=cycle.state)
    raise _refusal(blocked.guard, words(blocked, name), blocked.facts, field=cycle.state)


def need(guard: Guard, name: str, facts: Facts, **more: Any) -> None:
    """Raises Refused if one guard does not hold, for a move of many records at once; `more` is told with
    it."""
    if not guard.holds(facts):
        looked_at = guard.looked_at(facts)
        raise _refusal(guard, _told(guard, name, looked_at, ""), looked_at, **more)


def _refusal(guard: Guard, text: str, facts: dict[str, Any], **more: Any) -> Refused:
    return Refused(guard.code, text, **{**facts, "guard": guard.name, **more})


def offers(noun: str, name: str, start: str, facts: Facts) -> list[Offer]:
    """Where a record may go by hand, each with what stands in the way."""
    cycle = LIFECYCLES[noun]
    out = []
    for end in cycle.ends(start, HAND):
        blocked = cycle.blocked(start, end, HAND, facts)
        out.append(Offer(end, words(blocked, name) if blocked else None))
    return out


def words(blocked: Blocked, name: str) -> str:
    """Why a move may not be made, and what to do."""
    if blocked.guard is None:
        ends = " or ".join(blocked.ends) or "nothing else by hand"
        return f"{name} is {blocked.start}; it can become {ends}."
    return _told(blocked.guard, name, blocked.facts, blocked.end)


def _told(guard: Guard, name: str, facts: dict[str, Any], end: str) -> str:
    """What stands in the way of a record, or of several of a job, and what to do."""
    f = defaultdict(list, facts)
    earlier, later = list(f["earlier"]), list(f["later"])
    then = "cancel" if end == "cancelled" else "hold"
    return {
        IN_NO_WEEK: f"{name} is placed in {f['week']}. Take it out there first, then {then} it.",
        NOTHING_REFUSED: f"Operations refused {some_of(sorted(f['refused']))}. "
        "Move or take out what was refused, then agree the week.",
        SOMETHING_PLACED: "Nothing is placed in this week, so there is nothing to publish.",
        EARLIER_FINISHED: f"{name} comes after task {all_of(earlier)}, which {_is(earlier)} not done. "
        f"Report {_them(earlier)} first, or take {_them(earlier)} along as done.",
        LATER_NOT_BEGUN: f"{f['job']} task {all_of(later)} comes after {name} and {_is(later)} begun or "
        f"done. Open {_them(later)} again first, or together.",
        WITH_REASONS: f"Say why these were not finished: {some_of(f['without'])}.",
        WITH_WO: f"Make a WO of {name}, or join it to one; then it is in work.",
        WITH_LINES: f"Nothing stands in {name} yet. Put a line into it, with a price of one in each.",
        WITHIN_LIMIT: f"{name} comes to {f['beyond']}, and you may approve up to {f['limit'] or 0}. "
        "Somebody with a higher limit approves it.",
        NOTHING_CAME: f"Some of {name} was received. Say of its lines that nothing more is awaited.",
        NOTHING_ORDERED: f"Some of {name} is ordered. Take it off its order first.",
        OVER_OR_SAID: f"{f['ahead']} h of the week still lie ahead, with {f['placements']} placements in "
        "them. Say that it is to be closed all the same, or wait.",
    }[guard]


def _is(names: list[str]) -> str:
    return "is" if len(names) == 1 else "are"


def _them(names: list[str]) -> str:
    return "it" if len(names) == 1 else "them"
