"""What is placed in a week as a list: each task on its day, with its people, how it went, how that stands to
what was promised, and what is to be reported."""

from __future__ import annotations

from collections import Counter
from datetime import date, datetime
from typing import Any

from peewee import BooleanField, DateField, FloatField, IntegerField, TextField

from nundine.core.lifecycle import TASK_STATES
from nundine.core.priority import KINDS
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Choice, Column, words
from nundine.services.listing.computed import Computed, has_mark
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.week.measures import ReviewTask
from nundine.services.week.review import review
from nundine.services.week.state import load_state
from nundine.settings import settings
from nundine.store.base import UtcField
from nundine.store.week import Placement
from nundine.store.work_order import Task, WorkOrder

PROMISES = ("on its day", "early", "late", "overdue", "moved", "break-in")
"""How a task stands to the revision that was in force when the week began; none where nothing is
published."""


class TaskOfWeek(Computed):
    """A task on a day of the week."""

    key = TextField()
    day = DateField()
    start = UtcField(null=True)
    end = UtcField(null=True)
    number = TextField()
    title = TextField()
    task_number = TextField()
    task = TextField()
    asset = TextField()
    area = TextField(null=True)
    people = TextField(null=True)
    crews = TextField(null=True)
    crafts = TextField(null=True)
    open = BooleanField()
    state = TextField()
    hours = FloatField()
    spent = FloatField()
    left = FloatField(null=True)
    reason = TextField(null=True)
    ended = UtcField(null=True)
    unreported = BooleanField()
    promise = TextField(null=True)
    promised_day = DateField(null=True)
    days_off = IntegerField(null=True)
    priority = IntegerField(null=True)
    kind = TextField(null=True)
    must = BooleanField()
    pinned = BooleanField()
    answer = TextField(null=True)
    kit = TextField()


def key_of(task: ReviewTask) -> str:
    """What a task of a week is known by: its day, WO and number."""
    return f"{task.day} {task.job} {task.task}"


@listing("tasks", "Tasks of a week", READ)
def tasks(around: Around) -> Listing:
    """All that is placed in the week that is looked at, a row for each day of a task."""
    state = load_state(around.week)
    board = review(state)
    works = {
        n: (p, k)
        for n, p, k in WorkOrder.select(WorkOrder.number, WorkOrder.priority, WorkOrder.kind)
        .where(WorkOrder.number.in_({t.job for t in board.tasks} or {""}))
        .tuples()
    }
    placed = {
        (job, task, day.isoformat()): (pinned, answer)
        for job, task, day, pinned, answer in Placement.select(
            WorkOrder.number, Task.number, Placement.day, Placement.pinned, Placement.answer
        )
        .join(Task)
        .join(WorkOrder)
        .where(Placement.week == state.week)
        .tuples()
    }
    published = board.baseline is not None
    rows = [
        _row(t, around, published, works.get(t.job), placed.get((t.job, t.task, t.day))) for t in board.tasks
    ]
    R = TaskOfWeek
    columns = (
        Column("key", "Task of the week", "text", R.key, width=120, shown=False),
        Column("day", "Day", "day", R.day, group=True, width=76, weight=1),
        Column("start", "Start", "moment", R.start, width=70, weight=2),
        Column("number", "WO", "text", R.number, find=True, width=84, weight=1),
        Column("title", "Work", "text", R.title, find=True, width=180, weight=1),
        Column("task_number", "No.", "text", R.task_number, width=46, shown=False),
        Column("task", "Task", "text", R.task, find=True, width=140, weight=3),
        Column("asset", "Asset", "text", R.asset, find=True, group=True, width=150, weight=4, shown=False),
        Column("area", "Area", "choice", R.area, group=True, width=96, shown=False, choices=areas),
        Column("people", "Who", "marks", None, width=120, weight=2, asked=has_mark(R.people),
               choices=lambda: _marks(rows, "people")),
        Column("crews", "Crew", "marks", None, width=96, shown=False, asked=has_mark(R.crews),
               choices=lambda: _marks(rows, "crews")),
        Column("craft", "Craft", "marks", None, width=110, shown=False, asked=has_mark(R.crafts),
               choices=lambda: _marks(rows, "crafts")),
        Column("open", "Open seats", "yes", R.open, group=True, width=90, shown=False),
        Column("state", "State", "choice", R.state, group=True, width=130, weight=1,
               choices=words(*TASK_STATES)),
        Column("hours", "Hours planned", "hours", R.hours, total=True, width=80, weight=2, shown=False),
        Column("spent", "Hours", "hours", R.spent, total=True, width=86, weight=2,
               hint="hours so far, of those that are planned"),
        Column("left", "Hours left", "hours", R.left, total=True, width=80, shown=False),
        Column("promise", "Promised", "choice", R.promise, group=True, width=82, weight=2,
               choices=words(*PROMISES), hint="against the revision that was in force when the week began"),
        Column("promised_day", "Promised day", "day", R.promised_day, group=True, width=92, shown=False),
        Column("days_off", "Days off", "number", R.days_off, group=True, width=80, shown=False,
               hint="days after (+) or before (-) the promised day; of open work the days it is overdue"),
        Column("reason", "Why not done", "text", R.reason, group=True, width=120, shown=False),
        Column("kit", "Parts set aside in", "text", R.kit, find=True, group=True, width=120, shown=False),
        Column("ended", "Ended", "moment", R.ended, width=130, shown=False),
        Column("unreported", "Not reported back", "yes", R.unreported, group=True, width=110, shown=False),
        Column("priority", "Priority", "number", R.priority, width=80, shown=False),
        Column("kind", "Kind", "choice", R.kind, group=True, width=100, shown=False, choices=words(*KINDS)),
        Column("must", "Must-work", "yes", R.must, group=True, width=84, shown=False),
        Column("pinned", "Pinned", "yes", R.pinned, group=True, width=80, shown=False),
        Column("answer", "Operations", "text", R.answer, group=True, width=100, shown=False),
    )  # fmt: skip

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        return {
            i: {
                "people": rows[i - 1]["people"],
                "crews": rows[i - 1]["crews"],
                "craft": dict(Counter(s.craft for s in board.tasks[i - 1].seats)),
            }
            for i in ids
        }

    return Listing(columns, R.over(rows), R.id, "key", {}, (Sort("day"), Sort("start")), more)


def _marks(rows: list[dict[str, Any]], column: str) -> list[Choice]:
    return [Choice(m, m) for m in sorted({m for r in rows for m in r[column]})]


def _row(
    task: ReviewTask,
    around: Around,
    published: bool,
    work: tuple[int, str] | None,
    placed: tuple[bool, str | None] | None,
) -> dict[str, Any]:
    start, end, ended = (datetime.fromisoformat(m) if m else None for m in (task.start, task.end, task.ended))
    over = end < settings().now() if end else date.fromisoformat(task.day) < around.today
    people = [p or "open" for p in task.people]
    return {
        "key": key_of(task),
        "day": date.fromisoformat(task.day),
        "start": start,
        "end": end,
        "number": task.job,
        "title": task.title,
        "task_number": task.task,
        "task": task.what,
        "asset": task.asset_name,
        "area": task.area,
        "people": people,
        "crews": task.crews,
        "crafts": sorted({s.craft for s in task.seats}),
        "open": "open" in people,
        "state": task.state,
        "hours": task.hours_planned,
        "spent": task.hours_spent,
        "left": task.hours_left,
        "reason": task.reason,
        "ended": ended,
        "unreported": over and task.state in ("to do", "under way"),
        "promise": promise_of(task, published),
        "promised_day": date.fromisoformat(task.published_day) if task.published_day else None,
        "days_off": task.days_off,
        "priority": work[0] if work else None,
        "kind": work[1] if work else None,
        "must": task.must,
        "pinned": bool(placed and placed[0]),
        "answer": placed[1] if placed else None,
        "kit": task.kit,
    }


def promise_of(task: ReviewTask, published: bool) -> str | None:
    """How a task stands to what was promised, one of `PROMISES`; None where nothing was."""
    if task.published_day is None:
        return "break-in" if published else None
    if task.days_off is None:
        return None if task.published_day == task.day else "moved"
    if task.days_off == 0:
        return "on its day"
    if task.state != "done":
        return "overdue"
    return "late" if task.days_off > 0 else "early"
