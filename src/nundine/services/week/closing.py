"""Closing a week: what was done, what was not and why, and where the rest goes; and opening a closed week
again."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from nundine.core.lifecycle import CLOSING, OVER_OR_SAID, WITH_REASONS
from nundine.core.timeline import Interval, week_beside
from nundine.core.week.load import portion_hours
from nundine.services.admin.setup import reasons
from nundine.services.errors import Refused
from nundine.services.ledger import entries
from nundine.services.ledger.commands import run
from nundine.services.ledger.edits import Change, Edit
from nundine.services.lifecycles import need
from nundine.services.week import edits
from nundine.services.week.measures import Compliance, Left
from nundine.services.week.publish import BacklogWeeks, weeks_of_backlog
from nundine.services.week.review import baseline, closing_of, measured
from nundine.services.week.state import WeekState, load_state, locked_week
from nundine.services.week.unfinished import hours_left, tasks_of_week, unfinished
from nundine.services.work.task_order import progress_of
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.week import Closing


@dataclass(frozen=True)
class StillAhead:
    """What of the week lies ahead: whether it has begun, its hours, placements in them and their work
    hours."""

    begun: bool
    hours_of_week: int
    placements: int
    work_hours: float


@dataclass(frozen=True)
class BeforeClosing:
    """What closing would find."""

    next_week: str
    unfinished: list[Left]
    reasons: list[str]
    compliance: Compliance
    break_ins: list[str]
    may_close: bool
    ahead: StillAhead | None


@dataclass(frozen=True)
class Closed:
    """WOs that were carried into next week, and those that went back to the backlog."""

    carried: int
    back: int
    next_week: str


@dataclass(frozen=True)
class Reopened:
    """WOs that stay in next week, for they were changed there or have begun."""

    still_there: list[str]
    next_week: str


def before(state: WeekState) -> BeforeClosing:
    """What closing would find: figures, what lies ahead, unfinished WOs, the reasons to choose from, the week
    that may take them."""
    found = measured(state)
    left = unfinished(state, tasks_of_week(state))
    return BeforeClosing(
        next_week=week_beside(state.week.name, 1),
        unfinished=left,
        reasons=reasons(),
        compliance=found.compliance,
        break_ins=found.break_ins,
        may_close=state.week.status == "published",
        ahead=ahead(state),
    )


def ahead(state: WeekState) -> StillAhead | None:
    """Hours of the week that still lie ahead, with the placements and work hours in them; None once it is
    over."""
    now = settings().local(state.site.timezone)
    if now >= state.problem.end:
        return None
    later = [p for p in state.placements if (p.start > now if p.start is not None else p.day > now.date())]
    tasks = state.problem.task_by_id
    hours = sum(portion_hours(p, tasks[p.key[:2]]) * len(p.people) for p in later)
    return StillAhead(
        begun=now > state.problem.start,
        hours_of_week=round(Interval(max(now, state.problem.start), state.problem.end).hours),
        placements=len(later),
        work_hours=round(hours, 2),
    )


def close(
    week: str, account: Account, why: dict[str, str], into_next: list[str], early: bool = False
) -> Closed:
    """Close the week. Each unfinished WO goes back to the backlog with its remaining hours, or straight into
    next week.

    The week is locked before anything of it is read.

    Parameters
    ----------
    why
        A reason by WO that is not finished; where it is not given, the one that is known. Each needs one.
    into_next
        WOs that are put into next week, where each fits first.
    early
        Close it although hours of the week still lie ahead.
    """
    with locked_week(week) as state:
        tasks = tasks_of_week(state)
        rows = unfinished(state, tasks)
        _refuse(state, rows, why, into_next, early)
        return _close(state, account, tasks, rows, why, into_next)


def _refuse(
    state: WeekState, rows: list[Left], why: dict[str, str], into_next: list[str], early: bool
) -> None:
    """Raises Refused for a week that can not be closed, and for reasons and WOs that do not fit it."""
    week = f"Week {state.week.name}"
    if state.week.status != "published":
        raise Refused("status", f"The week is {state.week.status}; only a published week can be closed.")
    still = ahead(state)
    if still and not early:
        lie_ahead = {"ahead": still.hours_of_week, "placements": still.placements}
        need(OVER_OR_SAID, week, lie_ahead, field="early")
    known, names = set(reasons()), {r.number for r in rows}
    wrong = sorted({r for r in why.values() if r not in known})
    if wrong:
        text = f"{wrong[0]!r} is none of the reasons: {', '.join(reasons())}."
        raise Refused("reason", text, field="reasons")
    strangers = sorted((set(why) | set(into_next)) - names)
    if strangers:
        raise Refused("job", f"{strangers[0]} is finished, or is not in this week.", job=strangers[0])
    without = [r.number for r in rows if not (why.get(r.number) or r.reason)]
    need(WITH_REASONS, week, {"without": without}, jobs=without)


def _close(
    state: WeekState,
    account: Account,
    tasks: list[dict[str, Any]],
    rows: list[Left],
    why: dict[str, str],
    into_next: list[str],
) -> Closed:
    following = week_beside(state.week.name, 1)
    base = baseline(state)
    weeks_before = (base.content.get("backlog") if base else None) or _as_documents(weeks_of_backlog(state))
    changes = [Change("week", [state.week.name], {"status": "published"}, {"status": "closed"})]
    placed = {p.job for p in state.placements}
    for t in tasks:
        if t["job"] in placed and t["state"] == "under way" and t["hours_left"] is None:
            had = progress_of(t)
            changes.append(Change("task", [t["job"], t["number"]], had, {**had, "hours_left": hours_left(t)}))
    frozen = measured(state)
    run(state.week, account, Edit("close", "Close the week", changes, by=CLOSING), None)
    after = load_state(following)
    there = {p.job for p in after.placements}
    carried = [n for n in into_next if n in after.problem.job_by_id and n not in there]
    put = run(after.week, account, edits.put(after, carried, None), None) if carried else None
    told = [
        {
            **asdict(r),
            "reason": why.get(r.number) or r.reason,
            "to": "next week" if r.number in carried else "backlog",
        }
        for r in rows
    ]
    content = {
        "review": asdict(frozen),
        "unfinished": told,
        "carried_by": put.seq if put else None,
        "backlog": {"before": weeks_before, "after": _as_documents(weeks_of_backlog(load_state(following)))},
    }
    Closing.create(week=state.week.id, at=settings().now(), account=account, content=content)
    return Closed(len(carried), len(rows) - len(carried), following)


def _as_documents(weeks: list[BacklogWeeks]) -> list[dict[str, Any]]:
    return [asdict(w) for w in weeks]


def reopen(week: str, account: Account, reason: str) -> Reopened:
    """Open a closed week again, with a reason that its log keeps.

    What closing carried into next week comes out of there, as far as nobody has touched it since; the rest is
    named.
    """
    if not 3 <= len(reason.strip()) <= 200:
        raise Refused("why", "Say why the week is opened again, in 3 to 200 characters.", field="reason")
    with locked_week(week) as state:
        if state.week.status != "closed":
            raise Refused(
                "status", f"Week {week} is {state.week.status}; only a closed one can be opened again."
            )
        closing = closing_of(state.week)
        change = Change("week", [week], {"status": "closed"}, {"status": "published"})
        run(
            state.week,
            account,
            Edit("reopen", f"Open the week again: {reason.strip()}", [change], by=CLOSING),
            None,
        )
        Closing.update(reopened=settings().now()).where(Closing.week == state.week).execute()
        return Reopened(_taken_back(week, account, closing), week_beside(week, 1))


def _taken_back(week: str, account: Account, closing: Closing | None) -> list[str]:
    """Take out of next week what closing had carried there; gives what stays there, for it was changed or has
    begun."""
    if closing is None:
        return []
    carried = {r["number"] for r in closing.content["unfinished"] if r["to"] == "next week"}
    after = load_state(week_beside(week, 1))
    there = carried & {p.job for p in after.placements}
    since = entries.standing_after(after.week.name, closing.content.get("carried_by") or 0)
    touched = {t for e in since for t in e.touches}
    stays = {job for job in there if f"job {job}" in touched}
    back = sorted(there - stays) if after.week.status in ("drafting", "agreed") else []
    if back:
        made = edits.take_out(after, back)
        run(after.week, account, Edit(made.kind, f"Week {week} was opened again", made.changes), None)
    return sorted(there - set(back))
