"""Progress of the week's tasks, and schedule compliance against the revision that was in force when the week began."""

from __future__ import annotations

from typing import Any

from nundine.core.metrics import Scheduled, schedule_compliance
from nundine.services.publish import lines
from nundine.services.state import WeekState
from nundine.store.week import Revision
from nundine.store.work_order import Task, WorkOrder


def baseline(state: WeekState) -> Revision | None:
    """The last revision before the week began, else the first one."""
    found = list(Revision.select().where(Revision.week == state.week).order_by(Revision.number))
    before = [r for r in found if r.at <= state.problem.start]
    return before[-1] if before else found[0] if found else None


def review(state: WeekState) -> dict[str, Any]:
    """Tasks of the week with their progress, and compliance by WOs and by hours."""
    numbers = {p.job for p in state.placements}
    base = baseline(state)
    frozen = base.content["lines"] if base else []
    rows = (
        Task.select(Task, WorkOrder.number.alias("job"), WorkOrder.title.alias("wo_title"), WorkOrder.must.alias("must"))
        .join(WorkOrder)
        .where(WorkOrder.number.in_((numbers | {r["job"] for r in frozen}) or {""}))
        .dicts()
    )
    tasks = {(t["job"], t["number"]): t for t in rows}
    board: dict[tuple[str, str, str], dict[str, Any]] = {}
    for r in lines(state):
        item = board.setdefault((r["day"], r["job"], r["task"]), {**_progress(tasks[(r["job"], r["task"])]), "people": [], **_where(r)})
        item["people"].append(r["name"])
    published: dict[str, dict[str, float]] = {}
    for r in frozen:
        hours = published.setdefault(r["job"], {})
        hours[r["task"]] = hours.get(r["task"], 0.0) + r["hours"]
    scheduled = [
        Scheduled(
            job, sum(hours.values()), all(_done(tasks, job, t) for t in hours), sum(h for t, h in hours.items() if _done(tasks, job, t))
        )
        for job, hours in published.items()
    ]  # fmt: skip
    found = schedule_compliance(scheduled)
    return {
        "baseline": base.number if base else None,
        "tasks": sorted(board.values(), key=lambda t: (t["day"], t["start"] or "~", t["job"])),
        "compliance": {
            "jobs": found.jobs, "jobs_done": found.jobs_done, "by_jobs": found.by_jobs,
            "hours": round(found.hours, 2), "hours_done": round(found.hours_done, 2), "by_hours": found.by_hours,
            "source": "Schedule compliance = work completed as scheduled / work scheduled (SMRP best-practice metrics, work order management; EN 15341 family).",
        },
        "break_ins": sorted(numbers - set(published)) if base else [],
    }  # fmt: skip


def _done(tasks: dict[tuple[str, str], dict[str, Any]], job: str, task: str) -> bool:
    return (job, task) in tasks and tasks[(job, task)]["state"] == "done"


def _progress(task: dict[str, Any]) -> dict[str, Any]:
    return {
        "state": task["state"],
        "hours_planned": task["hours"],
        "hours_spent": task["hours_spent"],
        "hours_left": task["hours_left"],
        "must": task["must"],
    }


def _where(r: dict[str, Any]) -> dict[str, Any]:
    return {k: r[k] for k in ("job", "title", "task", "what", "asset_name", "day", "start", "end", "hours")}
