"""People by day: shifts to scale with the jobs inside, free hours, absences, open seats, deficits."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from nundine.core.timeline import Interval
from nundine.core.week.exchange import Exchange, Place
from nundine.core.week.hand import candidates
from nundine.core.week.load import portion_hours
from nundine.core.week.problem import Need, Placement
from nundine.core.week.problem import Person as CorePerson
from nundine.services import wording
from nundine.services.people.hours import HoursByHand, hours_by_hand
from nundine.services.people.names import people_names
from nundine.services.week import workable
from nundine.services.week.edits import exchanges_of
from nundine.services.week.edits import held as held_placements
from nundine.services.week.overview import Conflict, conflict_of
from nundine.services.week.state import WeekState
from nundine.services.week.titles import Titles, titles
from nundine.store.placement import Key
from nundine.store.reading.kits import kits_of
from nundine.store.roster import Person, PersonCertificate
from nundine.store.site import Craft

PEOPLE_RULES = ("travel", "away", "double", "full", "craft", "certificate", "seats", "day")


@dataclass(frozen=True)
class SeatItem:
    """One person's place on a portion, or an open one. `minutes_before`: on the way from the area
    `comes_from`, within the shift. `takes_over_from`: who began what is finished here. `kit`: where the parts
    of its WO were set aside."""

    job: str
    area: str | None
    task: str
    portion: int
    title: str
    task_title: str
    asset: str | None
    priority: float
    must: bool
    kind: str
    day: str
    start: str | None
    end: str | None
    hours: float
    pinned: bool
    seats: int
    seat: int
    craft: str
    level: int
    certificate: str | None
    minutes_before: float = 0.0
    comes_from: str | None = None
    takes_over_from: str | None = None
    kit: str = ""


@dataclass(frozen=True)
class Shift:
    start: str
    end: str
    overtime: bool


@dataclass(frozen=True)
class CertificateHeld:
    """`until`: the last day on which it holds; None = without end."""

    name: str
    until: str | None


@dataclass(frozen=True)
class PersonDay:
    """Hours of a person on a day: there, and free of them; what was entered by hand; broken rules."""

    day: str
    shifts: list[Shift]
    work: list[SeatItem]
    hours: float
    free: float
    absence: str | None
    by_hand: list[HoursByHand]
    conflicts: list[Conflict]


@dataclass(frozen=True)
class PersonCraft:
    craft: str
    name: str
    level: int


@dataclass(frozen=True)
class PersonRow:
    key: str
    name: str
    craft: str
    level: int
    crew: str | None
    area: str | None
    crafts: list[PersonCraft]
    certificates: list[CertificateHeld]
    days: list[PersonDay]


@dataclass(frozen=True)
class CraftName:
    key: str
    name: str


@dataclass(frozen=True)
class Crew:
    people: list[PersonRow]
    open_seats: list[SeatItem]
    crafts: list[CraftName]


def crew(state: WeekState, why: bool) -> Crew:
    """Rows of people grouped by main craft, a cell for each day; open seats by craft and day. With `why`
    absences say it."""
    crafts = {c.key: c.name for c in Craft.select()}
    kits = kits_of({p.job for p in state.placements})
    names, held, day_of = people_names(), certificates(), _days(state, why, kits)
    people = [
        PersonRow(
            x.id,
            names[x.id],
            x.main_craft,
            x.level_in(x.main_craft),
            x.crew,
            x.area,
            [PersonCraft(c.craft, crafts[c.craft], c.level) for c in x.crafts],
            held.get(x.id, []),
            [day_of(x, d) for d in state.problem.days],
        )
        for x in state.problem.people
    ]
    open_seats = [
        _item(state, p, n, titles(state)[p.job], kit=kits.get(p.job, ""))
        for p in state.placements
        for n, seat in enumerate(p.people)
        if seat.id is None
    ]
    open_seats.sort(key=lambda s: (-s.must, -s.priority, s.day, s.job))
    return Crew(people, open_seats, [CraftName(k, n) for k, n in crafts.items()])


def _item(state: WeekState, p: Placement, seat: int, info: Titles, **more: Any) -> SeatItem:
    job = state.problem.job_by_id[p.job]
    task = job.task(p.task)
    need: Need = task.seat_needs[seat]
    return SeatItem(
        p.job,
        job.area,
        p.task,
        p.portion,
        info.title,
        info.tasks.get(p.task, ""),
        job.asset,
        job.priority,
        info.must,
        info.kind,
        p.day.isoformat(),
        p.start.isoformat() if p.start else None,
        p.end.isoformat() if p.end else None,
        round(portion_hours(p, task), 2),
        state.rows[p.key]["pinned"],
        len(p.people),
        seat,
        need.craft,
        need.level,
        need.certificate,
        **more,
    )


def _work(state: WeekState, kits: Mapping[str, str]) -> dict[tuple[str, str], list[SeatItem]]:
    """What each person does, by person and day, in order of time."""
    ways, taken_over = workable.ways(state), workable.handovers(state)[0]
    named = titles(state)
    out: dict[tuple[str, str], list[SeatItem]] = {}
    for p in state.placements:
        for n, seat in enumerate(p.people):
            if seat.id is None:
                continue
            way = ways.get((seat.id, p.key))
            there: dict[str, Any] = (
                {"minutes_before": way.minutes, "comes_from": way.comes_from} if way else {}
            )
            there |= {"takes_over_from": taken_over.get(p.key), "kit": kits.get(p.job, "")}
            item = _item(state, p, n, named[p.job], **there)
            out.setdefault((seat.id, item.day), []).append(item)
    for items in out.values():
        items.sort(key=lambda i: (i.start is None, i.start or ""))
    return out


def _broken(state: WeekState) -> dict[tuple[str, str], list[Conflict]]:
    """Broken rules by person and day."""
    out: dict[tuple[str, str], list[Conflict]] = {}
    for b in state.checked.conflicts:
        for person in b.people if b.code in PEOPLE_RULES and b.day else ():
            out.setdefault((person, str(b.day)), []).append(conflict_of(b, state.names))
    return out


def _days(state: WeekState, why: bool, kits: Mapping[str, str]) -> Callable[[CorePerson, date], PersonDay]:
    """How a person's day is found."""
    by_hand, work, broken = hours_by_hand(state, why), _work(state, kits), _broken(state)

    def day_of(x: CorePerson, day: date) -> PersonDay:
        name = day.isoformat()
        shifts = [h for h in x.hours if h.day == day]
        items, told = work.get((x.id, name), []), by_hand.get((x.id, name), [])
        there = sum(Interval(h.start, h.end).hours for h in shifts)
        return PersonDay(
            name,
            [Shift(h.start.isoformat(), h.end.isoformat(), h.overtime) for h in shifts],
            items,
            round(there, 2),
            round(there - sum(i.hours for i in items), 2),
            next((h.note for h in told if h.what == "absence"), None),
            told,
            broken.get((x.id, name), []),
        )

    return day_of


def certificates() -> dict[str, list[CertificateHeld]]:
    """Certificates by person, those that have ended too."""
    out: dict[str, list[CertificateHeld]] = {}
    rows = PersonCertificate.select(Person.key, PersonCertificate.certificate, PersonCertificate.until).join(
        Person
    )
    for who, name, until in rows.order_by(PersonCertificate.certificate).tuples():
        out.setdefault(who, []).append(CertificateHeld(name, until.isoformat() if until else None))
    return out


@dataclass(frozen=True)
class ExchangedSeat:
    job: str
    task: str
    day: str
    start: str
    end: str


@dataclass(frozen=True)
class ExchangeOffer:
    """What the person takes, and what who sat there takes in return."""

    takes: list[ExchangedSeat]
    gives: list[ExchangedSeat]


@dataclass(frozen=True)
class CandidateRow:
    """Somebody who might take a seat, with what speaks for and against it in words, and free hours of the
    day."""

    person: str
    name: str
    fits: bool
    why: list[str]
    free_hours: float
    exchange: ExchangeOffer | None


def who_can(state: WeekState, key: Key, seat: int) -> list[CandidateRow]:
    """Everybody with the craft, best first, with why, whether anything stands in the way, and what they could
    change places over."""
    one = held_placements(state, [key])[0]
    if not 0 <= seat < len(one.people):
        return []
    names = people_names()
    swaps = exchanges_of(state, key, seat)
    rows = [
        CandidateRow(
            c.person,
            names[c.person],
            c.fits,
            [wording.candidate(f, state.names) for f in c.why],
            round(c.free_hours, 2),
            _offer(swaps[c.person]) if c.person in swaps else None,
        )
        for c in candidates(state.problem, state.placements, one, seat)
    ]
    order = list(swaps)
    return sorted(
        rows,
        key=lambda r: (not r.fits, r.exchange is None, order.index(r.person) if r.exchange else 0),
    )


def _offer(swap: Exchange) -> ExchangeOffer:
    def seats(places: tuple[Place, ...]) -> list[ExchangedSeat]:
        return [
            ExchangedSeat(p.job, p.task, p.day.isoformat(), p.start.isoformat(), p.end.isoformat())
            for p, _ in places
            if p.start and p.end
        ]

    return ExchangeOffer(seats(swap.takes), seats(swap.gives))
