"""Mending the week as it stands: what would move, and the one command that does it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from nundine.core.week.check import Broken
from nundine.core.week.mending.mend import Mended, mend
from nundine.core.week.moves import Move
from nundine.services import wording
from nundine.services.errors import Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.week.overview import Conflict, conflict_of
from nundine.services.week.state import WeekState
from nundine.services.wording import Names
from nundine.services.work.gates import placeable
from nundine.settings import settings
from nundine.store.placement import KEPT, Key, as_row
from nundine.store.work_order import WorkOrder


def _under_way(state: WeekState) -> set[Key]:
    """Placements of tasks that somebody has begun or finished, and pins."""
    begun = state.tasks_that_are("under way", "done")
    return {k for k, r in state.rows.items() if r["pinned"] or k[:2] in begun}


def _now(state: WeekState) -> datetime | None:
    """The moment, while the week runs. Raises Refused when it is over."""
    now = settings().local(state.site.timezone)
    if now >= state.problem.end:
        raise Refused("over", f"Week {state.week.name} is over; there is nothing to mend any more.")
    return now if now > state.problem.start else None


def mended(state: WeekState, put_in: list[str]) -> Mended:
    """The week after mending. Raises Refused for a job that can not be placed, or is in the week already."""
    held = {p.job for p in state.placements}
    state = placeable(state, put_in)
    for number in put_in:
        if number in held:
            raise Refused("placed", f"{number} is in the week already.", job=number)
    return mend(state.problem, state.placements, stay=_under_way(state), wanted=put_in, now=_now(state))


@dataclass(frozen=True)
class MoveRow:
    """One move in words; `moves`: what it counts, `kind`: in, people, start, day or out."""

    kind: str
    job: str
    title: str
    text: str
    moves: int


@dataclass(frozen=True)
class StaysBroken(Conflict):
    """A rule that stays broken, and what keeps mending from repairing it."""

    why: str


@dataclass(frozen=True)
class MendPreview:
    """`left`: jobs that leave the week; `not_in`: jobs that were wanted and found no place."""

    moves: list[MoveRow]
    count: int
    left: list[str]
    not_in: list[str]
    conflicts: list[StaysBroken]


def preview(state: WeekState, put_in: list[str]) -> MendPreview:
    """What mending would do, in words and figures."""
    names = state.names
    found = mended(state, put_in)
    stays = [StaysBroken(**vars(conflict_of(b, names)), why=_why_it_stays(state, b)) for b in found.conflicts]
    return MendPreview(_told(found.moves, names), found.count, list(found.left), list(found.not_in), stays)


def _why_it_stays(state: WeekState, broken: Broken) -> str:
    """What keeps mending from repairing a broken rule."""
    begun, now = state.tasks_that_are("under way", "done"), _now(state)
    by_key = {p.key: p for p in state.placements}
    why: dict[str, list[str]] = {}
    for key in broken.keys:
        row, one = state.rows.get(key), by_key.get(key)
        if row is None or one is None:
            continue
        if row["pinned"]:
            why.setdefault("is pinned", []).append(f"{key[0]} task {key[1]}")
        elif key[:2] in begun:
            why.setdefault("has begun", []).append(f"{key[0]} task {key[1]}")
        elif now is not None and one.start is not None and one.start.timestamp() < now.timestamp():
            why.setdefault("was to begin before now", []).append(f"{key[0]} task {key[1]}")
    if not why:
        return "no other time and no other people were found for it, not even in place of cheaper work"
    return "; ".join(f"{', '.join(tasks[:3])} {what}" for what, tasks in why.items())


def _told(moves: tuple[Move, ...], names: Names) -> list[MoveRow]:
    """The moves in words with the jobs' titles; a job that leaves is told once, however many tasks it has."""
    order = {"in": 0, "people": 1, "start": 2, "day": 3, "out": 4}
    jobs = {m.job for m in moves} or {""}
    titles = dict(
        WorkOrder.select(WorkOrder.number, WorkOrder.title).where(WorkOrder.number.in_(jobs)).tuples()
    )
    rows: dict[str, MoveRow] = {}
    for m in sorted(moves, key=lambda m: (order.get(m.kind, 9), m.job)):
        leaves = m.kind == "out"
        text = f"{m.job} leaves the week" if leaves else wording.move(m, names)
        row = rows.setdefault(
            m.job if leaves else text, MoveRow(m.kind, m.job, titles.get(m.job, ""), text, 0)
        )
        rows[m.job if leaves else text] = replace(row, moves=row.moves + m.moves)
    return list(rows.values())


def edit(state: WeekState, put_in: list[str]) -> Edit:
    """Mending as one command."""
    found = mended(state, put_in)
    if not found.moves and found.conflicts:
        first = found.conflicts[0]
        text = f"Nothing can move. {conflict_of(first, state.names).text}: {_why_it_stays(state, first)}."
        raise Refused("nothing", text)
    if not found.moves:
        raise Refused("nothing", "Nothing has to move: the week breaks no rule.")
    changes = []
    for m in found.moves:
        one = m.after or m.before
        assert one is not None
        before = state.rows.get(one.key)
        kept = {k: before[k] for k in KEPT} if before else {"hand": True}
        if m.kind in ("start", "day"):
            kept |= {"answer": None, "answer_by": None, "remark": None}
        changes.append(
            Change("placement", list(one.key), before, as_row(m.after, **kept) if m.after else None)
        )
    jobs = len({m.job for m in found.moves})
    return Edit("mend", f"Mend the week ({found.count} moves of {jobs} jobs)", changes)
