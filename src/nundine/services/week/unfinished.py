"""WOs that a week leaves unfinished: what is done of each, the hours that remain, and why, as far as that is
known."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Any

from peewee import fn

from nundine.core.lifecycle import TO_DO
from nundine.core.metrics import remaining_hours
from nundine.core.misses import Circumstances, known_reason
from nundine.services.admin.setup import reasons
from nundine.services.ledger import entries
from nundine.services.ledger.nouns import PLACEMENT
from nundine.services.week.measures import Left
from nundine.services.week.review import baseline
from nundine.services.week.seat_lines import frozen_lines
from nundine.services.week.state import WeekState
from nundine.store.work_order import OPEN_STATES, CrewNeed, Task, WorkOrder


def unfinished(state: WeekState, tasks: list[dict[str, Any]]) -> list[Left]:
    """WOs with a task that is not done, must-work and dearest first, with the work hours that remain."""
    placed = {p.job for p in state.placements}
    of_order: dict[str, list[dict[str, Any]]] = {}
    for t in tasks:
        of_order.setdefault(t["job"], []).append(t)
    people = _people([t["id"] for t in tasks])
    known = _Known(state)
    found = []
    for number, steps in of_order.items():
        left = [t for t in steps if t["state"] in TO_DO]
        if left and (number in placed or steps[0]["wo_state"] in OPEN_STATES):
            reported = next((t["reason"] for t in left if t["reason"]), None)
            hours = sum(people.get(t["id"], 0) * hours_left(t) for t in left)
            first = steps[0]
            found.append(
                Left(
                    number=number,
                    title=first["wo_title"],
                    must=first["must"],
                    priority=first["priority"],
                    tasks=len(steps),
                    done=sum(t["state"] == "done" for t in steps),
                    begun=any(_begun(t) for t in steps),
                    hours=round(hours, 2),
                    reason=reported or known.reason(number, left),
                    out=number not in placed,
                )
            )
    return sorted(found, key=lambda r: (not r.must, -r.priority, r.number))


def tasks_of_week(state: WeekState) -> list[dict[str, Any]]:
    """Tasks of the WOs that are placed in the week, or were in the revision in force when it began."""
    base = baseline(state)
    numbers = {p.job for p in state.placements} | {
        r.job for r in (frozen_lines(base.content) if base else ())
    }
    query = Task.select(
        Task,
        WorkOrder.number.alias("job"),
        WorkOrder.title.alias("wo_title"),
        WorkOrder.state.alias("wo_state"),
        WorkOrder.must.alias("must"),
        WorkOrder.priority.alias("priority"),
    ).join(WorkOrder)
    chosen = WorkOrder.number.in_(numbers or {""}) & (Task.state != "skipped")
    return list(query.where(chosen).order_by(Task.id).dicts())


def hours_left(t: dict[str, Any]) -> float:
    """Elapsed hours that a task to do still needs."""
    return remaining_hours(t["hours"], t["hours_spent"], t["hours_left"]) if _begun(t) else float(t["hours"])


def _begun(t: dict[str, Any]) -> bool:
    return t["state"] in ("under way", "done") or t["hours_spent"] > 0


def _people(tasks: list[int]) -> dict[int, int]:
    """People on each task."""
    rows = CrewNeed.select(CrewNeed.task, fn.SUM(CrewNeed.people)).where(CrewNeed.task.in_(tasks or [0]))
    return {task: int(people) for task, people in rows.group_by(CrewNeed.task).tuples()}


@dataclass
class _Known:
    """What the week knows of its WOs: conflicts, answers, open seats, late parts, and what a break-in pushed
    out."""

    state: WeekState
    site_reasons: set[str] = field(default_factory=lambda: set(reasons()))
    asset: set[str] = field(default_factory=set)
    person: set[str] = field(default_factory=set)
    parts: set[str] = field(default_factory=set)
    pushed: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        state = self.state
        for b in state.checked.conflicts:
            jobs = {k[0] for k in b.keys}
            if b.code == "window":
                self.asset |= jobs
            elif b.code in ("away", "nobody"):
                self.person |= jobs
        self.asset |= {k[0] for k, row in state.rows.items() if row["answer"] == "refused"}
        self.person |= {p.job for p in state.placements if any(s.id is None for s in p.people)}
        last: dict[str, date] = {}
        for p in state.placements:
            last[p.job] = max(last.get(p.job, p.day), p.day)
        waiting = WorkOrder.select(WorkOrder.number, WorkOrder.parts_ready, WorkOrder.parts_unknown)
        waits = WorkOrder.parts_unknown | WorkOrder.parts_ready.is_null(False)
        for number, ready, unknown in waiting.where(
            WorkOrder.number.in_({p.job for p in state.placements} or {""}) & waits
        ).tuples():
            if unknown or ready > last[number]:
                self.parts.add(number)
        self.pushed = _pushed_out(state)

    def reason(self, number: str, left: list[dict[str, Any]]) -> str | None:
        """The reason that is known, if the site has it on its list."""
        found = known_reason(
            Circumstances(
                parts_missing=number in self.parts,
                asset_not_free=number in self.asset,
                person_missing=number in self.person,
                overrun=any(t["hours_spent"] > t["hours"] for t in left),
                pushed_out=number in self.pushed,
            )
        )
        return found if found in self.site_reasons else None


def _pushed_out(state: WeekState) -> set[str]:
    """WOs that left the published week when mending took in one that was not in it."""
    base = baseline(state)
    if base is None:
        return set()
    published = {r.job for r in frozen_lines(base.content)}
    out: set[str] = set()
    mended = [e for e in entries.standing_after(state.week.name, base.edits) if e.kind == "mend"]
    placed: dict[int, list[entries.Changed]] = {}
    for c in entries.changes_of_all(mended, PLACEMENT):
        placed.setdefault(c.entry, []).append(c)
    for changes in placed.values():
        if any(c.before is None and c.key[0] not in published for c in changes):
            out |= {c.key[0] for c in changes if c.after is None}
    return out & published - {p.job for p in state.placements}
