"""Rows into the core's people, assets, tools and jobs, for one week. Nothing but reading."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Set
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from peewee import fn

from nundine.core import roster as core_roster
from nundine.core.roster import WorkInterval, working_hours
from nundine.core.timeline import Interval, at_local, merge, week_interval, week_monday
from nundine.core.week import problem as core
from nundine.core.windows import line_above
from nundine.store.asset import Asset, AssetWindow
from nundine.store.base import Table
from nundine.store.ready import offered
from nundine.store.roster import (
    Absence,
    ExtraShift,
    Loan,
    OvertimeOffer,
    PatternShift,
    Person,
    PersonCertificate,
    PersonCraft,
    RosterLine,
    ShiftPattern,
)
from nundine.store.site import Area, Craft, Tool, Way
from nundine.store.week import Placement, Week
from nundine.store.work_order import CrewNeed, Task, TaskAfter, TaskTool, WorkOrder

MOST_JOBS = 5000


def _grouped(rows: Any, key: str) -> dict[int, list[dict[str, Any]]]:
    out: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in rows:
        out[row[key]].append(row)
    return out


def _names(table: type[Table]) -> dict[int, str]:
    return {row["id"]: row["key"] for row in table.select(table.id, table.key).dicts()}  # type: ignore[attr-defined]


def patterns() -> dict[int, core_roster.ShiftPattern]:
    """Shift patterns by row id."""
    rows = _grouped(
        PatternShift.select().order_by(PatternShift.day_index, PatternShift.start).dicts(), "pattern"
    )
    return {
        p.id: core_roster.ShiftPattern(
            p.key, p.cycle_days, tuple(core_roster.PatternShift(s["day_index"], _clock(s["start"]), _clock(s["end"]), s["standing_minutes"]) for s in rows[p.id])
        )
        for p in ShiftPattern.select()
    }  # fmt: skip


def _clock(value: time | timedelta) -> time:
    return value if isinstance(value, time) else (datetime.min + value).time()


def local(moment: datetime | None, zone: ZoneInfo) -> datetime | None:
    return None if moment is None else moment.astimezone(zone)


def load_people(week: str, zone: ZoneInfo) -> tuple[core.Person, ...]:
    """Everybody with hours of the week's shifts; a shift on Sunday night counts whole."""
    monday, span = week_monday(week), week_interval(week, zone)
    until = span.end + timedelta(days=1)
    kinds, areas, crafts = patterns(), _names(Area), _names(Craft)
    levels = _grouped(PersonCraft.select().order_by(PersonCraft.rank).dicts(), "person")
    held = _grouped(PersonCertificate.select().order_by(PersonCertificate.certificate).dicts(), "person")
    lines = _grouped(RosterLine.select().dicts(), "person")
    away = _grouped(
        Absence.select().where((Absence.start < until) & (Absence.end > span.start)).dicts(), "person"
    )
    extra = _grouped(
        OvertimeOffer.select()
        .where((OvertimeOffer.start < span.end) & (OvertimeOffer.end > span.start))
        .dicts(),
        "person",
    )
    more = _grouped(
        ExtraShift.select().where((ExtraShift.start < span.end) & (ExtraShift.end > span.start)).dicts(),
        "person",
    )
    sunday = monday + timedelta(days=6)
    lent = _grouped(
        Loan.select().where((Loan.first <= sunday) & (Loan.last >= monday)).order_by(Loan.first).dicts(),
        "person",
    )

    def dated(rows: list[dict[str, Any]], overtime: bool) -> list[WorkInterval]:
        starts = [(r, r["start"].astimezone(zone)) for r in rows]
        return [
            WorkInterval(start, r["end"].astimezone(zone), overtime, start.date())
            for r, start in starts
            if monday <= start.date() <= sunday
        ]

    def area_on(p: dict[str, Any], day: date) -> int | None:
        """The area for which the person works on a day."""
        return next((x["area"] for x in lent[p["id"]] if x["first"] <= day <= x["last"]), p["area"])

    def area_of(p: dict[str, Any]) -> int | None:
        """The area for which the person works on most days of the week."""
        where = [area_on(p, monday + timedelta(days=n)) for n in range(7)]
        return max(dict.fromkeys(where), key=where.count)

    people = []
    for p in Person.select().order_by(Person.key).dicts():
        roster = [
            core_roster.RosterLine(kinds[line["pattern"]], line["first"], line["last"])
            for line in lines[p["id"]]
        ]
        absences = [Interval(a["start"].astimezone(zone), a["end"].astimezone(zone)) for a in away[p["id"]]]
        hours = working_hours(
            roster, absences, dated(extra[p["id"]], True), monday, 7, zone, dated(more[p["id"]], False)
        )
        people.append(
            core.Person(
                p["key"],
                tuple(core.CraftLevel(crafts[c["craft"]], c["level"]) for c in levels[p["id"]]),
                tuple(core.Certificate(c["certificate"], c["until"]) for c in held[p["id"]]),
                areas.get(area_of(p) or 0),
                p["crew"],
                tuple(
                    core.PersonHours(h.start, h.end, h.overtime, h.day, areas.get(area_on(p, h.day) or 0))
                    for h in hours
                ),
            )
        )
    return tuple(p for p in people if p.crafts)


WindowSpan = tuple[str, str, datetime, datetime]
"""Asset, kind, start, end."""


def load_assets(
    week: str, zone: ZoneInfo, without: Set[WindowSpan] = frozenset(), plus: Set[WindowSpan] = frozenset()
) -> tuple[core.Asset, ...]:
    """Assets with the windows that take effect in the week: an asset's own and those of the assets above it.

    `without` and `plus` tell how it would be with some windows taken away and others drawn.
    """
    span = week_interval(week, zone)
    until = span.end + timedelta(days=1)
    rows = {a["id"]: a for a in Asset.select().dicts()}
    areas, ids = _names(Area), {a["key"]: n for n, a in rows.items()}
    parents = {n: a["parent"] for n, a in rows.items()}
    windows: dict[tuple[int, str], list[Interval]] = defaultdict(list)
    gone = {(ids[asset], kind, start) for asset, kind, start, _ in without}
    stored = AssetWindow.select().where((AssetWindow.start < until) & (AssetWindow.end > span.start)).dicts()
    drawn = [
        {"asset": ids[asset], "kind": kind, "start": start, "end": end} for asset, kind, start, end in plus
    ]
    for w in [*(w for w in stored if (w["asset"], w["kind"], w["start"]) not in gone), *drawn]:
        windows[(w["asset"], w["kind"])].append(
            Interval(w["start"].astimezone(zone), w["end"].astimezone(zone))
        )
    out = []
    for a in sorted(rows.values(), key=lambda a: str(a["key"])):
        above = line_above(a["id"], parents)
        limited = any(rows[i]["limited"] for i in above)
        work = merge(i for n in above for i in windows[(n, "work")])
        run = merge(i for n in above for i in windows[(n, "run")])
        out.append(
            core.Asset(a["key"], areas[a["area"]], work if limited else None, run, a["one_job_at_a_time"])
        )
    return tuple(out)


def load_jobs(week: Week, zone: ZoneInfo, also: Set[str] = frozenset()) -> tuple[core.Job, ...]:
    """Jobs that a build may take (plan, parts and permit gates open, in no other open week), whatever is placed already, and `also`."""
    span = week_interval(week.name, zone)
    placed = Placement.select(Task.work_order).join(Task).where(Placement.week == week)
    chosen = [
        w["id"]
        for w in WorkOrder.select(WorkOrder.id)
        .where(offered(week))
        .order_by(WorkOrder.must.desc(), WorkOrder.priority.desc())
        .limit(MOST_JOBS)
        .dicts()
    ]
    chosen += [row[0] for row in placed.distinct().tuples()]
    if also:
        chosen += [w.id for w in WorkOrder.select(WorkOrder.id).where(WorkOrder.number.in_(sorted(also)))]
    orders = list(
        WorkOrder.select().where(WorkOrder.id.in_(chosen or [0])).order_by(WorkOrder.number).dicts()
    )
    tasks = _grouped(
        Task.select()
        .where(Task.work_order.in_(chosen or [0]))
        .order_by(fn.LENGTH(Task.number), Task.number)
        .dicts(),
        "work_order",
    )
    ids = [t["id"] for group in tasks.values() for t in group] or [0]
    numbers = {t["id"]: t["number"] for group in tasks.values() for t in group}
    open_ids = {t["id"] for group in tasks.values() for t in group if t["state"] in ("to do", "under way")}
    needs = _grouped(
        CrewNeed.select().where(CrewNeed.task.in_(ids)).order_by(CrewNeed.position).dicts(), "task"
    )
    after = _grouped(TaskAfter.select().where(TaskAfter.task.in_(ids)).dicts(), "task")
    tools = _grouped(TaskTool.select().where(TaskTool.task.in_(ids)).dicts(), "task")
    crafts, tool_names, areas = _names(Craft), _names(Tool), _names(Area)
    assets = {a["id"]: a for a in Asset.select(Asset.id, Asset.key, Asset.area).dicts()}
    shown = {row[0] for row in Placement.select(Placement.task).where(Placement.week == week).tuples()}
    jobs = []
    for w in orders:
        steps = tuple(
            core.Task(
                t["number"], t["hours_left"] or t["hours"], t["asset_state"],
                tuple(core.After(numbers[a["before"]], a["lag"]) for a in after[t["id"]] if a["before"] in open_ids | shown),
                t["splittable"], t["min_portion"],
                tuple(core.Need(crafts[n["craft"]], n["level"], n["people"], n["certificate"]) for n in needs[t["id"]]),
                tuple(tool_names[x["tool"]] for x in tools[t["id"]]),
            )
            for t in tasks[w["id"]] if t["id"] in open_ids or t["id"] in shown
        )  # fmt: skip
        if not steps:
            continue
        parts = at_local(w["parts_ready"], time(0), zone) if w["parts_ready"] else None
        starts = [m for m in (local(w["earliest"], zone), parts) if m is not None and m > span.start]
        asset = assets[w["asset"]]
        out = (
            None
            if w["put_back"]
            else _out_since(tasks[w["id"]], {t["id"] for t in tasks[w["id"]] if t["id"] in shown})
        )
        jobs.append(
            core.Job(
                w["number"], asset["key"], w["priority"], steps, areas[asset["area"]], w["must"], w["divisible"],
                max(starts, default=None), local(w["due"], zone), local(w["latest"], zone),
                core.BY_TASK if w["put_back"] else core.WHOLE, local(out, zone) if out and out < span.start else None,
            )
        )  # fmt: skip
    return tuple(jobs)


def _out_since(tasks: list[dict[str, Any]], shown: set[int]) -> datetime | None:
    """When work that needs the asset stopped was first done in an earlier week, if more of it is to come: the asset is still out."""
    stopped = [t for t in tasks if t["asset_state"] == core.STOPPED]
    done = [t["ended"] for t in stopped if t["state"] == "done" and t["ended"] and t["id"] not in shown]
    to_come = any(t["state"] in ("to do", "under way") for t in stopped)
    return min(done, default=None) if to_come else None


def load_ways() -> tuple[core.Travel, ...]:
    """Minutes between areas."""
    areas = _names(Area)
    return tuple(
        core.Travel(areas[w["start"]], areas[w["end"]], w["minutes"])
        for w in Way.select().order_by(Way.start, Way.end).dicts()
    )


def load_crafts() -> tuple[core.Craft, ...]:
    return tuple(core.Craft(c.key, c.held_back) for c in Craft.select().order_by(Craft.id))


def load_tools() -> tuple[core.Tool, ...]:
    return tuple(core.Tool(t.key, t.count) for t in Tool.select().order_by(Tool.key))
