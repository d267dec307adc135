"""Freezing a week as a revision, and comparing revisions."""

from __future__ import annotations

from dataclasses import asdict, dataclass

from peewee import fn

from nundine.core.lifecycle import PUBLISHING
from nundine.services import wording
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import run
from nundine.services.ledger.edits import Change, Edit
from nundine.services.lifecycles import need_move
from nundine.services.week.edits import facts_of_week
from nundine.services.week.seat_lines import SeatLine, frozen_lines, lines
from nundine.services.week.state import WeekState, locked_week
from nundine.services.work.backlog import summary
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.week import Revision, Week


@dataclass(frozen=True)
class BacklogWeeks:
    """Weeks of ready backlog of a craft; None where it has no hours."""

    craft: str
    name: str
    weeks: float | None


def weeks_of_backlog(state: WeekState) -> list[BacklogWeeks]:
    """Weeks of ready backlog by craft, as it stands."""
    return [BacklogWeeks(c.craft, c.name, c.weeks) for c in summary(state).crafts]


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
        "lines": [asdict(line) for line in lines(state)],
        "backlog": [asdict(b) for b in weeks_of_backlog(state)],
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


@dataclass(frozen=True)
class RevisionRow:
    """A revision: its number, when and by whom it was frozen."""

    number: int
    at: str
    by: str


def revisions(week: Week) -> list[RevisionRow]:
    """The newest first."""
    rows = (
        Revision.select(Revision.number, Revision.at, Revision.edits, Account.full_name)
        .join(Account)
        .where(Revision.week == week)
        .order_by(Revision.number.desc())
    )
    return [RevisionRow(r.number, r.at.isoformat(), r.account.full_name) for r in rows]


def revision(week: Week, number: int) -> Revision:
    found = Revision.get_or_none((Revision.week == week) & (Revision.number == number))
    if found is None:
        raise NotFound("revision", f"Week {week.name} has no revision {number}.")
    return found


@dataclass(frozen=True)
class ChangedLine:
    """A seat before and after, and what of it differs: day, start or name."""

    before: SeatLine
    after: SeatLine
    what: list[str]


@dataclass(frozen=True)
class Compared:
    """Seats that are new, gone, or changed."""

    added: list[SeatLine]
    removed: list[SeatLine]
    changed: list[ChangedLine]


def compare(before: list[SeatLine], after: list[SeatLine]) -> Compared:
    """Seats that are new, gone, or changed in day, time or person between two lists of lines."""

    def by_key(rows: list[SeatLine]) -> dict[tuple[str, str, int, int], SeatLine]:
        seen: dict[tuple[str, str, int], int] = {}
        out = {}
        for r in rows:
            seen[r.key] = seen.get(r.key, -1) + 1
            out[(*r.key, seen[r.key])] = r
        return out

    a, b = by_key(before), by_key(after)
    changed = []
    for key in a.keys() & b.keys():
        what = [f for f in ("day", "start", "name") if getattr(a[key], f) != getattr(b[key], f)]
        if what:
            changed.append(ChangedLine(a[key], b[key], what))
    return Compared(
        [b[k] for k in sorted(b.keys() - a.keys())],
        [a[k] for k in sorted(a.keys() - b.keys())],
        sorted(changed, key=lambda c: (c.after.day, c.after.job)),
    )


def changes_since(state: WeekState, number: int) -> Compared:
    """A revision against the one before it, or for 0 the week as it stands against the newest revision."""

    def frozen(n: int) -> list[SeatLine]:
        return frozen_lines(revision(state.week, n).content) if n else []

    if number == 0:
        newest = revisions(state.week)
        return compare(frozen(newest[0].number if newest else 0), lines(state))
    return compare(frozen(number - 1), frozen(number))
