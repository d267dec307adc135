"""How a week stands: the strip's figures, the tanks, conflicts, value against bound."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from nundine.core.week.check import Broken
from nundine.core.week.load import Tank
from nundine.services import wording
from nundine.services.cache import remember
from nundine.services.exchange.foreign.marks import marked
from nundine.services.ledger import entries
from nundine.services.ledger.nouns import PLACEMENT
from nundine.services.lifecycles import Offer, offers
from nundine.services.week import workable
from nundine.services.week.edits import facts_of_week
from nundine.services.week.state import WeekState
from nundine.services.week.workable import WorkableFigures
from nundine.services.wording import Names
from nundine.settings import settings
from nundine.store.site import Area, Craft
from nundine.store.week import Revision
from nundine.store.work_order import WorkOrder

PREVENTIVE = ("preventive", "statutory")
Mood = Literal["none", "fits", "tight", "over"]


def kinds_of(state: WeekState) -> dict[str, str]:
    """Must, preventive or other: what a placed job's hours count as in a tank."""
    found = state.kinds
    missing = {p.job for p in state.placements} - found.keys()
    if missing:
        rows = WorkOrder.select(WorkOrder.number, WorkOrder.kind, WorkOrder.must)
        for n, kind, must in rows.where(WorkOrder.number.in_(sorted(missing))).tuples():
            found[n] = "must" if must else "preventive" if kind in PREVENTIVE else "other"
    return found


@dataclass(frozen=True)
class TankFigures:
    """A row of a board on a day, in hours: what is there, what is placed, load by must, preventive and other.

    `row`: the craft, crew or person.
    """

    row: str
    day: str
    available: float
    overtime: float
    held_back: float
    load: float
    free: float
    people: int
    jobs: int
    mood: Mood
    must: float
    preventive: float
    other: float


@dataclass(frozen=True)
class Conflict:
    """A broken rule in words; `areas` are those of its jobs, where they are told."""

    code: str
    text: str
    jobs: list[str]
    person: str | None
    day: str | None
    areas: list[str]


@dataclass(frozen=True)
class AreaName:
    key: str
    name: str


@dataclass(frozen=True)
class CraftRow:
    """`held_back`: the share of its regular hours that the week keeps free."""

    key: str
    name: str
    held_back: float


@dataclass(frozen=True)
class Overview:
    """Everything that the strip and the board of tanks show: hours, counts, points (`value`, `bound`)."""

    week: str
    status: str
    moves: list[Offer]
    edits: int
    timezone: str
    start: str
    end: str
    site: str
    days: list[str]
    today: str
    areas: list[AreaName]
    crafts: list[CraftRow]
    tanks: list[TankFigures]
    jobs_placed: int
    hours_placed: float
    hours_available: float
    over: int
    tight: int
    open_seats: int
    open_seats_of: dict[str, int]
    without_time: int
    conflicts: list[Conflict]
    changed_jobs: list[str]
    revision: int
    changed_since: bool
    value: float
    bound: float | None
    share: float | None
    workable: WorkableFigures


def _mood(tank: Tank) -> Mood:
    if tank.available == 0 and tank.load == 0:
        return "none"
    if tank.load > tank.available + 1e-9:
        return "over"
    return "tight" if tank.load > tank.available - tank.held_back + 1e-9 else "fits"


def tank_figures(tank: Tank, kinds: dict[str, str]) -> TankFigures:
    """A tank as the screen shows it: hours to two decimals."""
    parts = {"must": 0.0, "preventive": 0.0, "other": 0.0}
    for job, hours in tank.jobs.items():
        parts[kinds.get(job, "other")] += hours
    return TankFigures(
        tank.row,
        tank.day.isoformat(),
        round(tank.available, 2),
        round(tank.overtime, 2),
        round(tank.held_back, 2),
        round(tank.load, 2),
        round(tank.free, 2),
        tank.people,
        len(tank.jobs),
        _mood(tank),
        **{k: round(v, 2) for k, v in parts.items()},
    )


def conflict_of(broken: Broken, names: Names, areas: list[str] | None = None) -> Conflict:
    """A conflict in words, with the site's names."""
    return Conflict(
        broken.code,
        wording.conflict(broken.finding(), names),
        sorted({k[0] for k in broken.keys}),
        broken.person,
        broken.day.isoformat() if broken.day else None,
        areas or [],
    )


def value_against_bound(state: WeekState) -> tuple[float, float | None, float | None]:
    """The draft's value, the bound of the free week, and the share of it; none is claimed while rules are
    broken or seats are open."""
    value = state.checked.value
    known = state.week.bound if state.week.bound_of == state.data_mark else None
    finished = not state.checked.conflicts and all(
        p.start is not None and all(s.id for s in p.people) for p in state.placements
    )
    share = min(1.0, value / known) if known and finished and state.placements else None
    return round(value, 1), round(known, 1) if known else None, share


def area_names() -> list[AreaName]:
    """Areas of the site in their order."""
    return [AreaName(a.key, a.name) for a in Area.select().order_by(Area.id)]


def _lists() -> tuple[list[AreaName], list[CraftRow]]:
    return area_names(), [CraftRow(c.key, c.name, c.held_back) for c in Craft.select().order_by(Craft.id)]


def promise_changed(state: WeekState, revision: Revision) -> bool:
    """Whether any work has another day, time or person than when the revision went out; reports, answers and
    pins change no promise."""

    def promise(row: dict[str, Any] | None) -> tuple[Any, ...] | None:
        return (row["day"], row["start"], [s["id"] for s in row["people"]]) if row else None

    def make() -> bool:
        first: dict[tuple[Any, ...], Any] = {}
        last: dict[tuple[Any, ...], Any] = {}
        for one in entries.changes_after(state.week.name, revision.edits, PLACEMENT):
            first.setdefault(tuple(one.key), promise(one.before))
            last[tuple(one.key)] = promise(one.after)
        return first != last

    return bool(
        remember(("promise", state.week.name, state.week.edits, revision.number), state.problem, make)
    )


def _areas_of(state: WeekState, broken: Broken) -> list[str]:
    """Areas of the jobs that a broken rule concerns."""
    areas = {state.problem.job_by_id[k[0]].area for k in broken.keys}
    return sorted(a for a in areas if a is not None)


def _open_seats_of(state: WeekState) -> dict[str, int]:
    """Open seats by the area of their jobs."""
    out: dict[str, int] = {}
    for p in state.placements:
        area = state.problem.job_by_id[p.job].area or ""
        out[area] = out.get(area, 0) + sum(s.id is None for s in p.people)
    return out


def overview(state: WeekState) -> Overview:
    """Everything that the strip and the board of tanks show."""
    kinds, names = kinds_of(state), state.names
    areas, crafts = remember(("lists", id(state.problem.crafts)), state.problem.crafts, _lists)
    rows = [tank_figures(t, kinds) for t in state.tanks.values()]
    open_seats = [s for p in state.placements for s in p.people if s.id is None]
    revision = (
        Revision.select(Revision.number, Revision.edits)
        .where(Revision.week == state.week)
        .order_by(Revision.number.desc())
        .first()
    )
    jobs = {p.job for p in state.placements}
    value, bound, share = value_against_bound(state)
    return Overview(
        week=state.week.name,
        status=state.week.status,
        moves=offers("week", f"Week {state.week.name}", state.week.status, facts_of_week(state)),
        edits=state.week.edits,
        timezone=state.site.timezone,
        start=state.problem.start.isoformat(),
        end=state.problem.end.isoformat(),
        site=state.site.name,
        days=[d.isoformat() for d in state.problem.days],
        today=settings().day(state.site.timezone).isoformat(),
        areas=areas,
        crafts=crafts,
        tanks=rows,
        jobs_placed=len(jobs),
        hours_placed=round(sum(t.load for t in state.tanks.values()), 2),
        hours_available=round(sum(t.available for t in state.tanks.values()), 2),
        over=sum(r.mood == "over" for r in rows),
        tight=sum(r.mood == "tight" for r in rows),
        open_seats=len(open_seats),
        open_seats_of=_open_seats_of(state),
        without_time=sum(p.start is None for p in state.placements),
        conflicts=[conflict_of(b, names, _areas_of(state, b)) for b in state.checked.conflicts],
        changed_jobs=marked(jobs),
        revision=revision.number if revision else 0,
        changed_since=bool(revision) and promise_changed(state, revision),
        value=value,
        bound=bound,
        share=share,
        workable=workable.figures(workable.found_in(state), state.checked),
    )
