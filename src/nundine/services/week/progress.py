"""The running week: what was begun, done or not done and why, by whom; a supervisor's swaps of today."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from nundine.core.week.problem import Placement
from nundine.services.access import SWAP, may
from nundine.services.admin.setup import reasons
from nundine.services.errors import NotAllowed, Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.values import encode
from nundine.services.week.state import WeekState
from nundine.services.wording.phrases import day_words
from nundine.services.work import task_order
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.roster import Person

MOST_HOURS = 1000.0
NEAR = timedelta(days=92)
"""How far from its week work may be reported to have ended."""


@dataclass(frozen=True)
class Report:
    """How tasks went. `spent` None keeps the hours reported, or takes the planned ones for what is done.

    `along`: earlier tasks that are not done yet are reported done with these.
    """

    to: str
    spent: float | None = None
    left: float | None = None
    reason: str | None = None
    who: tuple[str, ...] | None = None
    ended: datetime | None = None
    along: bool = False


def report(state: WeekState, tasks: list[tuple[str, str]], said: Report) -> Edit:
    """Report one task or several in one command: begun, hours so far, hours left, done, not done and why, who
    did it."""
    if not tasks:
        raise Refused("nothing", "Choose at least one task.", field="tasks")
    for hours in (said.spent, said.left):
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
    named = set(said.who or ())
    known = Person.select(Person.key).where(Person.key.in_(sorted(named) or [""])).tuples()
    strangers = named - {key for (key,) in known}
    if strangers:
        raise Refused("person", f"There is no person {min(strangers)}.", field="who")
    placed: dict[tuple[str, str], list[Placement]] = {}
    for p in state.placements:
        placed.setdefault((p.job, p.task), []).append(p)
    chosen = list(dict.fromkeys(tasks))
    for key in chosen:
        if key not in placed:
            raise Refused("task", f"{key[0]} task {key[1]} is not in this week.", job=key[0])
    rows = task_order.tasks_of({job for job, _ in chosen})
    along = task_order.before(rows, chosen, said.to, said.along)
    changes = []
    for key in [*along, *chosen]:
        row = rows[key]
        report_of_it = said if key in chosen else Report("done", ended=said.ended)
        before = task_order.progress_of(row.__data__)
        after = {**before, **_after(state, before, float(row.hours), placed.get(key, []), report_of_it)}
        if after != before:
            changes.append(Change("task", list(key), before, after))
    if not changes:
        raise Refused("nothing", "This is what is reported already.")
    first = f"{changes[0].key[0]} task {changes[0].key[1]}"
    label = f"{first} is {said.to}" if len(changes) == 1 else f"{len(changes)} tasks are {said.to}"
    return Edit("progress", label, changes)


def _after(
    state: WeekState, before: dict[str, Any], hours: float, placed: list[Placement], said: Report
) -> dict[str, Any]:
    spent = before["hours_spent"] if said.spent is None else said.spent
    if said.to == "done":
        who = sorted({s.id for p in placed for s in p.people if s.id}) if said.who is None else list(said.who)
        ended = encode(said.ended) or before["ended"] or encode(_now_or_planned(state, placed))
        return {
            "state": "done",
            "hours_spent": (spent or hours) if said.spent is None else spent,
            "hours_left": None,
            "reason": None,
            "done_by": who,
            "ended": ended,
        }
    open_again = {"done_by": None, "ended": None}
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
    }


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
