"""Freezing a week as a revision, and comparing revisions."""

from __future__ import annotations

from typing import Any

from peewee import fn

from nundine.core.lifecycle import PUBLISHING
from nundine.services import wording
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import run
from nundine.services.ledger.edits import Change, Edit
from nundine.services.lifecycles import need_move
from nundine.services.week.edits import facts_of_week
from nundine.services.week.seat_lines import lines
from nundine.services.week.state import WeekState, locked_week
from nundine.services.work.backlog import summary
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.week import Revision, Week


def weeks_of_backlog(state: WeekState) -> list[dict[str, Any]]:
    """Weeks of ready backlog by craft, as it stands."""
    return [{"craft": c.craft, "name": c.name, "weeks": c.weeks} for c in summary(state).crafts]


def publish(week_name: str, account: Account) -> Revision:
    """Freeze the week as it stands. An agreed or published week may be published; conflicts must be gone or
    are named.

    The week is locked before anything of it is read, so that the revision holds what its count of edits says.
    """
    with locked_week(week_name) as state:
        return _publish(state, account)


def _publish(state: WeekState, account: Account) -> Revision:
    if state.week.status not in ("agreed", "published"):
        raise Refused("status", f"The week is {state.week.status}. Agree it first (step 3), then publish.")
    need_move("week", f"Week {state.week.name}", "agreed", "published", facts_of_week(state), PUBLISHING)
    if state.week.status == "agreed":
        change = Change("week", [state.week.name], {"status": "agreed"}, {"status": "published"})
        run(state.week, account, Edit("publish", "Publish the week", [change], by=PUBLISHING), None)
    week = Week.get(Week.id == state.week.id)
    newest = Revision.select(fn.MAX(Revision.number)).where(Revision.week == week).scalar() or 0
    content = {
        "lines": lines(state),
        "backlog": weeks_of_backlog(state),
        "value": state.checked.value,
        "conflicts": [wording.conflict(b.finding(), state.names) for b in state.checked.conflicts],
    }
    return Revision.create(
        week=week,
        number=newest + 1,
        at=settings().now(),
        account=account,
        edits=week.edits,
        content=content,
    )


def revisions(week: Week) -> list[dict[str, Any]]:
    rows = (
        Revision.select(Revision.number, Revision.at, Revision.edits, Account.full_name)
        .join(Account)
        .where(Revision.week == week)
        .order_by(Revision.number.desc())
    )
    return [{"number": r.number, "at": r.at.isoformat(), "by": r.account.full_name} for r in rows]


def revision(week: Week, number: int) -> Revision:
    found = Revision.get_or_none((Revision.week == week) & (Revision.number == number))
    if found is None:
        raise NotFound("revision", f"Week {week.name} has no revision {number}.")
    return found


def compare(before: list[dict[str, Any]], after: list[dict[str, Any]]) -> dict[str, list[dict[str, Any]]]:
    """Seats that are new, gone, or changed in day, time or person between two lists of lines."""

    def by_key(rows: list[dict[str, Any]]) -> dict[tuple[str, str, int, int], dict[str, Any]]:
        seen: dict[tuple[str, str, int], int] = {}
        out = {}
        for r in rows:
            k = (r["job"], r["task"], r["portion"])
            seen[k] = seen.get(k, -1) + 1
            out[(*k, seen[k])] = r
        return out

    a, b = by_key(before), by_key(after)
    changed = []
    for key in a.keys() & b.keys():
        what = [f for f in ("day", "start", "name") if a[key][f] != b[key][f]]
        if what:
            changed.append({"before": a[key], "after": b[key], "what": what})
    return {
        "added": [b[k] for k in sorted(b.keys() - a.keys())],
        "removed": [a[k] for k in sorted(a.keys() - b.keys())],
        "changed": sorted(changed, key=lambda c: (c["after"]["day"], c["after"]["job"])),
    }


def changes_since(state: WeekState, number: int) -> dict[str, Any]:
    """A revision against the one before it, or for 0 the week as it stands against the newest revision."""
    if number == 0:
        newest = revisions(state.week)
        base = revision(state.week, newest[0]["number"]).content["lines"] if newest else []
        return compare(base, lines(state))
    base = revision(state.week, number - 1).content["lines"] if number > 1 else []
    return compare(base, revision(state.week, number).content["lines"])
