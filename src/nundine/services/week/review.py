"""Progress of the week's tasks, and schedule compliance against the revision that was in force when the week
began."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import asdict, fields
from datetime import date
from typing import Any

from nundine.core.metrics import CraftHours, Scheduled, break_in_share, days_off, schedule_compliance
from nundine.core.roster import shift_day
from nundine.formats.tables import write_csv
from nundine.services.admin.setup import reasons
from nundine.services.people.names import people_names
from nundine.services.week.measures import (
    Compliance,
    CraftFigures,
    Measured,
    PersonName,
    Promised,
    Review,
    ReviewSeat,
    ReviewTask,
    closed_as,
    measured_then,
)
from nundine.services.week.seat_lines import SeatLine, frozen_lines, in_time, lines
from nundine.services.week.state import WeekState
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.reading.kits import kits_of
from nundine.store.site import Area
from nundine.store.week import Closing, Revision, Week
from nundine.store.work_order import Task, WorkOrder


def baseline(state: WeekState) -> Revision | None:
    """The last revision before the week began, else the first one."""
    found = list(Revision.select().where(Revision.week == state.week).order_by(Revision.number))
    before = [r for r in found if r.at <= state.problem.start]
    return before[-1] if before else found[0] if found else None


def review(state: WeekState) -> Review:
    """Tasks of the week with their progress, and its measures; of a closed week as they were when it was
    closed."""
    closing = closing_of(state.week)
    found = measured_then(closing) if closing else measured(state)
    return Review(
        **{f.name: getattr(found, f.name) for f in fields(Measured)},
        reasons=reasons(),
        people=[PersonName(k, n) for k, n in sorted(people_names().items(), key=lambda p: p[1])],
        closing=closed_as(closing) if closing else None,
    )


def closing_of(week: Week) -> Closing | None:
    """The week as it was when it was closed; None while it is open, or open again."""
    found: Closing | None = Closing.get_or_none((Closing.week == week) & Closing.reopened.is_null())
    return found


def measured(state: WeekState) -> Measured:
    """Tasks of the week with their progress, compliance by WOs and by hours, break-ins, hours planned and
    spent by craft."""
    base = baseline(state)
    frozen = frozen_lines(base.content) if base else []
    seats = lines(state)
    placed = {p.job for p in state.placements}
    tasks = _tasks_of(placed | {r.job for r in frozen})
    published = _published(frozen)
    coming = sorted(placed - set(published)) if base else []
    broke_in = sum(r.hours for r in seats if r.job in coming)
    return Measured(
        base.number if base else None,
        _board(state, seats, frozen, tasks),
        _compliance(published, {key for key, t in tasks.items() if t["state"] == "done"}),
        coming,
        break_in_share(sum(r.hours for r in seats), broke_in) if base else None,
        [
            CraftFigures(c.craft, round(c.planned, 2), round(c.spent, 2), c.ratio)
            for c in _by_craft(seats, tasks)
        ],
    )


def _tasks_of(numbers: set[str]) -> dict[tuple[str, str], dict[str, Any]]:
    """Rows of tasks by WO and number."""
    rows = Task.select(Task, WorkOrder.number.alias("job"), WorkOrder.must.alias("must")).join(WorkOrder)
    chosen = rows.where(WorkOrder.number.in_(numbers or {""}))
    return {(t["job"], t["number"]): t for t in chosen.dicts()}


def _board(
    state: WeekState,
    seats: list[SeatLine],
    frozen: list[SeatLine],
    tasks: dict[tuple[str, str], dict[str, Any]],
) -> list[ReviewTask]:
    """A task of a day with all its seats, in the order of time."""
    names, areas = people_names(), {j.id: j.area for j in state.problem.jobs}
    today = settings().day(state.site.timezone)
    promised: dict[tuple[str, str], list[SeatLine]] = {}
    for r in frozen:
        promised.setdefault((r.job, r.task), []).append(r)
    of_task: dict[tuple[str, str, str], list[SeatLine]] = {}
    for r in seats:
        of_task.setdefault((r.day, r.job, r.task), []).append(r)
    board, kits = [], kits_of({job for _, job, _ in of_task})
    for (_, job, task), its in of_task.items():
        row, first = tasks[(job, task)], its[0]
        board.append(
            ReviewTask(
                **{k: getattr(first, k) for k in OF_A_SEAT},
                state=row["state"],
                hours_planned=row["hours"],
                hours_spent=row["hours_spent"],
                hours_left=row["hours_left"],
                must=row["must"],
                people=[r.name for r in its],
                crews=sorted({r.crew for r in its if r.crew}),
                seats=[ReviewSeat(r.portion, r.seat, r.craft, r.person, r.name) for r in its],
                area=areas.get(job),
                kit=kits.get(job, ""),
                reason=row["reason"],
                done_by=[names.get(k, k) for k in row["done_by"] or ()],
                hours_by=row["hours_by"] or {},
                ended=row["ended"].isoformat() if row["ended"] else None,
                **asdict(_against(state, promised.get((job, task)), row, today)),
            )
        )
    return sorted(board, key=in_time)


OF_A_SEAT = ("job", "title", "task", "what", "asset_name", "day", "start", "end", "hours")
"""What a task of the review has of its first seat."""


def compliance(state: WeekState, areas: Collection[str] = ()) -> Compliance:
    """Schedule compliance alone: the strip's figure; of the WOs of some areas where they are given."""
    closing = closing_of(state.week)
    if closing and not areas:
        return measured_then(closing).compliance
    base = baseline(state)
    published = _published(frozen_lines(base.content)) if base else {}
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


def _published(frozen: list[SeatLine]) -> dict[str, dict[str, float]]:
    """Work hours of a revision by job and task."""
    published: dict[str, dict[str, float]] = {}
    for r in frozen:
        hours = published.setdefault(r.job, {})
        hours[r.task] = hours.get(r.task, 0.0) + r.hours
    return published


def _compliance(published: dict[str, dict[str, float]], done: set[tuple[str, str]]) -> Compliance:
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
    return Compliance(
        found.jobs,
        found.jobs_done,
        found.by_jobs,
        round(found.hours, 2),
        round(found.hours_done, 2),
        found.by_hours,
        "Schedule compliance = work completed as scheduled / work scheduled (SMRP "
        "best-practice metrics, work order management; EN 15341 family).",
    )


def review_csv(state: WeekState) -> bytes:
    """The measures of the week as a table: what, which, figure, unit."""
    found = review(state)
    c = found.compliance
    rows: list[list[Any]] = [
        ["schedule compliance", "by WOs", _percent(c.by_jobs), "%"],
        ["schedule compliance", "by hours", _percent(c.by_hours), "%"],
        ["WOs scheduled", "", c.jobs, ""],
        ["WOs finished", "", c.jobs_done, ""],
        ["hours scheduled", "", c.hours, "h"],
        ["hours finished", "", c.hours_done, "h"],
        ["break-ins", "share of hours", _percent(found.break_in_share), "%"],
        *(["break-in", n, "", ""] for n in found.break_ins),
    ]
    for x in found.crafts:
        rows += [["hours planned", x.craft, x.planned, "h"], ["hours spent", x.craft, x.spent, "h"]]
    if found.closing:
        rows += [
            ["not finished", r.number, r.hours, f"{r.reason}; to {r.to}"] for r in found.closing.unfinished
        ]
        for when, weeks in (("before", found.closing.backlog.before), ("after", found.closing.backlog.after)):
            rows += [[f"weeks of ready backlog {when}", b.craft, b.weeks, "weeks"] for b in weeks]
    return write_csv(["measure", "of", "figure", "unit"], rows)


def _percent(share: float | None) -> float | None:
    return None if share is None else round(100 * share, 1)


def _by_craft(seats: list[SeatLine], tasks: dict[tuple[str, str], dict[str, Any]]) -> list[CraftHours]:
    """Of tasks that are done: work hours planned and spent, each seat by its craft."""
    planned: dict[str, float] = {}
    spent: dict[str, float] = {}
    for r in seats:
        row = tasks.get((r.job, r.task))
        if row is not None and row["state"] == "done":
            planned[r.craft] = planned.get(r.craft, 0.0) + r.hours
            of_planned = row["hours_spent"] / max(row["hours"], 1e-9)
            spent[r.craft] = spent.get(r.craft, 0.0) + of_planned * r.hours
    return [CraftHours(c, planned[c], spent[c]) for c in sorted(planned)]


def _against(
    state: WeekState, promised: list[SeatLine] | None, task: dict[str, Any], today: date
) -> Promised:
    """The day and hours of the revision in force, and by how many days the task was done early or late, or is
    overdue.

    Days are those of shifts: what a night shift ends after midnight was done on the day on which the shift
    began.
    """
    if not promised:
        return Promised()
    day = max(r.day for r in promised)
    known = state.problem.person_by_id
    who = task["done_by"] or [r.person for r in promised if r.person]
    hours = [h for key in who if key in known for h in known[key].hours]
    done = shift_day(hours, task["ended"], state.zone) if task["ended"] else None
    return Promised(
        day,
        min((r.start for r in promised if r.start), default=None),
        max((r.end for r in promised if r.end), default=None),
        days_off(date.fromisoformat(day), done, today),
    )
