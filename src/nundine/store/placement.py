"""Placements of a week in and out of the database, as plain dictionaries keyed by job, task and portion."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from peewee import JOIN

from nundine.core.week import problem as core
from nundine.store.bulk import insert_rows
from nundine.store.roster import Person
from nundine.store.site import Craft
from nundine.store.week import Placement, Seat, Week
from nundine.store.work_order import Task, WorkOrder

Key = tuple[str, str, int]
KEPT = ("pinned", "hand", "answer", "answer_by", "remark")


def load_placements(week: Week, jobs: set[str] | None = None) -> dict[Key, dict[str, Any]]:
    """Each placement as the JSON that commands keep: day, start, end, hours, people, and what is known
    beside."""
    query = (
        Placement.select(Placement, WorkOrder.number.alias("job"), Task.number.alias("step"))
        .join(Task)
        .join(WorkOrder)
        .where(Placement.week == week)
        .order_by(WorkOrder.number, Task.id, Placement.portion)
    )
    if jobs is not None:
        query = query.where(WorkOrder.number.in_(jobs or [""]))
    rows = list(query.dicts())
    seats: dict[int, list[dict[str, Any]]] = {}
    chosen = (
        Seat.select(Seat.placement, Person.key.alias("person_key"), Craft.key.alias("craft_key"))
        .join(Person, JOIN.LEFT_OUTER)
        .switch(Seat)
        .join(Craft)
        .join(Placement, on=Seat.placement == Placement.id)
        .where(Placement.week == week)
        .order_by(Seat.placement, Seat.position)
    )
    if jobs is not None:
        chosen = chosen.where(Seat.placement.in_([r["id"] for r in rows] or [0]))
    for s in chosen.dicts():
        seats.setdefault(s["placement"], []).append({"id": s["person_key"], "craft": s["craft_key"]})
    return {
        (r["job"], r["step"], r["portion"]): {
            "day": r["day"].isoformat(),
            "start": r["start"].isoformat() if r["start"] else None,
            "end": r["end"].isoformat() if r["end"] else None,
            "hours": r["hours"],
            "people": seats.get(r["id"], []),
            **{k: r[k] for k in KEPT},
        }
        for r in rows
    }


def as_core(key: Key, row: dict[str, Any], zone: ZoneInfo) -> core.Placement:
    """The engine's view of a stored placement, times in the site's zone."""

    def moment(text: str | None) -> datetime | None:
        return datetime.fromisoformat(text).astimezone(zone) if text else None

    return core.Placement(
        *key,
        date.fromisoformat(row["day"]),
        moment(row["start"]),
        moment(row["end"]),
        tuple(core.Seat(s["id"], s["craft"]) for s in row["people"]),
        row["hours"],
    )


def as_row(one: core.Placement, **kept: Any) -> dict[str, Any]:
    """A placement of the engine as a stored one; `kept` overrides what is known beside (pinned, hand,
    answer)."""
    return {
        "day": one.day.isoformat(),
        "start": one.start.astimezone(UTC).isoformat() if one.start else None,
        "end": one.end.astimezone(UTC).isoformat() if one.end else None,
        "hours": one.hours if one.start is None else None,
        "people": [{"id": s.id, "craft": s.craft} for s in one.people],
        "pinned": False,
        "hand": False,
        "answer": None,
        "answer_by": None,
        "remark": None,
        **kept,
    }


def write_placements(week: Week, after: dict[Key, dict[str, Any] | None]) -> None:
    """Put each placement as given, or take it away where None is given. Inside the caller's transaction."""
    if not after:
        return
    jobs = {k[0] for k in after}
    tasks = {
        (t["job"], t["number"]): t["id"]
        for t in Task.select(Task.id, Task.number, WorkOrder.number.alias("job"))
        .join(WorkOrder)
        .where(WorkOrder.number.in_(jobs))
        .dicts()
    }
    present = {
        (p["task"], p["portion"]): p["id"]
        for p in Placement.select(Placement.id, Placement.task, Placement.portion)
        .where(
            (Placement.week == week)
            & Placement.task.in_([tasks[k[:2]] for k in after if k[:2] in tasks] or [0])
        )
        .dicts()
    }
    gone = [
        present[(tasks[k[:2]], k[2])] for k in after if k[:2] in tasks and (tasks[k[:2]], k[2]) in present
    ]
    if gone:
        Seat.delete().where(Seat.placement.in_(gone)).execute()
        Placement.delete().where(Placement.id.in_(gone)).execute()
    kept = {k: row for k, row in after.items() if row is not None}
    if not kept:
        return
    seated = {s["id"] for row in kept.values() for s in row["people"] if s["id"]}
    people = (
        dict(Person.select(Person.key, Person.id).where(Person.key.in_(sorted(seated))).tuples())
        if seated
        else {}
    )
    crafts = dict(Craft.select(Craft.key, Craft.id).tuples())
    insert_rows(
        Placement,
        [
            {
                "week": week.id,
                "task": tasks[k[:2]],
                "portion": k[2],
                "day": row["day"],
                "start": datetime.fromisoformat(row["start"]) if row["start"] else None,
                "end": datetime.fromisoformat(row["end"]) if row["end"] else None,
                "hours": row["hours"],
                **{name: row[name] for name in KEPT},
            }
            for k, row in kept.items()
        ],
    )
    ids = {
        (p["task"], p["portion"]): p["id"]
        for p in Placement.select(Placement.id, Placement.task, Placement.portion)
        .where((Placement.week == week) & Placement.task.in_([tasks[k[:2]] for k in kept]))
        .dicts()
    }
    rows = [
        {
            "placement": ids[(tasks[k[:2]], k[2])],
            "position": n,
            "craft": crafts[s["craft"]],
            "person": people[s["id"]] if s["id"] else None,
        }
        for k, row in kept.items()
        for n, s in enumerate(row["people"])
    ]
    insert_rows(Seat, rows)


def placed_in(numbers: list[str]) -> dict[str, str]:
    """The open week in which each of these WOs is placed."""
    rows = (
        Placement.select(WorkOrder.number, Week.name)
        .join(Week)
        .switch(Placement)
        .join(Task)
        .join(WorkOrder)
        .where((Week.status != "closed") & WorkOrder.number.in_(numbers or [""]))
        .distinct()
    )
    return dict(rows.tuples())
