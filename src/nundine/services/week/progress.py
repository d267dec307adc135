"""The running week: what was begun, done or not done and why, by whom; a supervisor's swaps of today."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from nundine.core.lifecycle import FINISHED
from nundine.core.week.problem import Placement
from nundine.services.access import SWAP, may
from nundine.services.admin.setup import reasons
from nundine.services.errors import NotAllowed, Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.values import encode
from nundine.services.week.state import WeekState
from nundine.services.wording.phrases import day_words
from nundine.services.work import task_order
from nundine.services.work.task_order import Step
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.roster import Person

MOST_HOURS = 1000.0
NEAR = timedelta(days=92)
"""How far from its week work may be reported to have ended."""


@dataclass(frozen=True)
class Report:
    """How tasks went. `spent` None keeps the hours reported, or takes the planned ones for what is done.

    `hours_by`: the hours that each person spent; who did it and `spent` follow from them. `along`: earlier
    tasks that are not done yet are reported done with these.
    """

    to: str
    spent: float | None = None
    left: float | None = None
    reason: str | None = None
    who: tuple[str, ...] | None = None
    ended: datetime | None = None
    along: bool = False
    hours_by: Mapping[str, float] | None = None


def report(state: WeekState, tasks: list[Step], said: Report) -> Edit:
    """Report one task or several alike in one command: begun, hours so far, hours left, done, not done and
    why, who did it."""
    return report_each(state, dict.fromkeys(tasks, said))


def report_each(state: WeekState, said: Mapping[Step, Report]) -> Edit:
    """Report several tasks in one command, each in its own way. Raises Refused, and nothing is reported,
    where one of the reports can not be."""
    if not said:
        raise Refused("nothing", "Choose at least one task.", field="tasks")
    for told in {id(r): r for r in said.values()}.values():
        _checked(state, told)
    placed: dict[Step, list[Placement]] = {}
    for p in state.placements:
        placed.setdefault((p.job, p.task), []).append(p)
    for key in said:
        if key not in placed:
            raise Refused("task", f"{key[0]} task {key[1]} is not in this week.", job=key[0])
    rows = task_order.tasks_of({job for job, _ in said})
    done_too = {key for key, one in said.items() if one.to in FINISHED}
    reports: dict[Step, Report] = {}
    for to in dict.fromkeys(one.to for one in said.values()):
        alike = [key for key, one in said.items() if one.to == to]
        one = said[alike[0]]
        for key in task_order.before(rows, alike, to, one.along, done_too):
            reports.setdefault(key, Report("done", ended=one.ended))
    reports = {key: reports[key] for key in reports if key not in said} | dict(said)
    changes = []
    for key, one in reports.items():
        row = rows[key]
        before = task_order.progress_of(row.__data__)
        after = {**before, **_after(state, before, float(row.hours), placed.get(key, []), one)}
        if after != before:
            changes.append(Change("task", list(key), before, after))
    if not changes:
        raise Refused("nothing", "This is what is reported already.")
    first, ways = f"{changes[0].key[0]} task {changes[0].key[1]}", {one.to for one in said.values()}
    how = f"are {ways.pop()}" if len(ways) == 1 else "are reported"
    label = (
        f"{first} is {next(iter(said.values())).to}" if len(changes) == 1 else f"{len(changes)} tasks {how}"
    )
    return Edit("progress", label, changes)


def _checked(state: WeekState, said: Report) -> None:
    """Raises Refused for hours, moments, reasons and people that can not be."""
    for hours in (said.spent, said.left, *(said.hours_by or {}).values()):
        if hours is not None and not 0 <= hours <= MOST_HOURS:
            raise Refused("hours", f"Hours must lie between 0 and {MOST_HOURS:g}.", field="hours_spent")
    if said.ended is not None and not state.problem.start - NEAR <= said.ended <= state.problem.end + NEAR:
        raise Refused(
            "ended",
            f"The end lies more than {NEAR.days} days from week {state.week.name}; look at its "
            "year and month.",
            field="ended",
        )
    if said.ended is not None and said.ended > settings().now():
        raise Refused("ahead", "Work can not have ended at a time that still lies ahead.", field="ended")
    if said.to == "not done" and said.reason not in reasons():
        raise Refused("reason", f"Say why it was not done: {', '.join(reasons())}.", field="reason")
    named = {*(said.who or ()), *(said.hours_by or ())}
    strangers = named - _known(named)
    if strangers:
        raise Refused("person", f"There is no person {min(strangers)}.", field="who")


def _known(people: set[str]) -> set[str]:
    """Those of these people that there are."""
    if not people:
        return set()
    return {key for (key,) in Person.select(Person.key).where(Person.key.in_(sorted(people))).tuples()}


def _after(
    state: WeekState, before: dict[str, Any], hours: float, placed: list[Placement], said: Report
) -> dict[str, Any]:
    by = {who: h for who, h in (said.hours_by or {}).items() if h > 0} or None
    told = _elapsed(placed, by) if by else said.spent
    spent = before["hours_spent"] if told is None else told
    who = sorted(by) if by else said.who
    kept = {"hours_by": by if by or said.hours_by is not None else before["hours_by"]}
    if said.to == "done":
        done_by = sorted({s.id for p in placed for s in p.people if s.id}) if who is None else list(who)
        ended = encode(said.ended) or before["ended"] or encode(_now_or_planned(state, placed))
        return {
            "state": "done",
            "hours_spent": (spent or hours) if told is None else spent,
            "hours_left": None,
            "reason": None,
            "done_by": done_by,
            "ended": ended,
            **kept,
        }
    open_again = {"done_by": None, "ended": None, **kept}
    if said.to == "not done":
        state_now = "under way" if spent > 0 or said.left or before["state"] == "under way" else "to do"
        return {
            "state": state_now,
            "hours_spent": spent,
            "hours_left": said.left or before["hours_left"],
            "reason": said.reason,
            **open_again,
        }
    if said.to == "under way":
        return {
            "state": "under way",
            "hours_spent": spent,
            "hours_left": said.left or None,
            "reason": None,
            **open_again,
        }
    return {
        "state": said.to,
        "hours_spent": 0.0 if said.to == "to do" else spent,
        "hours_left": None,
        "reason": None,
        **open_again,
        **({"hours_by": None} if said.to == "to do" else {}),
    }


def _elapsed(placed: list[Placement], by: Mapping[str, float]) -> float:
    """Hours that the task lasted: those of all people, shared among as many as it has seats."""
    seats = max((len(p.people) for p in placed), default=1)
    return round(sum(by.values()) / max(1, seats), 2)


def _now_or_planned(state: WeekState, placed: list[Placement]) -> datetime:
    """Now; once the week is over, the moment at which it was to end. Work of days ahead was done before its
    day."""
    now = settings().now()
    ends = [p.end for p in placed if p.end is not None]
    if now < state.problem.end + timedelta(days=1) or not ends:
        return now
    return min(now, max(ends))


def may_swap(state: WeekState, swap: Edit, account: Account) -> None:
    """A supervisor swaps people for today; raises NotAllowed when anything of another day changes hands."""
    if may(account, SWAP):
        return
    today = settings().day(state.site.timezone)
    days = {side["day"] for c in swap.changes for side in (c.before, c.after) if side}
    if state.week.status != "published" or days != {today.isoformat()}:
        raise NotAllowed(
            "today", f"A supervisor swaps people in a published week, for today ({day_words(today)}) only."
        )
