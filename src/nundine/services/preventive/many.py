"""Many services at once: held, taken up again, shifted by days, given a crew, reported as done on a day.
Those that may, are; of the others it is said why not."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import FINISHED
from nundine.core.preventive.due import EVENING, window
from nundine.core.timeline import at_local
from nundine.services.access import PLAN, where
from nundine.services.errors import Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import PREVENTIVE_PLANS, WORK_ORDERS, turn
from nundine.services.preventive.raising import STREAM
from nundine.services.wording.phrases import day_words
from nundine.services.work.notes import add_note
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import grounds, natural
from nundine.store.site import Area, site
from nundine.store.work_order import Task

MOST = 2000
MOST_DAYS = 366


@dataclass(frozen=True)
class ServiceNotMoved:
    """A service that stays as it is, and why."""

    plan: str
    asset: str
    why: str


@dataclass(frozen=True)
class ManyMoved:
    count: int
    refused: list[ServiceNotMoved]


Found = tuple[Service, Occurrence | None]
"""A service with its plan, asset and area, and what is raised of it."""
Act = Callable[[Service, Occurrence | None], list[Change]]
"""What is changed of one; Refused says why it stays."""


def hold(account: Account, picked: Sequence[tuple[str, str]], held: bool) -> ManyMoved:
    """Hold services, or take them up again. Raises Refused for none or too many, as all here."""

    def act(one: Service, _: Occurrence | None) -> list[Change]:
        if one.held == held:
            raise Refused("held", "It is held already." if held else "It is not held.")
        return changes_to("service", {_key(one): {"held": held}})

    return _many(account, picked, "Hold" if held else "Take up again", act)


def shift(account: Account, picked: Sequence[tuple[str, str]], days: int) -> ManyMoved:
    """Move what falls due next by days, within tolerance."""
    if not days or abs(days) > MOST_DAYS:
        raise Refused("days", f"They move by 1 to {MOST_DAYS} days.", field="days")

    rungs = PreventivePlan.select(PreventivePlan.rungs)
    chosen = rungs.where(PreventivePlan.number.in_(sorted({p for p, _ in picked}) or [""])).tuples()
    known, today = grounds(r for (r,) in chosen), settings().day(site().timezone)

    def act(one: Service, raised: Occurrence | None) -> list[Change]:
        if raised is not None:
            raise Refused("raised", "It is raised; its WO has its own date.")
        due = natural(known, one, today)
        if due is None or one.next_due is None:
            raise Refused("due", "Nothing falls due of it.")
        to = one.next_due + timedelta(days=days)
        first, last = window(due.day, one.plan.days_before, one.plan.days_behind)
        if not first <= to <= last:
            raise Refused("tolerance", f"It may be done from {day_words(first)} to {day_words(last)}.")
        return changes_to("service", {_key(one): {"moved": [str(due.day), str(to)]}})

    return _many(account, picked, f"Shift by {days} days", act)


def give(account: Account, picked: Sequence[tuple[str, str]], crew: str) -> ManyMoved:
    """Make a crew or person answerable for the plans of services."""
    given: set[str] = set()

    def act(one: Service, _: Occurrence | None) -> list[Change]:
        if one.plan.number in given:
            return []
        given.add(one.plan.number)
        return changes_to("preventive plan", {(one.plan.number,): {"crew": crew.strip()[:160]}})

    return _many(account, picked, f"Give to {crew.strip() or 'nobody'}", act)


def report_done(
    account: Account, picked: Sequence[tuple[str, str]], day: date | None, comment: str = ""
) -> ManyMoved:
    """Report what is raised of services as done on a day (None = today), with the hours that were planned; a
    comment becomes a note on each WO."""
    zone, today = ZoneInfo(site().timezone), settings().day(site().timezone)
    day = day or today
    if day > today:
        raise Refused("day", f"{day_words(day)} is still to come.", field="day")
    ended = at_local(day, EVENING, zone)
    done: list[str] = []

    def act(_: Service, raised: Occurrence | None) -> list[Change]:
        if raised is not None and raised.order is None and raised.request is not None:
            raise Refused("request", f"It is asked for with {raised.request.number}; no WO came of it yet.")
        if raised is None or raised.order is None:
            raise Refused("raised", "Nothing is raised of it.")
        number = raised.order.number
        if raised.order.state == "draft":
            raise Refused("draft", f"{number} is a draft. Approve it first.")
        wanted = {
            (number, t.number): {"state": "done", "ended": ended, "hours_spent": t.hours_spent or t.hours}
            for t in Task.select().where(Task.work_order == raised.order)
            if t.state not in FINISHED
        }
        done.append(number)
        return changes_to("task", wanted)

    with db.atomic():
        moved = _many(account, picked, f"Done on {day}", act)
        for number in done if comment.strip() else ():
            add_note(account, "work order", number, comment)
    return moved


def set_last_done(account: Account, picked: Sequence[tuple[str, str]], day: date | None) -> ManyMoved:
    """Correct the day on which services were done last; what falls due next follows from it. Of those with
    several rungs it is that of the rungs that were done last, of all where none was."""
    if day is None or day > settings().day(site().timezone):
        raise Refused("day", "Say the day, until today, on which they were done last.", field="day")

    def act(one: Service, raised: Occurrence | None) -> list[Change]:
        if raised is not None:
            raise Refused("raised", "It is raised; its WO says when it was done.")
        ones = {row[0] for row in one.lasts if row[3] and row[3] == str(one.last_done)}
        lasts = [
            [row[0], str(day), str(day), str(day), *row[4:]] if row[0] in ones or not ones else row
            for row in one.lasts
        ]
        return changes_to("service", {_key(one): {"lasts": lasts, "moved": None}})

    return _many(account, picked, f"Last done on {day}", act)


def _key(one: Service) -> tuple[str, str]:
    return one.plan.number, one.asset.key


def _many(account: Account, picked: Sequence[tuple[str, str]], label: str, act: Act) -> ManyMoved:
    if not 1 <= len(picked) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} services at once.", field="picked")
    mine = where(account, PLAN)
    refused: list[ServiceNotMoved] = []
    changes: list[Change] = []
    moved = 0
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        turn(WORK_ORDERS)
        found = _found(picked)
        for key in dict.fromkeys(picked):
            try:
                if key not in found:
                    raise Refused("service", "There is no such service any more.")
                one, raised = found[key]
                if mine is not None and one.asset.area.key not in mine:
                    raise Refused("area", "It lies in an area in which you do not plan.")
                changes += act(one, raised)
                moved += 1
            except Refused as bad:
                refused.append(ServiceNotMoved(*key, bad.text))
        if changes:
            what = f"{picked[0][0]} on {picked[0][1]}" if len(picked) == 1 else f"{moved} services"
            write(STREAM, account, Edit("many", f"{label}: {what}", changes), checked=True)
    return ManyMoved(moved, refused)


def _found(picked: Sequence[tuple[str, str]]) -> dict[tuple[str, str], Found]:
    plans = sorted({p for p, _ in picked})
    rows: Any = (
        Service.select(Service, PreventivePlan, Asset, Area)
        .join(PreventivePlan)
        .switch(Service)
        .join(Asset)
        .join(Area)
        .where(PreventivePlan.number.in_(plans))
    )
    wanted = set(picked)
    chosen = PreventivePlan.select(PreventivePlan.id).where(PreventivePlan.number.in_(plans))
    raised = {
        (o.plan_id, o.asset_id): o
        for o in Occurrence.select().where((Occurrence.state == "raised") & Occurrence.plan.in_(chosen))
    }
    return {_key(s): (s, raised.get((s.plan_id, s.asset_id))) for s in rows if _key(s) in wanted}
