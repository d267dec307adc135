"""Accepting a build, beside edits that others made meanwhile."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.week.check import check
from nundine.core.week.problem import Placement
from nundine.core.week.value import points
from nundine.services.errors import Refused
from nundine.services.ledger.commands import run, tell
from nundine.services.ledger.edits import Change, Edit
from nundine.services.week.build_changes import edited_since, wanted_by
from nundine.services.week.builds import ACCEPTED, KIND, find, scope_of, standing
from nundine.services.week.state import WeekState, load_state, locked_week
from nundine.store.account import Account
from nundine.store.ledger import LedgerEntry
from nundine.store.placement import Key, as_core
from nundine.store.run import Run


@dataclass(frozen=True)
class Taken:
    """What became of a build that was accepted: the command (None if nothing was left to change), jobs that
    were left as they are, and those of them that could be fitted in anew, for they are not in the week."""

    command: LedgerEntry | None
    left: list[str]
    to_fit: list[str]


def accept(week: str, account: Account, build_id: int) -> Taken:
    """Apply a build. Edits made meanwhile stay; what they touch, or what no longer fits beside them, is
    listed and left.

    What clashes is looked for before the week is locked, and once more under the lock, where others went on
    editing: nobody waits for the search, and nobody can edit between the last look and writing.
    """
    before, asked = load_state(week), _Asked()
    left = _left_out(before, find(before.week, build_id), asked)
    with locked_week(week) as state:
        found = find(state.week, build_id, lock=True)
        if state.week.edits > before.week.edits:
            left = _left_out(state, found, asked, left)
        return _accept(state, account, found, left)


class _Asked:
    """What a build asks for as the engine knows it, converted once: a second look finds most of it again."""

    def __init__(self) -> None:
        self._made: dict[Key, tuple[dict[str, Any], Placement]] = {}

    def placement(self, key: Key, row: dict[str, Any], zone: ZoneInfo) -> Placement:
        held = self._made.get(key)
        if held is None or held[0] != row:
            held = self._made[key] = (row, as_core(key, row, zone))
        return held[1]


def _left_out(
    state: WeekState, found: Run, asked: _Asked, already: frozenset[str] = frozenset()
) -> frozenset[str]:
    """Jobs of a build that can not be as it wants, beside edits made meanwhile; `already` those of which that
    is known."""
    if standing(found) != "ready" or found.result is None or state.week.edits <= found.asked["edits"]:
        return already
    wanted = wanted_by(state, found.result, scope_of(found.asked))
    left = (already | edited_since(state.week, found)) & {k[0] for k in wanted}
    return frozenset(left | _clashing(state, wanted, asked, left))


def _accept(state: WeekState, account: Account, found: Run, left: frozenset[str]) -> Taken:
    if standing(found) != "ready" or found.result is None:
        raise Refused("build", "There is no finished build to accept.")
    wanted = wanted_by(state, found.result, scope_of(found.asked))
    applied = {k: row for k, row in wanted.items() if k[0] not in left}
    changes = [Change("placement", list(k), state.rows.get(k), row) for k, row in applied.items()]
    made = None
    if changes:
        jobs = len({c.key[0] for c in changes})
        made = run(state.week, account, Edit("build", f"Accept a build ({jobs} jobs changed)", changes), None)
    Run.update(outcome=ACCEPTED).where(Run.id == found.id).execute()
    tell(state.week.name, KIND, {"run": found.id, "state": ACCEPTED})
    held = {k[0] for k in state.rows if applied.get(k, 1) is not None} | {
        k[0] for k, r in applied.items() if r
    }
    return Taken(made, sorted(left), sorted(left - held))


def _clashing(
    state: WeekState,
    wanted: dict[Key, dict[str, Any] | None],
    asked: _Asked,
    left_out: frozenset[str],
) -> set[str]:
    """Jobs of a build that can not stand beside edits made meanwhile: of each broken rule the cheapest, until
    none is broken.

    Each round leaves out at least one job more, so it ends; what can stay stays.
    """
    out: set[str] = set()
    known = state.problem.job_by_id
    stands = {p.key: p for p in state.placements}
    wants = {k: asked.placement(k, r, state.zone) for k, r in wanted.items() if r and k[0] in known}
    before = {(b.code, b.keys) for b in state.checked.conflicts}
    worth = {k[0]: points(known[k[0]], state.problem.weights) for k in wanted if k[0] in known}
    while True:
        rows: dict[Key, Placement | None] = dict(stands)
        rows.update({k: wants.get(k) for k in wanted if k[0] not in left_out | out})
        placements = tuple(p for p in rows.values() if p is not None)
        found = check(state.problem.with_placements(placements), placements).conflicts
        new: set[str] = set()
        for b in found:
            may = {k[0] for k in b.keys if k in wanted and k[0] not in left_out} - out
            if (b.code, b.keys) not in before and may and not may & new:
                new.add(min(may, key=lambda job: (worth[job], job)))
        if not new:
            return out
        out |= new
