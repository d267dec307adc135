"""A person's work of a day, or of several, in other hands: opened, or given to whoever can take it best."""

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


def _days(state: WeekState, first: date, last: date | None) -> tuple[set[date], str]:
    """The days of the week from the first to the last, and how they are said."""
    end = max(last or first, first)
    said = f"on {day_words(first)}" if end == first else f"from {day_words(first)} to {day_words(end)}"
    return {d for d in state.problem.days if first <= d <= end}, said


def free_days(state: WeekState, person: str, first: date, last: date | None = None) -> Edit:
    """Open all seats of a person on a day, or on all days to `last`."""
    days, said = _days(state, first, last)
    done = state.tasks_that_are("done")
    chosen = [
        p
        for p in state.placements
        if p.day in days and p.key[:2] not in done and any(s.id == person for s in p.people)
    ]
    if not chosen:
        raise Refused("nothing", f"{name_of(person)} has no seat {said} that could be opened.")
    new = [
        replace(p, people=tuple(Seat(None if s.id == person else s.id, s.craft) for s in p.people))
        for p in chosen
    ]
    return Edit("free", f"Open the seats of {name_of(person)} {said}", replaced(state, new, hand=True))


def cover_days(state: WeekState, person: str, first: date, last: date | None = None) -> Edit:
    """Give each seat of a person on a day, or on all days to `last`, to the best other person who can take
    it; what nobody can take stays and is told.

    Raises Refused, with why, where nobody can take any.
    """
    name, done = name_of(person), state.tasks_that_are("done")
    days, said = _days(state, first, last)
    stay = {p.key for p in state.placements if p.key[:2] in done}
    found = cover(state.problem, state.placements, person, days, stay)
    if not found.given and not found.left:
        raise Refused("nothing", f"{name} has no seat {said}.")
    names = people_names()
    left = tuple(_left(one, names) for one in found.left)
    if not found.given:
        told = "; ".join(left[:3]) + (f"; and {len(left) - 3} more" if len(left) > 3 else "")
        raise Refused("nobody", f"Nobody can take any work of {name} {said}: {told}.")
    takers = Counter(who for _, who in found.given)
    to = ", ".join(f"{names[who]} {n}" if n > 1 else names[who] for who, n in takers.most_common(4))
    count = f"{len(found.given)} of {len(found.given) + len(found.left)} seats"
    label = f"Give {count} of {name} {said} to {to}" + (" and others" if len(takers) > 4 else "")
    changes = replaced(state, [one for one, _ in found.given], hand=True)
    return Edit("cover", label, changes, notes=left)


def _left(one: Left, names: dict[str, str]) -> str:
    work = f"{one.placement.job} task {one.placement.task}"
    return (
        f"{work} ({names[one.best]}: {wording.candidate(one.why, wording.PLAIN)})"
        if one.best and one.why
        else f"{work} (nobody else has its craft and level)"
    )
