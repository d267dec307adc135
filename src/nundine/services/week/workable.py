"""How the week can be worked: five figures for the screens, and what is behind each, in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from nundine.core.week.check import Checked, check
from nundine.core.week.problem import Placement
from nundine.core.week.workability import Workability, workability
from nundine.services.cache import remember
from nundine.services.people.names import people_names
from nundine.services.week.state import WeekState
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder


def found_in(state: WeekState) -> Workability:
    """Of the draft as it stands."""
    return remember(
        ("workable", state.week.name, state.week.edits, id(state.checked)),
        state.problem,
        lambda: workability(state.problem, state.placements, state.checked),
    )


@dataclass(frozen=True)
class PricesPaid:
    """What loose ends take off the points, in points."""

    waiting: float
    handover: float
    area_change: float
    away: float
    total: float


@dataclass(frozen=True)
class WorkableFigures:
    """How the week can be worked. `jobs` have several portions; `over_run` of those left open lie over a run
    window."""

    jobs: int
    in_one_go: int
    open_nights: int
    over_run: int
    handovers: int
    area_changes: int
    hours_on_the_way: float
    points: float
    prices: PricesPaid


@dataclass(frozen=True)
class LooseEnd:
    """One of a job, on a day, in words."""

    job: str
    title: str
    day: str
    text: str


@dataclass(frozen=True)
class LooseEnds:
    """What is behind each figure."""

    in_one_go: list[LooseEnd]
    in_pieces: list[LooseEnd]
    open_nights: list[LooseEnd]
    handovers: list[LooseEnd]
    area_changes: list[LooseEnd]


@dataclass(frozen=True)
class Way:
    """From which area somebody comes to a portion within the shift, by names, and how many minutes that
    takes."""

    comes_from: str
    goes_to: str
    minutes: float


def figures(found: Workability, checked: Checked) -> WorkableFigures:
    """The five figures, the points, and what loose ends take off them."""
    p = checked.prices
    paid = (round(points, 1) for points in (p.waiting, p.handover, p.area_change, p.away, p.total))
    return WorkableFigures(
        len(found.jobs),
        len(found.in_one_go),
        found.open_nights,
        found.over_run,
        len(found.handovers),
        len(found.area_changes),
        round(found.minutes / 60, 2),
        round(checked.points, 1),
        PricesPaid(*paid),
    )


def figures_with(state: WeekState, placements: tuple[Placement, ...]) -> WorkableFigures:
    """The five figures of the week with other placements."""
    checked = check(state.problem.with_placements(placements), placements)
    return figures(workability(state.problem, placements, checked), checked)


def lists(state: WeekState) -> LooseEnds:
    """What is behind each figure: jobs, days and people in words."""
    found, names = found_in(state), people_names()
    areas = {a.key: a.name for a in Area.select()}
    at = {p.key: p for p in state.placements}
    jobs = {*found.jobs, *(h.job for h in found.handovers), *(c.before[0] for c in found.area_changes)}
    jobs |= {c.after[0] for c in found.area_changes}
    titles = dict(
        WorkOrder.select(WorkOrder.number, WorkOrder.title)
        .where(WorkOrder.number.in_(list(jobs) or [""]))
        .tuples()
    )
    gone = set(found.in_one_go)

    def people(key: tuple[str, str, int]) -> str:
        return ", ".join(names.get(s.id, s.id) if s.id else "an open seat" for s in at[key].people)

    def row(job: str, day: str, text: str) -> LooseEnd:
        return LooseEnd(job, titles.get(job, ""), day, text)

    def moment(when: Any) -> str:
        return f"{when.astimezone(state.zone):%a %H:%M}"

    def area(job: str) -> str:
        return areas.get(state.problem.area_of(state.problem.job_by_id[job]) or "", "no area")

    first_day: dict[str, str] = {}
    for p in state.placements:
        first_day[p.job] = min(first_day.get(p.job, p.day.isoformat()), p.day.isoformat())
    in_pieces = [
        row(
            w.job,
            at[w.before].day.isoformat(),
            f"nobody works on it for {w.hours:g} h from {moment(at[w.before].end)} on",
        )
        for j in found.jobs
        if j not in gone
        for w in state.checked.ends[j].waiting
    ]
    return LooseEnds(
        in_one_go=[row(j, first_day[j], "one task after another, without a gap") for j in found.in_one_go],
        in_pieces=in_pieces,
        open_nights=[
            row(
                o.job,
                o.start.astimezone(state.zone).date().isoformat(),
                f"open from {moment(o.start)} to {moment(o.end)}"
                + (f", while {state.problem.job_by_id[o.job].asset} must run" if o.over_run else ""),
            )
            for o in found.left_open
        ],
        handovers=[
            row(
                h.job,
                at[h.after].day.isoformat(),
                f"task {h.after[1]}: {people(h.after)} finish what {people(h.before)} began",
            )
            for h in found.handovers
        ],
        area_changes=[
            row(
                c.after[0],
                c.day.isoformat(),
                f"{names.get(c.person, c.person)} goes from {area(c.before[0])} ({c.before[0]}) "
                f"to {area(c.after[0])}, {c.minutes:g} min",
            )
            for c in found.area_changes
        ],
    )


MOST_TOLD = 3
"""Loose ends of one edit that are told; there may be more."""


def arisen(before: WeekState, after: WeekState) -> list[str]:
    """Loose ends that an edit made, in words with what each costs; nothing where they cost nothing."""
    w = after.problem.weights
    old, new = found_in(before), found_in(after)
    gaps = {(x.job, x.before, x.after): x.charged for e in before.checked.ends.values() for x in e.waiting}
    told = []
    for ends in after.checked.ends.values():
        for x in ends.waiting:
            more = w.waiting_per_hour * (x.charged - gaps.get((x.job, x.before, x.after), 0.0))
            if more > 0:
                told.append((more, f"leaves {x.job} open for {x.hours:g} h"))
    for h in set(new.handovers) - set(old.handovers):
        if w.handover:
            told.append((w.handover, f"hands {h.job} over before task {h.after[1]}"))
    sent = set(new.area_changes) - set(old.area_changes) if w.area_change else set()
    names = people_names() if sent else {}
    for c in sent:
        who = names.get(c.person, c.person)
        told.append((w.area_change, f"sends {who} from {c.before[0]} to {c.after[0]} in another area"))
    told.sort(key=lambda one: -one[0])
    return [f"This {text} ({price:.0f} points)." for price, text in told[:MOST_TOLD]]


Key = tuple[str, str, int]


def ways(state: WeekState) -> dict[tuple[str, Key], Way]:
    """The way to a portion, by person and portion."""
    areas = {a.key: a.name for a in Area.select()}

    def area(key: Key) -> str:
        return areas.get(state.problem.area_of(state.problem.job_by_id[key[0]]) or "", "")

    return {
        (c.person, c.after): Way(area(c.before), area(c.after), c.minutes)
        for c in found_in(state).area_changes
    }


def handovers(state: WeekState) -> tuple[dict[Key, str], dict[Key, str]]:
    """By portion: who began what is finished there, and who will finish what is begun there."""
    names, at = people_names(), {p.key: p for p in state.placements}

    def people(key: Key) -> str:
        return ", ".join(names.get(s.id, s.id) for s in at[key].people if s.id)

    found = found_in(state).handovers
    return {h.after: people(h.before) for h in found}, {h.before: people(h.after) for h in found}
