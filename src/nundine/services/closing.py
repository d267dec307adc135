"""Closing a week: what was done, what was not and why, and where the rest goes. A closed week can only be read."""

from __future__ import annotations

from typing import Any

from nundine.core.metrics import remaining_hours
from nundine.core.timeline import week_beside
from nundine.services import edits
from nundine.services.errors import Refused
from nundine.services.log import TASK_FIELDS, Change, Edit, run
from nundine.services.publish import weeks_of_backlog
from nundine.services.review import baseline, measured
from nundine.services.state import WeekState, load_state
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.site import site, touch
from nundine.store.week import Closing
from nundine.store.work_order import Task, WorkOrder

REASONS = ("no time left", "asset not free", "part missing", "person missing", "more work than planned", "other work came in", "other")
"""Why work was not finished, until the site has a list of its own (common practice, no source)."""


def reasons() -> list[str]:
    return list(site().settings.get("reasons") or REASONS)


def unfinished(state: WeekState) -> list[dict[str, Any]]:
    """WOs of the week with a task that is not done, must-work and dearest first, with the work hours that remain."""
    numbers = {p.job for p in state.placements}
    rows: dict[str, dict[str, Any]] = {}
    for t in _tasks(numbers):
        number = t["job"]
        row = rows.setdefault(
            number,
            {
                "number": number,
                "title": t["wo_title"],
                "must": t["must"],
                "priority": t["priority"],
                "tasks": 0,
                "done": 0,
                "begun": False,
                "hours": 0.0,
            },
        )
        row["tasks"] += 1
        row["done"] += t["state"] == "done"
        row["begun"] |= t["state"] in ("under way", "done") or t["hours_spent"] > 0
        if t["state"] in ("to do", "under way"):
            people = (
                sum(n.people for n in state.problem.job_by_id[number].task(t["number"]).needs)
                if (number, t["number"]) in state.problem.task_by_id
                else 0
            )
            row["hours"] += people * _left(t)
    found = [r for r in rows.values() if r["done"] < r["tasks"]]
    return sorted(({**r, "hours": round(r["hours"], 2)} for r in found), key=lambda r: (not r["must"], -r["priority"], r["number"]))


def _tasks(numbers: set[str]) -> list[dict[str, Any]]:
    query = Task.select(
        Task, WorkOrder.number.alias("job"), WorkOrder.title.alias("wo_title"), WorkOrder.must.alias("must"), WorkOrder.priority.alias("priority")
    ).join(WorkOrder)
    return list(query.where(WorkOrder.number.in_(numbers or {""}) & (Task.state != "skipped")).order_by(Task.id).dicts())


def _left(t: dict[str, Any]) -> float:
    begun = t["state"] == "under way" or t["hours_spent"] > 0
    return remaining_hours(t["hours"], t["hours_spent"], t["hours_left"]) if begun else t["hours"]


def before(state: WeekState) -> dict[str, Any]:
    """What closing would find: figures, unfinished WOs, the reasons to choose from, and the week that may take them."""
    found = measured(state)
    return {
        "next_week": week_beside(state.week.name, 1), "unfinished": unfinished(state), "reasons": reasons(),
        "compliance": found["compliance"], "break_ins": found["break_ins"], "may_close": state.week.status == "published",
    }  # fmt: skip


def close(state: WeekState, account: Account, why: dict[str, str], into_next: list[str]) -> dict[str, Any]:
    """Close the week. Each unfinished WO goes back to the backlog with its remaining hours, or straight into next week.

    Parameters
    ----------
    why
        A reason by WO that is not finished; "other" for those without one.
    into_next
        WOs that are put into next week, where each fits first.
    """
    if state.week.status != "published":
        raise Refused("status", f"The week is {state.week.status}; only a published week can be closed.")
    rows = unfinished(state)
    known, names = set(reasons()), {r["number"] for r in rows}
    wrong = sorted({r for r in why.values() if r not in known})
    if wrong:
        raise Refused("reason", f"{wrong[0]!r} is none of the reasons: {', '.join(reasons())}.", field="reasons")
    strangers = sorted((set(why) | set(into_next)) - names)
    if strangers:
        raise Refused("job", f"{strangers[0]} is finished, or is not in this week.", job=strangers[0])
    with db.atomic():
        base = baseline(state)
        weeks_before = (base.content.get("backlog") if base else None) or weeks_of_backlog(state)
        changes = [Change("week", [state.week.name], {"status": "published"}, {"status": "closed"})]
        for t in _tasks(names):
            if t["state"] == "under way" and t["hours_left"] is None:
                had = {k: t[k] for k in TASK_FIELDS}
                changes.append(Change("task", [t["job"], t["number"]], had, {**had, "hours_left": _left(t)}))
        frozen = measured(state)
        run(state.week, account, Edit("close", "Close the week", changes), None)
        touch(work=True)
        after = load_state(week_beside(state.week.name, 1))
        carried = [n for n in into_next if n in after.problem.job_by_id and not any(p.job == n for p in after.placements)]
        if carried:
            run(after.week, account, edits.put(after, carried, None), None)
        told = [{**r, "reason": why.get(r["number"], "other"), "to": "next week" if r["number"] in carried else "backlog"} for r in rows]
        weeks = {"before": weeks_before, "after": weeks_of_backlog(load_state(week_beside(state.week.name, 1)))}
        content = {"review": frozen, "unfinished": told, "backlog": weeks}
        Closing.create(week=state.week.id, at=settings().now(), account=account, content=content)
    return {"carried": len(carried), "back": len(rows) - len(carried), "next_week": week_beside(state.week.name, 1)}
