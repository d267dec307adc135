"""One tank: its jobs, and what could move where when it is over."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

from nundine.core.week.load import tanks_of_areas
from nundine.core.week.moving import relief
from nundine.services.errors import NotFound
from nundine.services.week.overview import kinds_of, tank_row
from nundine.services.week.state import WeekState
from nundine.services.work.backlog import is_ready
from nundine.store.asset import Asset
from nundine.store.work_order import WorkOrder


def of_areas(state: WeekState, areas: list[str]) -> list[dict[str, Any]]:
    """The board of tanks for the people and open seats of some areas alone."""
    kinds = kinds_of(state)
    return [tank_row(t, kinds) for t in tanks_of_areas(state.problem, state.placements, set(areas)).values()]


def detail(state: WeekState, craft: str, day: date, areas: Sequence[str] = ()) -> dict[str, Any]:
    """The tank's figures, of some areas alone where they are given, its jobs by must and priority, and up to
    four moves that bring it back inside."""
    tanks = tanks_of_areas(state.problem, state.placements, set(areas)) if areas else state.tanks
    tank = tanks.get((craft, day))
    if tank is None:
        raise NotFound("tank", f"There is no craft {craft} on {day} in week {state.week.name}.")
    people = state.problem.person_by_id
    keys: dict[str, list[tuple[str, str, int]]] = {}
    starts: dict[str, str | None] = {}
    for p in state.placements:
        crafts = {people[s.id].main_craft if s.id else s.craft for s in p.people}
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
        {
            "job": r["number"],
            "title": r["title"],
            "asset": r["asset_name"],
            "priority": r["priority"],
            "must": r["must"],
            "kind": r["kind"],
            "hours": round(tank.jobs[r["number"]], 2),
            "gates_open": r["number"] in ready or r["state"] in ("under way", "done"),
            "pinned": any(state.rows[k]["pinned"] for k in keys[r["number"]]),
            "start": starts[r["number"]],
            "keys": keys[r["number"]],
            "others": sum(p.job == r["number"] and p.key not in keys[r["number"]] for p in state.placements),
        }
        for r in rows
    ]
    jobs.sort(key=lambda j: (not j["must"], -j["priority"], j["job"]))
    row = tank_row(tank, kinds_of(state))
    begun = state.tasks_that_are("under way", "done")
    stay = {k for k, r in state.rows.items() if r["pinned"] or k[:2] in begun}
    crowded = row["mood"] in ("over", "tight")
    moves = relief(state.problem, state.placements, craft, day, stay) if crowded else ()
    pinned = {j["job"] for j in jobs if j["pinned"]}
    found = [
        {"job": m.job, "day": m.day.isoformat(), "hours": m.hours, "keys": keys[m.job]}
        for m in moves
        if m.job not in pinned
    ]
    return {"tank": row, "jobs": jobs, "relief": found}
