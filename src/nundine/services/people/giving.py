"""A selection of work given to one person, or to a crew: what it would bring, and the edit that does it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nundine.core.week.check import check
from nundine.core.week.cover import Cover, Left
from nundine.core.week.giving import NEVER, give_all
from nundine.core.week.load import BY_PERSON, tanks
from nundine.core.week.problem import Placement
from nundine.services import wording
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.edits import Edit
from nundine.services.people.names import people_names
from nundine.services.week.edits import replaced
from nundine.services.week.overview import conflict_of
from nundine.services.week.state import WeekState
from nundine.store.placement import Key


@dataclass(frozen=True)
class Chosen:
    """Jobs whose work of the week is given; of them only placements with `keys`, where some are named."""

    jobs: Sequence[str]
    keys: Sequence[Key] = ()


@dataclass(frozen=True)
class Taker:
    """Exactly one of them is named."""

    person: str | None = None
    crew: str | None = None


@dataclass(frozen=True)
class TakerDay:
    """Hours there, and placed before and after."""

    day: str
    there: float
    before: float
    after: float


@dataclass(frozen=True)
class TakerHours:
    person: str
    name: str
    seats: int
    days: list[TakerDay]


@dataclass(frozen=True)
class NotGiven:
    """Work that stays as it is, and why; `could`: it would be given all the same if one says so."""

    job: str
    task: str
    day: str
    why: str
    could: bool


@dataclass(frozen=True)
class GivingPreview:
    """Seats that would be given, hours of the takers by day, rules that would be broken anew, and what
    stays."""

    seats: int
    takers: list[TakerHours]
    breaks: list[str]
    left: list[NotGiven]


def _people(state: WeekState, to: Taker) -> set[str]:
    """Keys of the takers. Raises Refused or NotFound."""
    if (to.person is None) == (to.crew is None):
        raise Refused("taker", "Say who is to take it: one person, or one crew.", field="person")
    known = state.problem.people
    found = {p.id for p in known if p.id == to.person or (to.crew is not None and p.crew == to.crew)}
    if not found:
        raise NotFound("person", f"There is no {'person' if to.person else 'crew'} {to.person or to.crew}.")
    return found


def _given(state: WeekState, chosen: Chosen, to: Taker, despite: bool) -> Cover:
    """Who takes what. Raises Refused where nothing of it is in the week."""
    people, jobs, keys = _people(state, to), set(chosen.jobs), set(chosen.keys)
    there = [p.key for p in state.placements if p.job in jobs and (not keys or p.key in keys)]
    if not there:
        raise Refused("nothing", "Nothing of what is chosen is in this week.", field="jobs")
    done = state.tasks_that_are("done", "skipped")
    stay = {key for key in there if key[:2] in done}
    return give_all(state.problem, state.placements, there, people, stay, despite)


def _with(state: WeekState, found: Cover) -> tuple[Placement, ...]:
    new = {one.key: one for one, _ in found.given}
    return tuple(new.get(p.key, p) for p in state.placements)


def preview(state: WeekState, chosen: Chosen, to: Taker, despite: bool = False) -> GivingPreview:
    """What giving would bring, without doing it."""
    found, names = _given(state, chosen, to, despite), people_names()
    after = _with(state, found)
    seats: dict[str, int] = {}
    for _, who in found.given:
        seats[who] = seats.get(who, 0) + 1
    was, will = (tanks(state.problem, p, BY_PERSON) for p in (state.placements, after))
    takers = [
        TakerHours(
            who,
            names[who],
            seats[who],
            [
                TakerDay(
                    day.isoformat(),
                    round(will[(who, day)].available, 2),
                    round(was[(who, day)].load, 2),
                    round(will[(who, day)].load, 2),
                )
                for day in state.problem.days
            ],
        )
        for who in sorted(seats, key=lambda w: names[w])
    ]
    said = {wording.conflict(b.finding(), state.names) for b in state.checked.conflicts}
    now = check(state.problem.with_placements(after), after).conflicts
    broken = [conflict_of(b, state.names).text for b in now]
    left = [_not_given(state, one, names) for one in found.left]
    return GivingPreview(sum(seats.values()), takers, [t for t in broken if t not in said], left)


def _not_given(state: WeekState, one: Left, names: dict[str, str]) -> NotGiven:
    p = one.placement
    why = (
        f"{names[one.best]}: {wording.candidate(one.why, state.names)}"
        if one.best and one.why
        else "nobody of them has its craft and level"
    )
    return NotGiven(p.job, p.task, p.day.isoformat(), why, one.why is not None and one.why.code not in NEVER)


def give_all_edit(state: WeekState, chosen: Chosen, to: Taker, despite: bool = False) -> Edit:
    """Give a selection in one command; what stays is told. Raises Refused, with why, where nothing can be
    given."""
    found, names = _given(state, chosen, to, despite), people_names()
    left = [_not_given(state, one, names) for one in found.left]
    notes = tuple(f"{n.job} task {n.task} stays: {n.why}" for n in left)
    whom = names[to.person] if to.person else f"crew {to.crew}"
    if not found.given:
        why = "; ".join(notes[:3]) or "they sit on all of it already"
        raise Refused("cannot take", f"Nothing can be given to {whom}: {why}.", field="person")
    new = {one.key: one for one, _ in found.given}
    count = len(found.given)
    touches = {f"person {who} {one.day}" for one, who in found.given}
    label = f"Give {count} {'seat' if count == 1 else 'seats'} to {whom}"
    return Edit("give", label, replaced(state, new.values(), hand=True), touches, notes=notes)
