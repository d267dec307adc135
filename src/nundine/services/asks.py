"""Asks of a week: worked out in the background, kept until the week changes."""

from __future__ import annotations

from typing import Any

from nundine.core.week.asks import asks
from nundine.core.week.build.builder import Scope
from nundine.services.builds import GOING, SILENT, problem_to_build
from nundine.services.errors import Refused
from nundine.services.log import tell
from nundine.services.spoken import spoken
from nundine.services.state import WeekState, load_state
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.week import Build, Week

SECONDS = 20.0


def _newest(week: Week) -> Build | None:
    rows = Build.select().where(Build.week == week).order_by(Build.id.desc()).limit(40)
    return next((b for b in rows if b.asked.get("kind") == "asks"), None)


def ask_for(state: WeekState, account: Account) -> Build:
    """Have the asks worked out by the worker. Raises Refused while that is being done."""
    found = _newest(state.week)
    if found is not None and found.state in GOING and found.heartbeat > settings().now() - SILENT:
        raise Refused("running", "The asks of this week are being worked out already.")
    now = settings().now()
    asked = {"kind": "asks", "edits": state.week.edits, "mark": state.data_mark}
    made = Build.create(week=state.week, account=account, asked=asked, created=now, heartbeat=now)
    tell(state.week.name, "asks", {"state": "waiting"})
    return made


def run_asks(build_id: int) -> None:
    """What the worker does. Its own connection is open."""
    row = Build.get_or_none(Build.id == build_id)
    if row is None or row.state not in GOING:
        return
    week = row.week.name
    Build.update(state="running", heartbeat=settings().now()).where(Build.id == row.id).execute()
    try:
        state = load_state(week)
        found = asks(problem_to_build(state, Scope()), state.placements, seconds=SECONDS)
        rows = [{**vars(a), "jobs": list(a.jobs), "text": spoken(a.text, a.facts)} for a in found]
        Build.update(state="accepted", result={"asks": rows}, heartbeat=settings().now()).where(Build.id == row.id).execute()
    except Exception as bad:
        Build.update(state="failed", error=f"{type(bad).__name__}: {bad}"[:300]).where(Build.id == row.id).execute()
        raise
    finally:
        tell(week, "asks", {"state": "ready"})


def listed(state: WeekState) -> dict[str, Any]:
    """The asks as last worked out, and whether the week has changed since."""
    found = _newest(state.week)
    going = found is not None and found.state in GOING and found.heartbeat > settings().now() - SILENT
    if found is None:
        return {"state": "none", "asks": [], "current": False, "error": None}
    current = found.asked["edits"] == state.week.edits and found.asked["mark"] == state.data_mark
    result: dict[str, Any] = found.result or {}
    kept = result.get("asks", [])
    error = found.error or ("The worker went away. Work the asks out again." if found.state in GOING and not going else None)
    return {"state": "running" if going else "failed" if error else "ready", "asks": kept, "current": current, "error": error}
