"""Background work of a week: asked for, one of a kind at a time; run by a worker, told, and found when its
worker is gone."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from peewee import fn

from nundine.services.errors import Refused
from nundine.services.ledger.commands import tell
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.week import Build, Week

GOING = ("waiting", "running")


SILENT = timedelta(seconds=60)


def of_kind(week: Week, kind: str) -> Any:
    """Background work of a week of one kind: build or asks."""
    return Build.select().where((Build.week == week) & (fn.JSON_VALUE(Build.asked, "$.kind") == kind))


def newest(week: Week, kind: str) -> Build | None:
    """The background work of a kind that was asked for last."""
    found: Build | None = of_kind(week, kind).order_by(Build.id.desc()).first()
    return found


def how_it_stands(found: Build, gone: str) -> tuple[str, str | None]:
    """running, failed or ready, and why it failed; `gone` is told where its worker went away."""
    alive = found.heartbeat > settings().now() - SILENT
    if found.state == "waiting" or (found.state == "running" and alive):
        return "running", None
    error = found.error or (gone if found.state in GOING else None)
    return "failed" if error else "ready", error


def begin(week: Week, account: Account, asked: dict[str, Any], going: str) -> Build:
    """A row of background work, one of its kind at a time for a week. Raises Refused with `going` while one
    is under way."""
    with db.atomic():
        Week.select(Week.id).where(Week.id == week.id).for_update().get()
        now, kind = settings().now(), asked["kind"]
        alive = (Build.state == "waiting") | ((Build.state == "running") & (Build.heartbeat > now - SILENT))
        if of_kind(week, kind).where(alive).exists():
            raise Refused("running", going)
        made = Build.create(week=week, account=account, asked=asked, created=now, heartbeat=now)
        tell(week.name, kind, {"build": made.id, "state": "waiting"})
    return made


def work_on(build_id: int, event: str, work: Callable[[Build], tuple[str, dict[str, Any]]]) -> None:
    """The frame of all background work: running, then the state and result that `work` gives, or failed and
    why; each told.

    Nothing is done for a row that is no longer waiting. The worker's own connection is open.
    """
    row = Build.get_or_none(Build.id == build_id)
    waiting = (Build.id == build_id) & (Build.state == "waiting")
    if row is None or not Build.update(state="running", heartbeat=settings().now()).where(waiting).execute():
        return
    week = row.week.name
    going = (Build.id == row.id) & Build.state.in_(GOING)  # what was dropped meanwhile stays dropped
    try:
        ended, result = work(row)
        if Build.update(state=ended, result=result, heartbeat=settings().now()).where(going).execute():
            tell(week, event, {"build": row.id, "state": ended})
    except Exception as bad:
        if Build.update(state="failed", error=f"{type(bad).__name__}: {bad}"[:300]).where(going).execute():
            tell(week, event, {"build": row.id, "state": "failed"})
        raise


CUT_OFF = "Nundine ended in the middle of it. Nothing was changed; start it again."


def cut_off() -> None:
    """At the start of the one database no worker can be at work: what was under way when it ended is told
    so."""
    Build.update(state="failed", error=CUT_OFF).where(Build.state == "running").execute()


def waiting() -> list[tuple[int, str]]:
    """Background work that no worker has begun, with its kind; oldest first."""
    rows = Build.select().where(Build.state == "waiting").order_by(Build.id)
    return [(b.id, b.asked["kind"]) for b in rows]
