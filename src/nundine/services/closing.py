"""Closing a week: what was done, what was not and why, and where the rest goes. A closed week can only be read."""

from __future__ import annotations

from typing import Any

from nundine.core.metrics import remaining_hours
from nundine.core.timeline import week_beside
from nundine.services import edits
from nundine.services.entities import TASK_FIELDS, text_of
from nundine.services.errors import Refused
from nundine.services.log import Change, Edit, run
from nundine.services.publish import weeks_of_backlog
from nundine.services.review import baseline, measured
from nundine.services.setup import reasons
from nundine.services.state import WeekState, forget, load_state
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.site import touch
from nundine.store.week import Closing
from nundine.store.work_order import Task, WorkOrder


def unfinished(state: WeekState) -> list[dict[str, Any]]:
    """WOs of the week with a task that is not done, must-work and dearest first, with the work hours that remain."""
    return _unfinished(state, _tasks(state))


def _unfinished(state: WeekState, tasks: list[dict[str, Any]]) -> list[dict[str, Any]]:
    of_order: dict[str, list[dict[str, Any]]] = {}
    for t in tasks:
        of_order.setdefault(t["job"], []).append(t)
    people = {key: task.people for key, task in state.problem.task_by_id.items()}
    found = []
    for number, steps in of_order.items():
        left = [t for t in steps if t["state"] in ("to do", "under way")]
        if left:
            first = steps[0]
            found.append(
                {"number": number, "title": first["wo_title"], "must": first["must"], "priority": first["priority"], "tasks": len(steps),
                 "reason": next((t["reason"] for t in left if t["reason"]), None),
                 "done": sum(t["state"] == "done" for t in steps), "begun": any(_begun(t) for t in steps),
                 "hours": round(sum(people[(number, t["number"])] * _left(t) for t in left), 2)}
            )  # fmt: skip
    return sorted(found, key=lambda r: (not r["must"], -r["priority"], r["number"]))


def _tasks(state: WeekState) -> list[dict[str, Any]]:
    """Tasks of the WOs that are placed in the week."""
    query = Task.select(
        Task,
        WorkOrder.number.alias("job"),
        WorkOrder.title.alias("wo_title"),
        WorkOrder.must.alias("must"),
        WorkOrder.priority.alias("priority"),
    ).join(WorkOrder)
    numbers = {p.job for p in state.placements}
    return list(
        query.where(WorkOrder.number.in_(numbers or {""}) & (Task.state != "skipped"))
        .order_by(Task.id)
        .dicts()
    )


def _begun(t: dict[str, Any]) -> bool:
    return t["state"] in ("under way", "done") or t["hours_spent"] > 0


def _left(t: dict[str, Any]) -> float:
    """Elapsed hours that a task to do still needs."""
    return remaining_hours(t["hours"], t["hours_spent"], t["hours_left"]) if _begun(t) else float(t["hours"])


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
    tasks = _tasks(state)
    rows = _unfinished(state, tasks)
    known, names = set(reasons()), {r["number"] for r in rows}
    wrong = sorted({r for r in why.values() if r not in known})
    if wrong:
        raise Refused(
            "reason", f"{wrong[0]!r} is none of the reasons: {', '.join(reasons())}.", field="reasons"
        )
    strangers = sorted((set(why) | set(into_next)) - names)
    if strangers:
        raise Refused("job", f"{strangers[0]} is finished, or is not in this week.", job=strangers[0])
    try:
        return _close(state, account, tasks, rows, why, into_next)
    except BaseException:
        forget()  # what was read inside the transaction is kept under revisions that are taken back with it
        raise


def _close(
    state: WeekState,
    account: Account,
    tasks: list[dict[str, Any]],
    rows: list[dict[str, Any]],
    why: dict[str, str],
    into_next: list[str],
) -> dict[str, Any]:
    following = week_beside(state.week.name, 1)
    with db.atomic():
        base = baseline(state)
        weeks_before = (base.content.get("backlog") if base else None) or weeks_of_backlog(state)
        changes = [Change("week", [state.week.name], {"status": "published"}, {"status": "closed"})]
        for t in tasks:
            if t["state"] == "under way" and t["hours_left"] is None:
                had = {**{k: t[k] for k in TASK_FIELDS}, "ended": text_of(t["ended"])}
                changes.append(Change("task", [t["job"], t["number"]], had, {**had, "hours_left": _left(t)}))
        frozen = measured(state)
        run(state.week, account, Edit("close", "Close the week", changes), None)
        touch(work=True)
        after = load_state(following)
        there = {p.job for p in after.placements}
        carried = [n for n in into_next if n in after.problem.job_by_id and n not in there]
        if carried:
            run(after.week, account, edits.put(after, carried, None), None)
        told = [
            {
                **r,
                "reason": why.get(r["number"]) or r["reason"] or "other",
                "to": "next week" if r["number"] in carried else "backlog",
            }
            for r in rows
        ]
        content = {
            "review": frozen,
            "unfinished": told,
            "backlog": {"before": weeks_before, "after": weeks_of_backlog(load_state(following))},
        }
        Closing.create(week=state.week.id, at=settings().now(), account=account, content=content)
    return {"carried": len(carried), "back": len(rows) - len(carried), "next_week": following}
