"""People by day: shifts to scale with the jobs inside, free hours, absences, open seats, deficits."""

from __future__ import annotations

from typing import Any

from nundine.core.timeline import Interval
from nundine.core.week.exchange import Exchange, Place
from nundine.core.week.hand import candidates
from nundine.core.week.load import portion_hours
from nundine.services import wording
from nundine.services.people.hours import hours_by_hand
from nundine.services.people.names import people_names
from nundine.services.week import workable
from nundine.services.week.edits import exchanges_of
from nundine.services.week.edits import held as held_placements
from nundine.services.week.overview import conflict_row
from nundine.services.week.state import WeekState
from nundine.store.placement import Key
from nundine.store.roster import Person, PersonCertificate
from nundine.store.site import Craft
from nundine.store.work_order import Task, WorkOrder

PEOPLE_RULES = ("travel", "away", "double", "full", "craft", "certificate", "seats", "day")


def titles(state: WeekState) -> dict[str, dict[str, Any]]:
    """Title, must and kind of each placed WO, and the titles of its tasks."""
    numbers = {p.job for p in state.placements} or {""}
    rows = WorkOrder.select(
        WorkOrder.id, WorkOrder.number, WorkOrder.title, WorkOrder.must, WorkOrder.kind
    ).where(WorkOrder.number.in_(numbers))
    out = {w["number"]: {**w, "tasks": {}} for w in rows.dicts()}
    tasks = (
        Task.select(Task.number, Task.title, WorkOrder.number.alias("job"))
        .join(WorkOrder)
        .where(WorkOrder.number.in_(numbers))
    )
    for t in tasks.dicts():
        out[t["job"]]["tasks"][t["number"]] = t["title"]
    return out


def crew(state: WeekState, why: bool) -> dict[str, Any]:
    """Rows of people grouped by main craft, a cell for each day; open seats by craft and day. With `why`
    absences say it."""
    named = titles(state)
    rows = {p.key: p for p in Person.select()}
    crafts = {c.key: c.name for c in Craft.select()}
    assets = {a.id: a for a in state.problem.assets}
    broken: dict[tuple[str, str], list[dict[str, Any]]] = {}
    for b in state.checked.conflicts:
        for person in b.people if b.code in PEOPLE_RULES and b.day else ():
            broken.setdefault((person, str(b.day)), []).append(conflict_row(b, state.names))
    ways, taken_over = workable.ways(state), workable.handovers(state)[0]
    work: dict[tuple[str, str], list[dict[str, Any]]] = {}
    open_seats: list[dict[str, Any]] = []
    for p in state.placements:
        job, info = state.problem.job_by_id[p.job], named[p.job]
        task = job.task(p.task)
        hours = portion_hours(p, task)
        base = {
            "job": p.job,
            "area": job.area,
            "task": p.task,
            "portion": p.portion,
            "title": info["title"],
            "task_title": info["tasks"].get(p.task, ""),
            "asset": assets[job.asset].id if job.asset else None,
            "priority": job.priority,
            "must": info["must"],
            "kind": info["kind"],
            "day": p.day.isoformat(),
            "start": p.start.isoformat() if p.start else None,
            "end": p.end.isoformat() if p.end else None,
            "hours": round(hours, 2),
            "pinned": state.rows[p.key]["pinned"],
            "seats": len(p.people),
        }
        for n, (seat, need) in enumerate(zip(p.people, task.seat_needs, strict=True)):
            item = {
                **base,
                "seat": n,
                "craft": need.craft,
                "level": need.level,
                "certificate": need.certificate,
            }
            if seat.id is None:
                open_seats.append(item)
            else:
                work.setdefault((seat.id, p.day.isoformat()), []).append(
                    {**item, **ways.get((seat.id, p.key), {}), "takes_over_from": taken_over.get(p.key)}
                )
    by_hand = hours_by_hand(state, why)
    held = certificates()
    people = []
    for x in state.problem.people:
        days = []
        for d in state.problem.days:
            name = d.isoformat()
            shifts = [h for h in x.hours if h.day == d]
            items = sorted(work.get((x.id, name), []), key=lambda i: (i["start"] is None, i["start"] or ""))
            there = sum(Interval(h.start, h.end).hours for h in shifts)
            load = sum(i["hours"] for i in items)
            told = by_hand.get((x.id, name), [])
            days.append(
                {
                    "day": name,
                    "shifts": [
                        {"start": h.start.isoformat(), "end": h.end.isoformat(), "overtime": h.overtime}
                        for h in shifts
                    ],
                    "work": items,
                    "hours": round(there, 2),
                    "free": round(there - load, 2),
                    "absence": next((h["note"] for h in told if h["what"] == "absence"), None),
                    "by_hand": told,
                    "conflicts": broken.get((x.id, name), []),
                }
            )
        main = x.main_craft
        people.append(
            {
                "key": x.id,
                "name": rows[x.id].name,
                "craft": main,
                "level": x.level_in(main),
                "crew": x.crew,
                "area": x.area,
                "crafts": [{"craft": c.craft, "name": crafts[c.craft], "level": c.level} for c in x.crafts],
                "certificates": held.get(x.id, []),
                "days": days,
            }
        )
    open_seats.sort(key=lambda s: (-s["must"], -s["priority"], s["day"], s["job"]))
    return {
        "people": people,
        "open_seats": open_seats,
        "crafts": [{"key": k, "name": n} for k, n in crafts.items()],
    }


def certificates() -> dict[str, list[dict[str, Any]]]:
    """Certificates by person, those that have ended too."""
    out: dict[str, list[dict[str, Any]]] = {}
    rows = (
        PersonCertificate.select(PersonCertificate, Person.key.alias("who"))
        .join(Person)
        .order_by(PersonCertificate.certificate)
    )
    for c in rows.dicts():
        out.setdefault(c["who"], []).append(
            {"name": c["certificate"], "until": c["until"].isoformat() if c["until"] else None}
        )
    return out


def who_can(state: WeekState, key: Key, seat: int) -> list[dict[str, Any]]:
    """Everybody with the craft, best first, with why, whether anything stands in the way, and what they could
    change places over."""
    one = held_placements(state, [key])[0]
    if not 0 <= seat < len(one.people):
        return []
    names = people_names()
    swaps = exchanges_of(state, key, seat)
    rows = [
        {
            "person": c.person,
            "name": names[c.person],
            "fits": c.fits,
            "why": [wording.candidate(f, state.names) for f in c.why],
            "free_hours": round(c.free_hours, 2),
            "exchange": _told(swaps[c.person]) if c.person in swaps else None,
        }
        for c in candidates(state.problem, state.placements, one, seat)
    ]
    order = list(swaps)
    return sorted(
        rows,
        key=lambda r: (
            not r["fits"],
            r["exchange"] is None,
            order.index(r["person"]) if r["exchange"] else 0,
        ),
    )


def _told(swap: Exchange) -> dict[str, Any]:
    def seats(places: tuple[Place, ...]) -> list[dict[str, Any]]:
        return [
            {
                "job": p.job,
                "task": p.task,
                "day": p.day.isoformat(),
                "start": p.start.isoformat(),
                "end": p.end.isoformat(),
            }
            for p, _ in places
            if p.start and p.end
        ]

    return {"takes": seats(swap.takes), "gives": seats(swap.gives)}
