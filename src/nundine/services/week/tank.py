"""One tank: its jobs, and what could move where when it is over."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from nundine.core.week.load import BY_CREW, BY_PERSON, NOBODY, OPEN, Board, tanks, tanks_of_areas
from nundine.core.week.moving import relief
from nundine.services.errors import NotFound
from nundine.services.people.names import people_names
from nundine.services.week.overview import TankFigures, kinds_of, tank_figures
from nundine.services.week.state import WeekState
from nundine.services.work.backlog import is_ready
from nundine.store.asset import Asset
from nundine.store.placement import Key
from nundine.store.work_order import WorkOrder


@dataclass(frozen=True)
class TankJob:
    """`keys` are its placements in the tank, `others` counts those elsewhere in the week; `hours` are of the
    tank's craft and day."""

    job: str
    title: str
    asset: str
    priority: float
    must: bool
    kind: str
    hours: float
    gates_open: bool
    pinned: bool
    start: str | None
    keys: list[Key]
    others: int


@dataclass(frozen=True)
class Relief:
    """A job that would bring the tank back inside, with the day to which it could go."""

    job: str
    day: str
    hours: float
    keys: list[Key]


@dataclass(frozen=True)
class TankDetail:
    tank: TankFigures
    jobs: list[TankJob]
    relief: list[Relief]


def of_areas(state: WeekState, areas: list[str]) -> list[TankFigures]:
    """The board of tanks for the people and open seats of some areas alone."""
    kinds = kinds_of(state)
    found = tanks_of_areas(state.problem, state.placements, set(areas))
    return [tank_figures(t, kinds) for t in found.values()]


@dataclass(frozen=True)
class LoadRow:
    """A crew, or a person with main craft and crew, with a tank a day; `name` is None for what nobody has."""

    key: str
    name: str | None
    craft: str | None
    crew: str | None
    tanks: list[TankFigures]


def crews(state: WeekState, areas: Sequence[str] = ()) -> list[LoadRow]:
    """Load against availability by crew; the last row holds open seats, and people without a crew."""
    return [
        LoadRow(key, key if key != NOBODY else None, None, None, its)
        for key, its in _by_row(state, BY_CREW, areas).items()
        if key != NOBODY or any(t.mood != "none" for t in its)
    ]


def people(state: WeekState, areas: Sequence[str] = ()) -> list[LoadRow]:
    """Load against availability by person, and the open seats of each craft that has some."""
    names, known, found = people_names(), state.problem.person_by_id, []
    for key, its in _by_row(state, BY_PERSON, areas).items():
        if key in known:
            found.append(LoadRow(key, names[key], known[key].main_craft, known[key].crew, its))
        elif any(t.load for t in its):
            found.append(LoadRow(key, None, key.removeprefix(OPEN), None, its))
    return sorted(found, key=lambda r: (r.name is not None, r.name or ""))


def _by_row(state: WeekState, board: Board, areas: Sequence[str]) -> dict[str, list[TankFigures]]:
    """The tanks of each row, in the order of days."""
    kinds, out = kinds_of(state), dict[str, list[TankFigures]]()
    found = (
        tanks_of_areas(state.problem, state.placements, set(areas), board)
        if areas
        else tanks(state.problem, state.placements, board)
    )
    for tank in found.values():
        out.setdefault(tank.row, []).append(tank_figures(tank, kinds))
    return out


def detail(state: WeekState, craft: str, day: date, areas: Sequence[str] = ()) -> TankDetail:
    """The tank's figures, of some areas alone where they are given, its jobs by must and priority, and up to
    four moves that bring it back inside."""
    found = tanks_of_areas(state.problem, state.placements, set(areas)) if areas else state.tanks
    tank = found.get((craft, day))
    if tank is None:
        raise NotFound("tank", f"There is no craft {craft} on {day} in week {state.week.name}.")
    known = state.problem.person_by_id
    placed = Counter(p.job for p in state.placements)
    keys: dict[str, list[Key]] = {}
    starts: dict[str, str | None] = {}
    for p in state.placements:
        crafts = {known[s.id].main_craft if s.id else s.craft for s in p.people}
        if p.day == day and craft in crafts:
            keys.setdefault(p.job, []).append(p.key)
            starts.setdefault(p.job, p.start.isoformat() if p.start else None)
    all_open = is_ready(state)
    ready = {
        n
        for (n,) in WorkOrder.select(WorkOrder.number)
        .join(Asset)
        .where(WorkOrder.number.in_(list(tank.jobs) or [""]) & all_open)
        .tuples()
    }
    rows = (
        WorkOrder.select(WorkOrder, Asset.name.alias("asset_name"))
        .join(Asset)
        .where(WorkOrder.number.in_(list(tank.jobs) or [""]))
        .dicts()
    )
    jobs = [
        TankJob(
            r["number"],
            r["title"],
            r["asset_name"],
            r["priority"],
            r["must"],
            r["kind"],
            round(tank.jobs[r["number"]], 2),
            r["number"] in ready or r["state"] in ("under way", "done"),
            any(state.rows[k]["pinned"] for k in keys[r["number"]]),
            starts[r["number"]],
            keys[r["number"]],
            placed[r["number"]] - len(keys[r["number"]]),
        )
        for r in rows
    ]
    jobs.sort(key=lambda j: (not j.must, -j.priority, j.job))
    row = tank_figures(tank, kinds_of(state))
    begun = state.tasks_that_are("under way", "done")
    stay = {k for k, r in state.rows.items() if r["pinned"] or k[:2] in begun}
    crowded = row.mood in ("over", "tight")
    moves = relief(state.problem, state.placements, craft, day, stay) if crowded else ()
    pinned = {j.job for j in jobs if j.pinned}
    could = [Relief(m.job, m.day.isoformat(), m.hours, keys[m.job]) for m in moves if m.job not in pinned]
    return TankDetail(row, jobs, could)
