"""Moves of records past their guards: refused in words that name the guard, offered with what stands in their
way."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from nundine.core.lifecycle import HAND, LIFECYCLES, Blocked, Facts
from nundine.services.errors import Refused

SHOWN = 3


@dataclass(frozen=True)
class Offer:
    """A state to which a record may go by hand, and in words what stands in the way; None if nothing does."""

    to: str
    why: str | None


def need_move(noun: str, name: str, start: str, end: str, facts: Facts, by: str = HAND) -> None:
    """Raises Refused, naming the guard, if a record may not go from one state to another."""
    blocked = LIFECYCLES[noun].blocked(start, end, by, facts)
    if blocked is not None:
        raise Refused(
            "state" if blocked.guard is None else "guard",
            words(blocked, name),
            field=LIFECYCLES[noun].state,
            guard=blocked.guard,
            **blocked.facts,
        )


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
    f: dict[str, Any] = blocked.facts
    if blocked.guard is None:
        return (
            f"{name} is {blocked.start}; it can become {' or '.join(blocked.ends) or 'nothing else by hand'}."
        )
    then = "cancel" if blocked.end == "cancelled" else "hold"
    told = {
        "in no week": f"{name} is placed in {f.get('week')}. Take it out there first, then {then} it.",
        "nothing refused": f"Operations refused {_listed(f.get('refused'))}. "
        "Move or take out what was refused, then agree the week.",
        "something placed": "Nothing is placed in this week, so there is nothing to publish.",
        "earlier tasks finished": f"{name} comes after task {_listed(f.get('earlier'))}, which is not done.",
        "later tasks not begun": f"Task {_listed(f.get('later'))} comes after {name} and has begun.",
        "every miss with its reason": f"Say why these were not finished: {_listed(f.get('without'))}.",
        "over, or said to be closed early": f"{f.get('ahead')} h of the week still lie ahead. "
        "Say that it is to be closed all the same, or wait.",
    }
    return told[blocked.guard]


def _listed(names: Any) -> str:
    listed = sorted(names or ())
    more = f" and {len(listed) - SHOWN} more" if len(listed) > SHOWN else ""
    return ", ".join(listed[:SHOWN]) + more
