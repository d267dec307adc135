"""Edits of a week by hand. Each function reads the week as it stands and gives the Edit that the log then
runs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import date, datetime, time
from typing import Any

from nundine.core.roster import moment_in_shift
from nundine.core.timeline import week_beside
from nundine.core.week.exchange import Exchange, exchanges
from nundine.core.week.hand import candidates, put_in, starting_at
from nundine.core.week.moving import elapsed_hours, move_jobs, move_to_day
from nundine.core.week.problem import Placement
from nundine.services import wording
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.nouns import PLACEMENT
from nundine.services.lifecycles import need_move
from nundine.services.week.loaded import OF_A_PERSON
from nundine.services.week.state import WeekState, load_state, with_work
from nundine.services.wording.phrases import day_words
from nundine.services.work.gates import placeable, why_none
from nundine.store.placement import KEPT, Key, as_row
from nundine.store.roster import Person


def day_of_week(state: WeekState, day: date) -> date:
    """The day, if it lies in the week. Raises Refused."""
    if day not in state.problem.days:
        raise Refused("day", f"{day_words(day)} does not lie in week {state.week.name}.", field="day")
    return day


def held(state: WeekState, keys: Iterable[Key]) -> list[Placement]:
    """The placements of the keys. Raises NotFound if one is not there any more."""
    by_key = {p.key: p for p in state.placements}
    found = []
    for key in keys:
        if key not in by_key:
            raise NotFound(
                "placement", f"{key[0]} task {key[1]} is not placed in this week any more.", job=key[0]
            )
        found.append(by_key[key])
    if not found:
        raise Refused("nothing", "Nothing was chosen. Choose at least one job.", field="keys")
    return found


def _kept(row: dict[str, Any], **change: Any) -> dict[str, Any]:
    return {**{k: row[k] for k in KEPT}, **change}


def replaced(state: WeekState, new: Iterable[Placement], **change: Any) -> list[Change]:
    """The changes that put each placement as given; what is known beside it stays, or is as `change` says."""
    out = []
    for one in new:
        before = state.rows.get(one.key)
        kept = _kept(before, **change) if before else change
        out.append(Change("placement", list(one.key), before, as_row(one, **kept)))
    return out


def _names(jobs: Iterable[str]) -> str:
    listed = sorted(set(jobs))
    return ", ".join(listed[:2]) + (f" and {len(listed) - 2} more" if len(listed) > 2 else "")


def put(state: WeekState, jobs: list[str], day: date | None, clock: time | None = None) -> Edit:
    """Put jobs into the week by hand: on a day, or where each fits first; a single one perhaps at a clock
    time of the day. Of several those that can be go in; the others are told, with why. Raises Refused where
    none can."""
    in_it = {p.job for p in state.placements}
    why_not = why_none(state, [j for j in jobs if j not in in_it])
    why_not |= {j: f"it is in week {state.week.name} already" for j in jobs if j in in_it}
    can = [j for j in jobs if j not in why_not]
    if not can:
        first = jobs[0]
        if first in in_it:
            raise Refused("placed", f"{first} is in week {state.week.name} already.", job=first)
        raise Refused("not ready", f"{first} can not be placed: {why_not[first]}.", job=first)
    if clock is not None and (day is None or len(jobs) > 1):
        raise Refused(
            "clock", "A time is for one job on one day. Say the day, and choose one job.", field="clock"
        )
    there = placeable(state, can)
    changes = _put_at(there, can[0], day, clock) if clock and day else _put(there, can, day)
    at = f" at {clock:%H:%M}" if clock else ""
    label = f"Put {_names(can)} in" + (f" on {day_words(day)}{at}" if day else "")
    notes = tuple(f"{j} is not put in: {why}" for j, why in sorted(why_not.items()))
    return Edit("put", label, changes, notes=notes)


def _put(state: WeekState, jobs: list[str], day: date | None) -> list[Change]:
    """The changes that put jobs in, one beside the other."""
    placements: tuple[Placement, ...] = state.placements
    changes: list[Change] = []
    for number in jobs:
        if any(p.job == number for p in placements):
            raise Refused("placed", f"{number} is in week {state.week.name} already.", job=number)
        new = put_in(state.problem, placements, number, day_of_week(state, day) if day else None)
        changes += replaced(state, new, hand=True)
        placements += new
    return changes


def _put_at(state: WeekState, number: str, day: date, clock: time) -> list[Change]:
    """The changes that put one job in with its first task at a clock time of the day; the others follow where
    they fit."""
    task = state.problem.job_by_id[number].ordered_tasks[0]
    new = list(put_in(state.problem, state.placements, number, day_of_week(state, day)))
    first = next(n for n, p in enumerate(new) if p.task == task.id)
    start = _in_shift(state, new[first], clock)
    new[first] = starting_at(new[first], start, task)
    end = new[first].end
    late = [p for p in new if p.task != task.id and p.start and end and p.start < end]
    open_again = {p.key: replace(p, start=None, end=None, hours=_elapsed(state, p)) for p in late}
    return replaced(state, (open_again.get(p.key, p) for p in new), hand=True)


def _elapsed(state: WeekState, one: Placement) -> float:
    return elapsed_hours(one, state.problem.job_by_id[one.job].task(one.task))


def _in_shift(state: WeekState, one: Placement, clock: time) -> datetime:
    """A clock time within the shifts of who sits on a placement, or of all who could."""
    task = state.problem.job_by_id[one.job].task(one.task)
    people = {s.id for s in one.people if s.id}
    crafts = {n.craft for n in task.needs}
    hours_of = [
        h
        for p in state.problem.people
        if (p.id in people if people else any(p.level_in(c) for c in crafts))
        for h in p.hours
    ]
    return moment_in_shift(hours_of, one.day, clock, state.zone)


def move(state: WeekState, keys: list[Key], day: date, whole: bool = True) -> Edit:
    """Move placements to another day, with times and people where they fit, else as the day alone.

    With `whole` the other tasks of their jobs go along, so that order holds; what is pinned or begun stays,
    and is named.
    """
    moved = [p for p in held(state, keys) if p.day != day_of_week(state, day)]
    begun = state.tasks_that_are("under way", "done")
    pinned = [p.job for p in moved if state.rows[p.key]["pinned"]]
    if pinned:
        raise Refused("pinned", f"{_names(pinned)} is pinned. Take the pin off first.", jobs=pinned)
    if done := [p.job for p in moved if p.key[:2] in begun]:
        raise Refused(
            "begun", f"{_names(done)} has begun; what is under way or done stays on its day.", jobs=done
        )
    if not moved:
        raise Refused("nothing", f"What you chose is on {day_words(day)} already.")
    label = f"Move {_names(p.job for p in moved)} to {day_words(day)}"
    if not whole:
        new = move_to_day(state.problem, state.placements, tuple(moved), day)
        return Edit("move", f"{label}, these tasks alone", _moved(state, new))
    jobs = {p.job for p in moved}
    stay = {p.key for p in state.placements if state.rows[p.key]["pinned"] or p.key[:2] in begun}
    new = move_jobs(state.problem, state.placements, tuple(moved), day, stay)
    left = sorted(f"{j} task {t}" for j, t, _ in stay if j in jobs)
    stays = f"; {_names(left)} stay{'s' if len(left) == 1 else ''}, pinned or begun" if left else ""
    return Edit("move", label + stays, _moved(state, new))


def _moved(state: WeekState, new: Iterable[Placement]) -> list[Change]:
    """Placements at another time, for which operations are asked anew; those that did not move are left
    alone."""
    old = {p.key: p for p in state.placements}
    return replaced(
        state, (p for p in new if old.get(p.key) != p), hand=True, answer=None, answer_by=None, remark=None
    )


def take_out(state: WeekState, jobs: list[str]) -> Edit:
    """Take whole jobs out of the week. Of several those that can be; the others are told, with why."""
    there = {p.job for p in state.placements}
    pinned = {p.job for p in state.placements if state.rows[p.key]["pinned"]}
    can = [j for j in jobs if j in there and j not in pinned]
    if len(jobs) == 1 or not can:
        return Edit("take out", f"Take {_names(jobs)} out", _out(state, jobs))
    notes = [f"{j} stays: it is pinned" for j in jobs if j in pinned]
    notes += [f"{j} is not in this week" for j in jobs if j not in there]
    return Edit("take out", f"Take {_names(can)} out", _out(state, can), notes=tuple(notes))


def _out(state: WeekState, jobs: list[str]) -> list[Change]:
    """The changes that take jobs out. Raises for what is not there, or is pinned."""
    chosen = [p for p in state.placements if p.job in jobs]
    missing = set(jobs) - {p.job for p in chosen}
    if missing:
        raise NotFound("placement", f"{_names(missing)} is not in this week any more.", jobs=sorted(missing))
    pinned = sorted({p.job for p in chosen if state.rows[p.key]["pinned"]})
    if pinned:
        raise Refused("pinned", f"{_names(pinned)} is pinned. Take the pin off first.", jobs=pinned)
    return [Change("placement", list(p.key), state.rows[p.key], None) for p in chosen]


def into_next_week(state: WeekState, jobs: list[str], day: date | None) -> Edit:
    """Jobs out of this week and into the one beside it: on a day of the next one or of the one before, or
    where each fits first in the next; one command in both weeks."""
    changes = _out(state, jobs)
    begun = {job for job, _ in state.tasks_that_are("under way", "done")} & set(jobs)
    if begun:
        text = f"{_names(begun)} has begun; what is left of it is carried over when the week is closed."
        raise Refused("begun", text, jobs=sorted(begun))
    earlier = day is not None and day < state.problem.days[0]
    following = load_state(week_beside(state.week.name, -1 if earlier else 1))
    if following.week.status == "closed":
        raise Refused("closed", f"Week {following.week.name} is closed and can only be read.")
    there = with_work(following, frozenset(jobs))
    put = _put(there, jobs, day)
    changes += [Change("elsewhere", [following.week.name, *c.key], c.before, c.after) for c in put]
    when = f"to {day_words(day)}" if day else f"into {following.week.name}"
    return Edit("next week", f"Move {_names(jobs)} {when}", changes)


def pin(state: WeekState, keys: list[Key], on: bool) -> Edit:
    chosen = held(state, keys)
    changes = replaced(state, chosen, pinned=on)
    return Edit("pin", f"{'Pin' if on else 'Unpin'} {_names(p.job for p in chosen)}", changes)


def give(state: WeekState, key: Key, seat: int, person: str | None) -> Edit:
    """Give a seat to a person, or open it (None). The person must have craft, level and certificate."""
    one = held(state, [key])[0]
    if not 0 <= seat < len(one.people):
        raise NotFound("seat", f"{key[0]} task {key[1]} has no seat {seat + 1}.")
    if person is not None:
        found = next(
            (c for c in candidates(state.problem, state.placements, one, seat) if c.person == person), None
        )
        if found is None:
            raise Refused(
                "cannot take",
                f"{person} does not have the craft or level that this seat needs.",
                field="person",
            )
        if any(s.id == person for n, s in enumerate(one.people) if n != seat):
            raise Refused(
                "cannot take", f"{person} sits on another seat of this task already.", field="person"
            )
        if found.blocked is not None and found.blocked.code in ("certificate", "busy"):
            why = wording.candidate(found.blocked, state.names)
            raise Refused("cannot take", f"{_person(person)} can not take this seat: {why}.", field="person")
    people = tuple(replace(s, id=person) if n == seat else s for n, s in enumerate(one.people))
    label = f"Give a seat of {key[0]} to {_person(person)}" if person else f"Open a seat of {key[0]}"
    touches = {f"person {person} {one.day}"} if person else set()
    return Edit("give", label, replaced(state, [replace(one, people=people)], hand=True), touches)


def exchanges_of(state: WeekState, key: Key, seat: int) -> dict[str, Exchange]:
    """Who could change places with the person on a seat, best first. What is done keeps its people."""
    one = held(state, [key])[0]
    if not 0 <= seat < len(one.people):
        raise NotFound("seat", f"{key[0]} task {key[1]} has no seat {seat + 1}.")
    done = state.tasks_that_are("done")
    stay = {p.key for p in state.placements if p.key[:2] in done}
    return {e.person: e for e in exchanges(state.problem, state.placements, one, seat, stay)}


def exchange(state: WeekState, key: Key, seat: int, person: str) -> Edit:
    """The person on a seat and another, both busy then, change places: one command for all that changes
    hands."""
    found = exchanges_of(state, key, seat).get(person)
    sat = held(state, [key])[0].people[seat].id
    if found is None or sat is None:
        raise Refused(
            "cannot take",
            f"{_person(person)} can not change places here: one of the two can not take what the other has.",
            field="person",
        )
    label = f"{_person(sat)} and {_person(person)} change places on {key[0]}"
    return Edit("exchange", label, replaced(state, found.placements(sat), hand=True))


def _person(key: str) -> str:
    found = Person.get_or_none(Person.key == key)
    if found is None:
        raise NotFound("person", f"There is no person {key}.")
    return str(found.name)


def set_start(state: WeekState, key: Key, clock: time | None) -> Edit:
    """Set or change the clock time of a start, or take it off so that only the day is decided.

    The shift's day stays: in a night shift a time after midnight is one of its small hours.
    """
    one = held(state, [key])[0]
    task = state.problem.job_by_id[one.job].task(one.task)
    if clock is None:
        hours = elapsed_hours(one, task)
        new = replace(one, start=None, end=None, hours=hours)
        return Edit("start", f"Take the time off {key[0]}", replaced(state, [new], hand=True))
    start = _in_shift(state, one, clock)
    new = starting_at(one, start, task)
    return Edit("start", f"Start {key[0]} at {start:%a %H:%M}", replaced(state, [new], hand=True))


def answer(state: WeekState, key: Key, said: str | None, by: str, remark: str) -> Edit:
    """Record what operations said of a placement: agreed, refused, or nothing yet."""
    one = held(state, [key])[0]
    label = f"Operations {said} {key[0]}" if said else f"Take back the answer on {key[0]}"
    return Edit(
        "answer",
        label,
        replaced(state, [one], answer=said, answer_by=by if said else None, remark=remark or None),
    )


def facts_of_week(state: WeekState) -> dict[str, Any]:
    """What the guards of a week look at."""
    refused = sorted({k[0] for k, r in state.rows.items() if r["answer"] == "refused"})
    return {"refused": refused, "placed": bool(state.placements)}


def set_status(state: WeekState, to: str) -> Edit:
    """The week drafting, or agreed. Raises Refused with the guard that stands in the way."""
    now = state.week.status
    need_move("week", f"Week {state.week.name}", now, to, facts_of_week(state))
    change = Change("week", [state.week.name], {"status": now}, {"status": to})
    return Edit("status", f"Week is {to}", [change])


def areas_touched(state: WeekState, edit: Edit) -> set[str | None]:
    """Areas of the jobs, people and assets that an edit changes."""
    jobs, people = state.problem.job_by_id, state.problem.person_by_id
    assets = state.problem.asset_by_id
    found: set[str | None] = set()
    for c in edit.changes:
        if c.noun in (PLACEMENT, "task", "work order") and c.key[0] in jobs:
            found.add(jobs[c.key[0]].area)
        elif c.noun in OF_A_PERSON and c.key[0] in people:
            found.add(people[c.key[0]].area)
        elif c.noun == "window" and c.key[0] in assets:
            found.add(assets[c.key[0]].area)
    return found
