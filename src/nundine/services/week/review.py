"""Progress of the week's tasks, and schedule compliance against the revision that was in force when the week
began."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date
from typing import Any

from nundine.core.metrics import CraftHours, Scheduled, break_in_share, days_off, schedule_compliance
from nundine.core.roster import shift_day
from nundine.formats.tables import write_csv
from nundine.services.admin.setup import reasons
from nundine.services.people.names import people_names
from nundine.services.week.seat_lines import in_time, lines
from nundine.services.week.state import WeekState
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.site import Area
from nundine.store.week import Closing, Revision, Week
from nundine.store.work_order import Task, WorkOrder


def baseline(state: WeekState) -> Revision | None:
    """The last revision before the week began, else the first one."""
    found = list(Revision.select().where(Revision.week == state.week).order_by(Revision.number))
    before = [r for r in found if r.at <= state.problem.start]
    return before[-1] if before else found[0] if found else None


def review(state: WeekState) -> dict[str, Any]:
    """Tasks of the week with their progress, and its measures; of a closed week as they were when it was
    closed."""
    closing = closing_of(state.week)
    return {
        "reasons": reasons(),
        "people": [{"key": k, "name": n} for k, n in sorted(people_names().items(), key=lambda p: p[1])],
        **(_as_now(closing.content["review"]) if closing else measured(state)),
        "closing": closing_row(closing) if closing else None,
    }


LATER: dict[str, Any] = {
    "crews": [],
    "seats": [],
    "area": None,
    "reason": None,
    "done_by": [],
    "ended": None,
    "published_day": None,
    "published_start": None,
    "published_end": None,
    "days_off": None,
}
"""What a review frozen by an older Nundine did not hold."""


def _as_now(frozen: dict[str, Any]) -> dict[str, Any]:
    return {**frozen, "tasks": [{**LATER, **t} for t in frozen["tasks"]]}


def closing_of(week: Week) -> Closing | None:
    """The week as it was when it was closed; None while it is open, or open again."""
    found: Closing | None = Closing.get_or_none((Closing.week == week) & Closing.reopened.is_null())
    return found


def closing_row(closing: Closing) -> dict[str, Any]:
    return {
        "at": closing.at.isoformat(),
        "by": closing.account.full_name,
        **{k: closing.content[k] for k in ("unfinished", "backlog")},
    }


def measured(state: WeekState) -> dict[str, Any]:
    """Tasks of the week with their progress, compliance by WOs and by hours, break-ins, hours planned and
    spent by craft."""
    numbers = {p.job for p in state.placements}
    base = baseline(state)
    frozen = base.content["lines"] if base else []
    rows = (
        Task.select(
            Task,
            WorkOrder.number.alias("job"),
            WorkOrder.title.alias("wo_title"),
            WorkOrder.must.alias("must"),
        )
        .join(WorkOrder)
        .where(WorkOrder.number.in_((numbers | {r["job"] for r in frozen}) or {""}))
        .dicts()
    )
    tasks = {(t["job"], t["number"]): t for t in rows}
    board: dict[tuple[str, str, str], dict[str, Any]] = {}
    seats = lines(state)
    names, areas = people_names(), {j.id: j.area for j in state.problem.jobs}
    today = settings().day(state.site.timezone)
    promised: dict[tuple[str, str], list[dict[str, Any]]] = {}
    for r in frozen:
        promised.setdefault((r["job"], r["task"]), []).append(r)
    for r in seats:
        row = tasks[(r["job"], r["task"])]
        fresh = {
            **_progress(row, names),
            "people": [],
            "crews": [],
            "seats": [],
            **_where(r),
            "area": areas.get(r["job"]),
            **_against(state, promised.get((r["job"], r["task"])), row, today),
        }
        item = board.setdefault((r["day"], r["job"], r["task"]), fresh)
        item["people"].append(r["name"])
        item["crews"] = sorted({*item["crews"], r["crew"]} - {None})
        item["seats"].append({k: r[k] for k in ("portion", "seat", "craft", "person", "name")})
    published = _published(frozen)
    return {
        "baseline": base.number if base else None,
        "tasks": sorted(board.values(), key=in_time),
        "compliance": _compliance(published, {key for key, t in tasks.items() if t["state"] == "done"}),
        "break_ins": (coming := sorted(numbers - set(published)) if base else []),
        "break_in_share": break_in_share(
            sum(r["hours"] for r in seats), sum(r["hours"] for r in seats if r["job"] in coming)
        )
        if base
        else None,
        "crafts": [
            {"craft": c.craft, "planned": round(c.planned, 2), "spent": round(c.spent, 2), "ratio": c.ratio}
            for c in _by_craft(seats, tasks)
        ],
    }


def compliance(state: WeekState, areas: Collection[str] = ()) -> dict[str, Any]:
    """Schedule compliance alone: the strip's figure; of the WOs of some areas where they are given."""
    closing = closing_of(state.week)
    if closing and not areas:
        return dict(closing.content["review"]["compliance"])
    base = baseline(state)
    published = _published(base.content["lines"]) if base else {}
    if areas:
        chosen = _jobs_of(set(published), areas)
        published = {job: hours for job, hours in published.items() if job in chosen}
    if closing:
        tasks = closing.content["review"]["tasks"]
        return _compliance(published, {(t["job"], t["task"]) for t in tasks if t["state"] == "done"})
    rows = (
        Task.select(WorkOrder.number, Task.number)
        .join(WorkOrder)
        .where(WorkOrder.number.in_(set(published) or {""}) & (Task.state == "done"))
    )
    return _compliance(published, set(rows.tuples()))


def _jobs_of(numbers: set[str], areas: Collection[str]) -> set[str]:
    """Those of the WOs whose asset lies in one of the areas."""
    rows = WorkOrder.select(WorkOrder.number).join(Asset).join(Area)
    chosen = WorkOrder.number.in_(numbers or {""}) & Area.key.in_(sorted(areas))
    return {n for (n,) in rows.where(chosen).tuples()}


def _published(frozen: list[dict[str, Any]]) -> dict[str, dict[str, float]]:
    """Work hours of a revision by job and task."""
    published: dict[str, dict[str, float]] = {}
    for r in frozen:
        hours = published.setdefault(r["job"], {})
        hours[r["task"]] = hours.get(r["task"], 0.0) + r["hours"]
    return published


def _compliance(published: dict[str, dict[str, float]], done: set[tuple[str, str]]) -> dict[str, Any]:
    """Schedule compliance of published hours by job and task, of which those tasks are done."""
    scheduled = [
        Scheduled(
            job,
            sum(hours.values()),
            all((job, t) in done for t in hours),
            sum(h for t, h in hours.items() if (job, t) in done),
        )
        for job, hours in published.items()
    ]
    found = schedule_compliance(scheduled)
    return {
        "jobs": found.jobs,
        "jobs_done": found.jobs_done,
        "by_jobs": found.by_jobs,
        "hours": round(found.hours, 2),
        "hours_done": round(found.hours_done, 2),
        "by_hours": found.by_hours,
        "source": (
            "Schedule compliance = work completed as scheduled / work scheduled (SMRP "
            "best-practice metrics, work order management; EN 15341 family)."
        ),
    }


def review_csv(state: WeekState) -> bytes:
    """The measures of the week as a table: what, which, figure, unit."""
    found = review(state)
    c = found["compliance"]
    rows: list[list[Any]] = [
        ["schedule compliance", "by WOs", _percent(c["by_jobs"]), "%"],
        ["schedule compliance", "by hours", _percent(c["by_hours"]), "%"],
        ["WOs scheduled", "", c["jobs"], ""],
        ["WOs finished", "", c["jobs_done"], ""],
        ["hours scheduled", "", c["hours"], "h"],
        ["hours finished", "", c["hours_done"], "h"],
        ["break-ins", "share of hours", _percent(found["break_in_share"]), "%"],
        *(["break-in", n, "", ""] for n in found["break_ins"]),
        *(
            [f"hours {kind}", x["craft"], x[kind], "h"]
            for x in found["crafts"]
            for kind in ("planned", "spent")
        ),
    ]
    if found["closing"]:
        rows += [
            ["not finished", r["number"], r["hours"], f"{r['reason']}; to {r['to']}"]
            for r in found["closing"]["unfinished"]
        ]
        rows += [
            [f"weeks of ready backlog {when}", b["craft"], b["weeks"], "weeks"]
            for when in ("before", "after")
            for b in found["closing"]["backlog"][when]
        ]
    return write_csv(["measure", "of", "figure", "unit"], rows)


def _percent(share: float | None) -> float | None:
    return None if share is None else round(100 * share, 1)


def _by_craft(seats: list[dict[str, Any]], tasks: dict[tuple[str, str], dict[str, Any]]) -> list[CraftHours]:
    """Of tasks that are done: work hours planned and spent, each seat by its craft."""
    planned: dict[str, float] = {}
    spent: dict[str, float] = {}
    whole: dict[tuple[str, str], float] = {}
    for r in seats:
        whole[(r["job"], r["task"])] = whole.get((r["job"], r["task"]), 0.0) + r["hours"]
    for r in seats:
        key = (r["job"], r["task"])
        if _done(tasks, *key):
            planned[r["craft"]] = planned.get(r["craft"], 0.0) + r["hours"]
            spent[r["craft"]] = (
                spent.get(r["craft"], 0.0)
                + tasks[key]["hours_spent"] / max(tasks[key]["hours"], 1e-9) * r["hours"]
            )
    return [CraftHours(c, planned[c], spent[c]) for c in sorted(planned)]


def _done(tasks: dict[tuple[str, str], dict[str, Any]], job: str, task: str) -> bool:
    return (job, task) in tasks and tasks[(job, task)]["state"] == "done"


def _against(
    state: WeekState, promised: list[dict[str, Any]] | None, task: dict[str, Any], today: date
) -> dict[str, Any]:
    """The day and hours of the revision in force, and by how many days the task was done early or late, or is
    overdue.

    Days are those of shifts: what a night shift ends after midnight was done on the day on which the shift
    began.
    """
    if not promised:
        return {"published_day": None, "published_start": None, "published_end": None, "days_off": None}
    day = max(r["day"] for r in promised)
    known = state.problem.person_by_id
    who = task["done_by"] or [r["person"] for r in promised if r["person"]]
    hours = [h for key in who if key in known for h in known[key].hours]
    done = shift_day(hours, task["ended"], state.zone) if task["ended"] else None
    return {
        "published_day": day,
        "published_start": min((r["start"] for r in promised if r["start"]), default=None),
        "published_end": max((r["end"] for r in promised if r["end"]), default=None),
        "days_off": days_off(date.fromisoformat(day), done, today),
    }


def _progress(task: dict[str, Any], names: dict[str, str]) -> dict[str, Any]:
    return {
        "reason": task["reason"],
        "done_by": [names.get(k, k) for k in task["done_by"] or ()],
        "ended": task["ended"].isoformat() if task["ended"] else None,
        "state": task["state"],
        "hours_planned": task["hours"],
        "hours_spent": task["hours_spent"],
        "hours_left": task["hours_left"],
        "must": task["must"],
    }


def _where(r: dict[str, Any]) -> dict[str, Any]:
    return {k: r[k] for k in ("job", "title", "task", "what", "asset_name", "day", "start", "end", "hours")}
