"""How a week stands: the strip's figures, the tanks, conflicts, value against bound."""

from __future__ import annotations

from typing import Any

from nundine.core.week.check import Broken
from nundine.core.week.load import Tank
from nundine.services import wording
from nundine.services.cache import remember, remember_value
from nundine.services.exchange.foreign.marks import marked
from nundine.services.ledger import entries
from nundine.services.ledger.nouns import PLACEMENT
from nundine.services.lifecycles import offers
from nundine.services.week import workable
from nundine.services.week.edits import facts_of_week
from nundine.services.week.state import WeekState
from nundine.services.wording import Names
from nundine.settings import settings
from nundine.store.site import Area, Craft
from nundine.store.week import Revision
from nundine.store.work_order import WorkOrder

PREVENTIVE = ("preventive", "statutory")


def kinds_of(state: WeekState) -> dict[str, str]:
    """Must, preventive or other: what a placed job's hours count as in a tank."""
    found: dict[str, str] = remember_value(("kinds", state.site.get_id(), state.marks[1]), dict)
    missing = {p.job for p in state.placements} - found.keys()
    if missing:
        rows = WorkOrder.select(WorkOrder.number, WorkOrder.kind, WorkOrder.must)
        for n, kind, must in rows.where(WorkOrder.number.in_(sorted(missing))).tuples():
            found[n] = "must" if must else "preventive" if kind in PREVENTIVE else "other"
    return found


def tank_row(tank: Tank, kinds: dict[str, str]) -> dict[str, Any]:
    """A tank as the screen shows it: hours to two decimals, load by must, preventive and other."""
    parts = {"must": 0.0, "preventive": 0.0, "other": 0.0}
    for job, hours in tank.jobs.items():
        parts[kinds.get(job, "other")] += hours
    lip = tank.available - tank.held_back
    mood = (
        "none"
        if tank.available == 0 and tank.load == 0
        else "over"
        if tank.load > tank.available + 1e-9
        else "fits"
    )
    if mood == "fits" and tank.load > lip + 1e-9:
        mood = "tight"
    return {
        "craft": tank.craft,
        "day": tank.day.isoformat(),
        "available": round(tank.available, 2),
        "overtime": round(tank.overtime, 2),
        "held_back": round(tank.held_back, 2),
        "load": round(tank.load, 2),
        "free": round(tank.free, 2),
        "people": tank.people,
        "jobs": len(tank.jobs),
        "mood": mood,
        **{k: round(v, 2) for k, v in parts.items()},
    }


def conflict_row(broken: Broken, names: Names) -> dict[str, Any]:
    """A conflict in words, with the site's names."""
    return {
        "code": broken.code,
        "text": wording.conflict(broken.finding(), names),
        "jobs": sorted({k[0] for k in broken.keys}),
        "person": broken.person,
        "day": broken.day.isoformat() if broken.day else None,
    }


def value_against_bound(state: WeekState) -> dict[str, Any]:
    """The draft's value and the bound of the free week; no share is claimed while rules are broken or seats
    are open."""
    value = state.checked.value
    known = state.week.bound if state.week.bound_of == state.data_mark else None
    finished = not state.checked.conflicts and all(
        p.start is not None and all(s.id for s in p.people) for p in state.placements
    )
    share = min(1.0, value / known) if known and finished and state.placements else None
    return {"value": round(value, 1), "bound": round(known, 1) if known else None, "share": share}


def _lists() -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Areas and crafts of the site in their order."""
    areas = [{"key": a.key, "name": a.name} for a in Area.select().order_by(Area.id)]
    return areas, [
        {"key": c.key, "name": c.name, "held_back": c.held_back} for c in Craft.select().order_by(Craft.id)
    ]


def promise_changed(state: WeekState, revision: Revision) -> bool:
    """Whether any work has another day, time or person than when the revision went out; reports, answers and
    pins change no promise."""

    def promise(row: dict[str, Any] | None) -> tuple[Any, ...] | None:
        return (row["day"], row["start"], [s["id"] for s in row["people"]]) if row else None

    def make() -> bool:
        first: dict[tuple[Any, ...], Any] = {}
        last: dict[tuple[Any, ...], Any] = {}
        later = entries.after(state.week.name, revision.edits)
        for one in entries.changes_of_all(later, PLACEMENT):
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


def overview(state: WeekState) -> dict[str, Any]:
    """Everything that the strip and the board of tanks show."""
    kinds, names = kinds_of(state), state.names
    areas, crafts = remember(("lists", id(state.problem.crafts)), state.problem.crafts, _lists)
    rows = [tank_row(t, kinds) for t in state.tanks.values()]
    open_seats = [s for p in state.placements for s in p.people if s.id is None]
    revision = (
        Revision.select(Revision.number, Revision.edits)
        .where(Revision.week == state.week)
        .order_by(Revision.number.desc())
        .first()
    )
    jobs = {p.job for p in state.placements}
    return {
        "week": state.week.name,
        "status": state.week.status,
        "moves": offers("week", f"Week {state.week.name}", state.week.status, facts_of_week(state)),
        "edits": state.week.edits,
        "timezone": state.site.timezone,
        "start": state.problem.start.isoformat(),
        "end": state.problem.end.isoformat(),
        "site": state.site.name,
        "days": [d.isoformat() for d in state.problem.days],
        "crafts": crafts,
        "areas": areas,
        "today": settings().day(state.site.timezone).isoformat(),
        "tanks": rows,
        "jobs_placed": len(jobs),
        "hours_placed": round(sum(t.load for t in state.tanks.values()), 2),
        "hours_available": round(sum(t.available for t in state.tanks.values()), 2),
        "over": sum(r["mood"] == "over" for r in rows),
        "tight": sum(r["mood"] == "tight" for r in rows),
        "open_seats": len(open_seats),
        "without_time": sum(p.start is None for p in state.placements),
        "conflicts": [
            {**conflict_row(b, names), "areas": _areas_of(state, b)} for b in state.checked.conflicts
        ],
        "open_seats_of": _open_seats_of(state),
        "changed_jobs": marked(jobs),
        "revision": revision.number if revision else 0,
        "changed_since": bool(revision) and promise_changed(state, revision),
        **value_against_bound(state),
        "workable": workable.figures(workable.found_in(state), state.checked),
    }
