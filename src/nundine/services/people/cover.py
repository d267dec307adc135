"""A person's work of a day in other hands: opened, or given to whoever can take it best."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from datetime import date

from nundine.core.week.cover import Left, cover
from nundine.core.week.problem import Seat
from nundine.services import wording
from nundine.services.errors import Refused
from nundine.services.ledger.edits import Edit
from nundine.services.people.names import name_of, people_names
from nundine.services.week.edits import replaced
from nundine.services.week.state import WeekState
from nundine.services.wording.phrases import day_words


def free_day(state: WeekState, person: str, day: date) -> Edit:
    """Open all seats of a person on a day."""
    chosen = [p for p in state.placements if p.day == day and any(s.id == person for s in p.people)]
    if not chosen:
        raise Refused("nothing", f"{name_of(person)} has no seat on {day_words(day)}.")
    new = [
        replace(p, people=tuple(Seat(None if s.id == person else s.id, s.craft) for s in p.people))
        for p in chosen
    ]
    return Edit(
        "free", f"Open the seats of {name_of(person)} on {day_words(day)}", replaced(state, new, hand=True)
    )


def cover_day(state: WeekState, person: str, day: date) -> Edit:
    """Give each seat of a person on a day to the best other person who can take it; what nobody can take
    stays and is told.

    Raises Refused, with why, where nobody can take any.
    """
    name, done = name_of(person), state.tasks_that_are("done")
    stay = {p.key for p in state.placements if p.key[:2] in done}
    found = cover(state.problem, state.placements, person, day, stay)
    if not found.given and not found.left:
        raise Refused("nothing", f"{name} has no seat on {day_words(day)}.")
    names = people_names()
    left = tuple(_left(one, names) for one in found.left)
    if not found.given:
        told = "; ".join(left[:3]) + (f"; and {len(left) - 3} more" if len(left) > 3 else "")
        raise Refused("nobody", f"Nobody can take any work of {name} on {day_words(day)}: {told}.")
    takers = Counter(who for _, who in found.given)
    to = ", ".join(f"{names[who]} {n}" if n > 1 else names[who] for who, n in takers.most_common(4))
    count = f"{len(found.given)} of {len(found.given) + len(found.left)} seats"
    label = f"Give {count} of {name} on {day_words(day)} to {to}" + (" and others" if len(takers) > 4 else "")
    changes = replaced(state, [one for one, _ in found.given], hand=True)
    return Edit("cover", label, changes, notes=left)


def _left(one: Left, names: dict[str, str]) -> str:
    work = f"{one.placement.job} task {one.placement.task}"
    return (
        f"{work} ({names[one.best]}: {wording.candidate(one.why, wording.PLAIN)})"
        if one.best and one.why
        else f"{work} (nobody else has its craft and level)"
    )
