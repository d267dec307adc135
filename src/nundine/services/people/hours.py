"""Hours of people by hand: absences, overtime, extra shifts, a person lent to another area."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any, Literal

from nundine.core.roster import moment_in_shift
from nundine.core.timeline import Interval, at_local, week_name
from nundine.core.week.problem import PersonHours
from nundine.services.errors import Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.stored import stored
from nundine.services.people.names import name_of, person_row
from nundine.services.week.edits import day_of_week
from nundine.services.week.state import WeekState, load_state
from nundine.services.wording.phrases import day_words
from nundine.store.roster import Absence, ExtraShift, Loan, OvertimeOffer, Person
from nundine.store.site import Area

ABSENCE_REASONS = ("sick", "leave", "training", "other")
AWAY = "away"
"""What those read who may not know why; it stands in the log, which all may read."""
LONGEST = 16
"""Hours on end."""
LONGEST_LOAN = 92


def _shifts(state: WeekState, person: str, day: date) -> list[PersonHours]:
    found = state.problem.person_by_id.get(person)
    return [h for h in (found.hours if found else ()) if h.day == day_of_week(state, day)]


def _clock(state: WeekState, day: date, clock: time, after: datetime) -> datetime:
    """The first moment with this clock on the day or in the night after it that is not before `after`."""
    on_day = at_local(day, clock, state.zone)
    return on_day if on_day >= after else at_local(day + timedelta(days=1), clock, state.zone)


def absence(
    state: WeekState,
    person: str,
    day: date,
    reason: str,
    start: time | None = None,
    end: time | None = None,
    last: date | None = None,
    stand_in: str | None = None,
) -> Edit:
    """Away for all shifts that start on a day, or for a part of them, or for all from a day to the `last`,
    from `start` on the first of them and until `end` on the last. Seats stay with the person, so that the
    deficit shows. `stand_in`: who answers meanwhile for what the person answers for."""
    if reason not in ABSENCE_REASONS:
        raise Refused("reason", f"Choose a reason: {', '.join(ABSENCE_REASONS)}.", field="reason")
    said = {"reason": reason, "stand_in": _other(person, stand_in)}
    if last is not None and last != day:
        return _away_for_days(state, person, (day_of_week(state, day), last), said, (start, end))
    name, hours = name_of(person), _shifts(state, person, day)
    if not hours:
        raise Refused("no shift", f"{name} has no shift on {day_words(day)}.", field="day")
    first, last = min(h.start for h in hours), max(h.end for h in hours)
    away = Interval(
        _clock(state, day, start, first) if start else first,
        _clock(state, day, end, first + timedelta(minutes=1)) if end else last,
    )
    if not first <= away.start < away.end <= last:
        raise Refused(
            "outside",
            f"{name} works from {first:%H:%M} to {last:%H:%M} on {day_words(day)}; choose times inside.",
            field="start",
        )
    part = f" {away.start:%H:%M}–{away.end:%H:%M}" if start or end else ""
    after = {"end": away.end.astimezone(UTC).isoformat(), **said, "day": day.isoformat()}
    return Edit(
        "absence", f"{name} is away on {day_words(day)}{part}", [_new("absence", person, away.start, after)]
    )


def _away_for_days(
    state: WeekState,
    person: str,
    days: tuple[date, date],
    said: dict[str, str | None],
    clocks: tuple[time | None, time | None],
) -> Edit:
    """One absence over several days, which may reach into weeks to come."""
    (first, last), (start, end) = days, clocks
    if not first < last <= first + timedelta(days=LONGEST_LOAN):
        raise Refused(
            "days",
            f"The last day lies after the first, and not more than {LONGEST_LOAN} days later.",
            field="last",
        )
    name, ending = name_of(person), load_state(week_name(last))
    in_week = [d for d in state.problem.days if first <= d <= last]
    if last in state.problem.days and not any(_shifts(state, person, d) for d in in_week):
        raise Refused(
            "no shift", f"{name} has no shift from {day_words(first)} to {day_words(last)}.", field="day"
        )
    night_before = state.problem.person_by_id[person].hours if person in state.problem.person_by_id else ()
    midnight = at_local(first, time(0), state.zone)
    away = Interval(
        moment_in_shift(_shifts(state, person, first), first, start, state.zone)
        if start
        else max([midnight, *(h.end for h in night_before if h.day < first)]),
        moment_in_shift(_shifts(ending, person, last), last, end, state.zone)
        if end
        else max(
            [
                at_local(last + timedelta(days=1), time(0), state.zone),
                *(h.end for h in _shifts(ending, person, last)),
            ]
        ),
    )
    after = {"end": away.end.astimezone(UTC).isoformat(), **said, "day": first.isoformat()}
    when = f"{day_words(first)}{f' {start:%H:%M}' if start else ''} to {day_words(last)}"
    label = f"{name} is away from {when}{f' {end:%H:%M}' if end else ''}"
    touches = {f"person {person} {d}" for d in in_week}
    return Edit("absence", label, [_new("absence", person, away.start, after)], touches)


def _other(person: str, stand_in: str | None) -> str | None:
    """Raises Refused for somebody who is not there, or for the person itself."""
    if not stand_in:
        return None
    name_of(stand_in)
    if stand_in == person:
        raise Refused("stand_in", "Choose somebody else to stand in.", field="stand_in")
    return stand_in


def _new(entity: str, person: str, start: datetime, after: dict[str, Any]) -> Change:
    return Change(entity, [person, start.astimezone(UTC).isoformat()], None, after)


def extra_hours(
    state: WeekState, person: str, day: date, what: Literal["overtime", "extra shift"], start: time, end: time
) -> Edit:
    """Overtime that was agreed with a person, or a whole extra shift, which counts as regular hours."""
    name = name_of(person)
    day_of_week(state, day)
    hours = Interval(
        at_local(day, start, state.zone),
        _clock(state, day, end, at_local(day, start, state.zone) + timedelta(minutes=1)),
    )
    if hours.hours > LONGEST:
        raise Refused(
            "too long",
            f"{name} can not work more than {LONGEST} hours on end.",
            field="end",
        )
    taken = [h for h in _shifts(state, person, day) if h.start < hours.end and hours.start < h.end]
    if taken:
        raise Refused(
            "there already",
            f"{name} works from {taken[0].start:%H:%M} to {taken[0].end:%H:%M} already; choose other hours.",
            field="start",
        )
    after = {"end": hours.end.astimezone(UTC).isoformat(), "day": day.isoformat()}
    label = f"{name}: {what} on {day_words(day)} {hours.start:%H:%M}–{hours.end:%H:%M}"
    return Edit(what, label, [_new(what, person, hours.start, after)])


def lend(state: WeekState, person: str, area: str, first: date, last: date) -> Edit:
    """A person works for another area from a day of this week on."""
    name = name_of(person)
    day_of_week(state, first)
    where = Area.get_or_none(Area.key == area)
    if where is None:
        raise Refused("area", f"There is no area {area}.", field="area")
    if not first <= last <= first + timedelta(days=LONGEST_LOAN):
        raise Refused(
            "days",
            f"The last day lies on or after the first, and not more than {LONGEST_LOAN} days later.",
            field="last",
        )
    if person_row(person).area_id == where.id:
        raise Refused("home", f"{name} is at home in {where.name}.", field="area")
    other = (
        Loan.select()
        .join(Person)
        .where((Person.key == person) & (Loan.first <= last) & (Loan.last >= first))
        .first()
    )
    if other is not None:
        raise Refused(
            "lent",
            f"{name} is lent already from {day_words(other.first)} to {day_words(other.last)}; take "
            "that back first.",
            field="first",
        )
    days = [d for d in state.problem.days if first <= d <= last]
    change = Change("loan", [person, first.isoformat()], None, {"last": last.isoformat(), "area": area})
    label = f"{name} is lent to {where.name}, {day_words(first)}" + (
        f" to {day_words(last)}" if last > first else ""
    )
    return Edit("loan", label, [change], {f"person {person} {d}" for d in days})


def back(state: WeekState, person: str, day: date) -> Edit:
    """Take back the absences of a person that begin on a shift's day; one that began before ends with the
    day before."""
    name, day = name_of(person), day_of_week(state, day)
    low, high = at_local(day, time(0), state.zone), at_local(day + timedelta(days=1), time(0), state.zone)
    rows = (
        Absence.select()
        .join(Person)
        .where((Person.key == person) & (Absence.end > low) & (Absence.start < high))
    )
    changes = [
        _taken_back("absence", person, a.start.isoformat(), day)
        if a.start >= low
        else _ends_before(person, a.start.isoformat(), low)
        for a in rows
    ]
    if not changes:
        raise Refused("no absence", f"{name} is not away on {day_words(day)}.")
    return Edit("absence", f"{name} is back on {day_words(day)}", changes)


def _taken_back(entity: str, person: str, start: str, day: date) -> Change:
    row = stored(entity, [person, start])
    if row is None:
        raise Refused("gone", f"This {entity} of {name_of(person)} is not there any more.")
    return Change(entity, [person, start], {**row, "day": day.isoformat()} if entity != "loan" else row, None)


def _ends_before(person: str, start: str, moment: datetime) -> Change:
    """An absence that ends sooner than it was to."""
    row = stored("absence", [person, start])
    if row is None:
        raise Refused("gone", f"This absence of {name_of(person)} is not there any more.")
    return Change("absence", [person, start], row, {**row, "end": moment.astimezone(UTC).isoformat()})


def take_back(state: WeekState, person: str, day: date, what: str, start: str) -> Edit:
    """Take back one absence, overtime, extra shift or loan, named by its start."""
    days = {f"person {person} {d}" for d in state.problem.days} if what == "loan" else set()
    label = f"{name_of(person)}: no {what} on {day_words(day)}"
    return Edit(what, label, [_taken_back(what, person, start, day_of_week(state, day))], days)


ByHand = Literal["absence", "overtime", "extra shift", "loan"]


@dataclass(frozen=True)
class HoursByHand:
    """An absence, overtime, an extra shift or a loan; `id` is the start that names it, `stand_in` the name of
    who answers meanwhile."""

    what: ByHand
    id: str
    start: str
    end: str
    note: str | None
    stand_in: str | None = None


def hours_by_hand(state: WeekState, why: bool) -> dict[tuple[str, str], list[HoursByHand]]:
    """Absences, overtime, extra shifts and loans of the week by person and day, each with the start that
    names it.

    With `why` absences have their reason, else they are "away".
    """
    out: dict[tuple[str, str], list[HoursByHand]] = {}
    tables: tuple[tuple[ByHand, Any], ...] = (
        ("absence", Absence),
        ("overtime", OvertimeOffer),
        ("extra shift", ExtraShift),
    )
    instead = Absence.select(Absence.stand_in).where(Absence.stand_in.is_null(False))
    names = dict(Person.select(Person.id, Person.name).where(Person.id.in_(instead)).tuples())
    for what, table in tables:
        rows = (
            table.select(table, Person.key.alias("who"))
            .join(Person)
            .where((table.start < state.problem.end) & (table.end > state.problem.start))
        )
        for r in rows.order_by(table.start).dicts():
            start, end = r["start"].astimezone(state.zone), r["end"].astimezone(state.zone)
            note = (r["reason"] if why else AWAY) if what == "absence" else None
            id_ = r["start"].astimezone(UTC).isoformat()
            stands_in = names.get(r.get("stand_in") or 0)
            row = HoursByHand(what, id_, start.isoformat(), end.isoformat(), note, stands_in)
            for day in _days_between(state, start, end) if what == "absence" else [start.date()]:
                out.setdefault((r["who"], day.isoformat()), []).append(row)
    loans = (
        Loan.select(Loan, Person.key.alias("who"), Area.name.alias("where"))
        .join(Person)
        .switch(Loan)
        .join(Area)
    )
    for r in loans.where(
        (Loan.first <= state.problem.days[-1]) & (Loan.last >= state.problem.days[0])
    ).dicts():
        first, last = r["first"].isoformat(), r["last"].isoformat()
        row = HoursByHand("loan", first, first, last, r["where"])
        for day in state.problem.days:
            if r["first"] <= day <= r["last"]:
                out.setdefault((r["who"], day.isoformat()), []).append(row)
    return out


def _days_between(state: WeekState, start: datetime, end: datetime) -> Iterable[date]:
    """Days of the week that the stretch touches; one that ends at midnight does not touch the day after."""
    last = (end - timedelta(microseconds=1)).date()
    return [d for d in state.problem.days if start.date() <= d <= last]
