"""Rows of each import kind as they stand in the database, and writing changed ones. Inside the caller's transaction."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from typing import Any

from peewee import fn

from nundine.store.asset import Asset, AssetWindow
from nundine.store.reading.people import patterns
from nundine.store.roster import (
    Absence,
    OvertimeOffer,
    PatternShift,
    Person,
    PersonCertificate,
    PersonCraft,
    RosterLine,
    ShiftPattern,
)
from nundine.store.site import Area, Craft, Tool, Way
from nundine.store.work_order import CrewNeed, Task, TaskAfter, TaskTool, WorkOrder

Row = dict[str, Any]
ORDER_COLUMNS = ("number", "title", "kind", "state", "raised", "must", "divisible", "put_back", "earliest", "due", "latest", "parts_ready",
                 "parts_unknown", "permit", "description")  # fmt: skip
TASK_COLUMNS = ("title", "hours", "asset_state", "splittable", "min_portion", "state")
BATCH = 1000


def ids(table: Any, key: str = "key") -> dict[str, int]:
    return {getattr(r, key): r.id for r in table.select(table.id, getattr(table, key))}


def _names(table: Any) -> dict[int, str]:
    return {v: k for k, v in ids(table).items()}


def _batches(rows: list[Any]) -> Iterable[list[Any]]:
    return (rows[n : n + BATCH] for n in range(0, len(rows), BATCH))


def standing(kind: str) -> list[Row]:
    """All rows of a kind, in the order of their keys."""
    return list(_STANDING[kind]())


def _areas() -> Iterable[Row]:
    return [{"area": a.key, "name": a.name} for a in Area.select().order_by(Area.key)]


def _ways() -> Iterable[Row]:
    areas = _names(Area)
    rows = [
        {"from": areas[w["start"]], "to": areas[w["end"]], "minutes": w["minutes"]}
        for w in Way.select().dicts()
    ]
    return sorted(rows, key=lambda r: (r["from"], r["to"]))


def _crafts() -> Iterable[Row]:
    return [
        {"craft": c.key, "name": c.name, "held_back": c.held_back} for c in Craft.select().order_by(Craft.id)
    ]


def _tools() -> Iterable[Row]:
    return [{"tool": t.key, "name": t.name, "count": t.count} for t in Tool.select().order_by(Tool.key)]


def _assets() -> Iterable[Row]:
    areas, keys = _names(Area), _names(Asset)
    return [
        {"asset": a["key"], "name": a["name"], "area": areas[a["area"]], "parent": keys.get(a["parent"]), "criticality": a["criticality"],
         "limited": a["limited"], "one_job_at_a_time": a["one_job_at_a_time"]}
        for a in Asset.select().order_by(Asset.id).dicts()
    ]  # fmt: skip


def _windows() -> Iterable[Row]:
    keys = _names(Asset)
    rows = AssetWindow.select().order_by(AssetWindow.asset, AssetWindow.kind, AssetWindow.start).dicts()
    return [
        {"asset": keys[w["asset"]], "kind": w["kind"], "start": w["start"], "end": w["end"]} for w in rows
    ]


def _people() -> Iterable[Row]:
    areas, crafts = _names(Area), _names(Craft)
    have: dict[int, list[tuple[str, int]]] = defaultdict(list)
    for c in PersonCraft.select().order_by(PersonCraft.rank).dicts():
        have[c["person"]].append((crafts[c["craft"]], c["level"]))
    held: dict[int, list[Any]] = defaultdict(list)
    for c in PersonCertificate.select().order_by(PersonCertificate.certificate).dicts():
        held[c["person"]].append((c["certificate"], c["until"]))
    return [
        {"person": p["key"], "name": p["name"], "area": areas.get(p["area"]), "crew": p["crew"], "crafts": tuple(have[p["id"]]),
         "certificates": tuple(held[p["id"]])}
        for p in Person.select().order_by(Person.key).dicts()
    ]  # fmt: skip


def _shifts() -> Iterable[Row]:
    return [
        {
            "pattern": p.id,
            "cycle_days": p.cycle_days,
            "day": s.day_index + 1,
            "start": s.start,
            "end": s.end,
            "standing_minutes": s.standing_minutes,
        }
        for p in patterns().values()
        for s in p.shifts
    ]


def _rosters() -> Iterable[Row]:
    people, kinds = _names(Person), _names(ShiftPattern)
    rows = RosterLine.select().order_by(RosterLine.person, RosterLine.first).dicts()
    return [
        {
            "person": people[r["person"]],
            "pattern": kinds[r["pattern"]],
            "first": r["first"],
            "last": r["last"],
        }
        for r in rows
    ]


def _absences() -> Iterable[Row]:
    people = _names(Person)
    rows = Absence.select().order_by(Absence.person, Absence.start).dicts()
    return [
        {"person": people[r["person"]], "start": r["start"], "end": r["end"], "reason": r["reason"]}
        for r in rows
    ]


def _overtime() -> Iterable[Row]:
    people = _names(Person)
    rows = OvertimeOffer.select().order_by(OvertimeOffer.person, OvertimeOffer.start).dicts()
    return [{"person": people[r["person"]], "start": r["start"], "end": r["end"]} for r in rows]


def _work_orders() -> Iterable[Row]:
    return _order_rows(WorkOrder.select())


def _order_rows(query: Any) -> list[Row]:
    keys = _names(Asset)
    return [
        {**{c: w[c] for c in ORDER_COLUMNS}, "asset": keys[w["asset"]]}
        for w in query.order_by(WorkOrder.number).dicts()
    ]


def _tasks() -> Iterable[Row]:
    return _task_rows(None)


def standing_work(numbers: set[str]) -> tuple[dict[str, Row], dict[str, dict[str, Row]]]:
    """Rows of these WOs by number, and of their tasks by number and task."""
    orders: dict[str, Row] = {}
    tasks: dict[str, dict[str, Row]] = defaultdict(dict)
    for batch in _batches(sorted(numbers)):
        orders |= {r["number"]: r for r in _order_rows(WorkOrder.select().where(WorkOrder.number.in_(batch)))}
        for t in _task_rows(batch):
            tasks[t["number"]][t["task"]] = t
    return orders, dict(tasks)


def _task_rows(numbers: list[str] | None) -> list[Row]:
    """Tasks of all WOs, or of those with these numbers."""
    crafts, tools = _names(Craft), _names(Tool)
    query = WorkOrder.select(WorkOrder.id, WorkOrder.number)
    chosen = Task.select()
    if numbers is not None:
        query = query.where(WorkOrder.number.in_(numbers))
    orders = {w["id"]: w["number"] for w in query.dicts()}
    if numbers is not None:
        chosen = chosen.where(Task.work_order.in_(list(orders) or [0]))
    rows = list(chosen.order_by(Task.work_order, fn.LENGTH(Task.number), Task.number).dicts())
    numbers_of = {t["id"]: t["number"] for t in rows}

    def of_these(table: Any) -> Any:
        return (
            table.select()
            if numbers is None
            else table.select().where(table.task.in_(list(numbers_of) or [0]))
        )

    needs: dict[int, list[Any]] = defaultdict(list)
    for n in of_these(CrewNeed).order_by(CrewNeed.position).dicts():
        needs[n["task"]].append((crafts[n["craft"]], n["people"], n["level"], n["certificate"]))
    after: dict[int, list[Any]] = defaultdict(list)
    for a in of_these(TaskAfter).dicts():
        after[a["task"]].append((numbers_of[a["before"]], a["lag"]))
    used: dict[int, list[str]] = defaultdict(list)
    for x in of_these(TaskTool).dicts():
        used[x["task"]].append(tools[x["tool"]])
    return [
        {"number": orders[t["work_order"]], "task": t["number"], **{c: t[c] for c in TASK_COLUMNS}, "after": tuple(sorted(after[t["id"]])),
         "needs": tuple(needs[t["id"]]), "tools": tuple(sorted(used[t["id"]]))}
        for t in rows
    ]  # fmt: skip


_STANDING: dict[str, Any] = {
    "areas": _areas, "ways": _ways, "crafts": _crafts, "tools": _tools, "assets": _assets, "windows": _windows, "people": _people, "shifts": _shifts,
    "rosters": _rosters, "absences": _absences, "overtime": _overtime, "work_orders": _work_orders, "tasks": _tasks,
}  # fmt: skip


def write(kind: str, rows: list[Row]) -> None:
    """Insert or replace rows by their keys."""
    if rows:
        _WRITE[kind](rows)


def _upsert(table: Any, rows: list[Row], keep: list[Any]) -> None:
    for batch in _batches(rows):
        table.insert_many(batch).on_conflict(preserve=keep).execute()


def _write_areas(rows: list[Row]) -> None:
    _upsert(Area, [{"key": r["area"], "name": r["name"]} for r in rows], [Area.name])


def _write_ways(rows: list[Row]) -> None:
    areas = ids(Area)
    values = [{"start": areas[r["from"]], "end": areas[r["to"]], "minutes": r["minutes"]} for r in rows]
    _upsert(Way, values, [Way.minutes])


def _write_crafts(rows: list[Row]) -> None:
    _upsert(
        Craft,
        [{"key": r["craft"], "name": r["name"], "held_back": r["held_back"]} for r in rows],
        [Craft.name, Craft.held_back],
    )


def _write_tools(rows: list[Row]) -> None:
    _upsert(
        Tool,
        [{"key": r["tool"], "name": r["name"], "count": r["count"]} for r in rows],
        [Tool.name, Tool.count],
    )


def _write_assets(rows: list[Row]) -> None:
    areas = ids(Area)
    kept = ("name", "criticality", "limited", "one_job_at_a_time")
    _upsert(Asset, [{"key": r["asset"], "area": areas[r["area"]], **{c: r[c] for c in kept}} for r in rows],
            [Asset.name, Asset.area, Asset.criticality, Asset.limited, Asset.one_job_at_a_time])  # fmt: skip
    keys = ids(Asset)
    for r in rows:
        Asset.update(parent=keys[r["parent"]] if r["parent"] else None).where(
            Asset.key == r["asset"]
        ).execute()


def _write_windows(rows: list[Row]) -> None:
    keys = ids(Asset)
    _upsert(AssetWindow, [{**r, "asset": keys[r["asset"]]} for r in rows], [AssetWindow.end])


def _write_people(rows: list[Row]) -> None:
    areas, crafts = ids(Area), ids(Craft)
    _upsert(Person, [{"key": r["person"], "name": r["name"], "area": areas.get(r["area"] or ""), "crew": r["crew"]} for r in rows],
            [Person.name, Person.area, Person.crew])  # fmt: skip
    keys = ids(Person)
    mine = [keys[r["person"]] for r in rows]
    PersonCraft.delete().where(PersonCraft.person.in_(mine)).execute()
    PersonCertificate.delete().where(PersonCertificate.person.in_(mine)).execute()
    have = [
        {"person": keys[r["person"]], "craft": crafts[c], "level": level, "rank": n}
        for r in rows
        for n, (c, level) in enumerate(r["crafts"])
    ]
    held = [
        {"person": keys[r["person"]], "certificate": c, "until": until}
        for r in rows
        for c, until in r["certificates"]
    ]
    for table, values in ((PersonCraft, have), (PersonCertificate, held)):
        for batch in _batches(values):
            table.insert_many(batch).execute()


def _write_shifts(rows: list[Row]) -> None:
    _upsert(
        ShiftPattern,
        [{"key": k, "cycle_days": n} for k, n in {r["pattern"]: r["cycle_days"] for r in rows}.items()],
        [ShiftPattern.cycle_days],
    )
    keys = ids(ShiftPattern)
    values = [
        {
            "pattern": keys[r["pattern"]],
            "day_index": r["day"] - 1,
            **{c: r[c] for c in ("start", "end", "standing_minutes")},
        }
        for r in rows
    ]
    _upsert(PatternShift, values, [PatternShift.end, PatternShift.standing_minutes])


def _write_rosters(rows: list[Row]) -> None:
    people, kinds = ids(Person), ids(ShiftPattern)
    values = [
        {
            "person": people[r["person"]],
            "pattern": kinds[r["pattern"]],
            "first": r["first"],
            "last": r["last"],
        }
        for r in rows
    ]
    _upsert(RosterLine, values, [RosterLine.pattern, RosterLine.last])


def _write_absences(rows: list[Row]) -> None:
    people = ids(Person)
    _upsert(Absence, [{**r, "person": people[r["person"]]} for r in rows], [Absence.end, Absence.reason])


def _write_overtime(rows: list[Row]) -> None:
    people = ids(Person)
    _upsert(OvertimeOffer, [{**r, "person": people[r["person"]]} for r in rows], [OvertimeOffer.end])


def _write_work_orders(rows: list[Row]) -> None:
    keys = ids(Asset)
    values = [{**{c: r[c] for c in ORDER_COLUMNS}, "asset": keys[r["asset"]]} for r in rows]
    _upsert(WorkOrder, values, [getattr(WorkOrder, c) for c in (*ORDER_COLUMNS[1:], "asset")])


def _write_tasks(rows: list[Row]) -> None:
    crafts, tools = ids(Craft), ids(Tool)
    orders = _order_ids({r["number"] for r in rows})
    values = [
        {"work_order": orders[r["number"]], "number": r["task"], **{c: r[c] for c in TASK_COLUMNS}}
        for r in rows
    ]
    _upsert(Task, values, [getattr(Task, c) for c in TASK_COLUMNS])
    found: dict[tuple[int, str], int] = {}
    for batch in _batches(sorted(orders.values())):
        found |= {
            (t["work_order"], t["number"]): t["id"]
            for t in Task.select(Task.id, Task.work_order, Task.number)
            .where(Task.work_order.in_(batch))
            .dicts()
        }
    mine = [found[(orders[r["number"]], r["task"])] for r in rows]
    for batch in _batches(mine):
        for table in (CrewNeed, TaskAfter, TaskTool):
            table.delete().where(table.task.in_(batch)).execute()
    needs = [
        {"task": t, "position": n, "craft": crafts[c], "people": people, "level": level, "certificate": cert}
        for t, r in zip(mine, rows, strict=True) for n, (c, people, level, cert) in enumerate(r["needs"])
    ]  # fmt: skip
    after = [
        {"task": t, "before": found[(orders[r["number"]], b)], "lag": lag}
        for t, r in zip(mine, rows, strict=True)
        for b, lag in r["after"]
    ]
    used = [{"task": t, "tool": tools[x]} for t, r in zip(mine, rows, strict=True) for x in r["tools"]]
    for table, made in ((CrewNeed, needs), (TaskAfter, after), (TaskTool, used)):
        for batch in _batches(made):
            table.insert_many(batch).execute()


def _order_ids(numbers: set[str]) -> dict[str, int]:
    out: dict[str, int] = {}
    for batch in _batches(sorted(numbers)):
        out |= {
            w["number"]: w["id"]
            for w in WorkOrder.select(WorkOrder.id, WorkOrder.number)
            .where(WorkOrder.number.in_(batch))
            .dicts()
        }
    return out


_WRITE: dict[str, Any] = {
    "areas": _write_areas, "ways": _write_ways, "crafts": _write_crafts, "tools": _write_tools, "assets": _write_assets, "windows": _write_windows,
    "people": _write_people, "shifts": _write_shifts, "rosters": _write_rosters, "absences": _write_absences, "overtime": _write_overtime,
    "work_orders": _write_work_orders, "tasks": _write_tasks,
}  # fmt: skip
