"""What accepting a build would change."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from nundine.core.week.building.build import Scope
from nundine.services.cache import remember
from nundine.services.ledger import entries
from nundine.services.week import workable
from nundine.services.week.builds import scope_of, standing
from nundine.services.week.state import WeekState
from nundine.store.placement import Key, as_core
from nundine.store.run import Run
from nundine.store.week import Week


def edited_since(week: Week, found: Run) -> set[str]:
    """Jobs that were edited since a build was asked for."""
    later = entries.after(week.name, found.asked["edits"])
    return {t[4:] for c in later for t in c.touches if t.startswith("job ")}


def wanted_by(state: WeekState, result: dict[str, Any], scope: Scope) -> dict[Key, dict[str, Any] | None]:
    """Placements as the build wants them; None for those that it takes out."""
    wanted: dict[Key, dict[str, Any] | None] = {}
    new: dict[Key, dict[str, Any]] = {(j, t, int(n)): row for j, t, n, row in result["placements"]}
    for key, before in state.rows.items():
        kept = before["pinned"] or before["hand"] or before["answer"] or key[0] in result["fixed"]
        in_scope = key[0] in state.problem.job_by_id and scope.takes(state.problem.job_by_id[key[0]])
        if (
            key not in new
            and in_scope
            and not kept
            and (scope.days is None or date.fromisoformat(before["day"]) in scope.days)
        ):
            wanted[key] = None
    for key, row in new.items():
        old = state.rows.get(key)
        row = (
            {**row, **{k: old[k] for k in ("pinned", "hand", "answer", "answer_by", "remark")}}
            if old
            else row
        )
        if old != row:
            wanted[key] = row
    return wanted


@dataclass(frozen=True)
class MovedTask:
    job: str
    task: str
    day_before: str
    day: str
    what: list[str]


@dataclass(frozen=True)
class WorkableBeside:
    """How the week can be worked now, and how if the build is accepted."""

    before: workable.WorkableFigures
    after: workable.WorkableFigures


@dataclass(frozen=True)
class BuildChanges:
    """Jobs put in, taken out and moved; how many stay; those that were edited meanwhile."""

    added: list[str]
    removed: list[str]
    moved: list[MovedTask]
    kept: int
    held_up: list[str]
    workable: WorkableBeside | None


def compare(state: WeekState, found: Run) -> BuildChanges:
    """What accepting a build would change: jobs put in, taken out, moved; value and bound before and
    after."""
    result = found.result
    if standing(found) != "ready" or result is None:
        return BuildChanges([], [], [], 0, [], None)
    wanted = wanted_by(state, result, scope_of(found.asked))
    before, after = (
        {k[0] for k in state.rows},
        {k[0] for k in state.rows if wanted.get(k, 1) is not None} | {k[0] for k, r in wanted.items() if r},
    )
    moved = []
    for key, row in wanted.items():
        old = state.rows.get(key)
        if row and old and key[0] in before & after:
            what = [
                n
                for n, differs in (
                    ("day", row["day"] != old["day"]),
                    ("start", row["start"] != old["start"]),
                    ("people", row["people"] != old["people"]),
                )
                if differs
            ]
            moved.append(MovedTask(key[0], key[1], old["day"], row["day"], what))
    edited = edited_since(state.week, found)
    return BuildChanges(
        sorted(after - before),
        sorted(before - after),
        moved,
        len(before & after) - len({m.job for m in moved}),
        sorted(edited & {k[0] for k in wanted}),
        remember(
            ("beside", found.get_id(), state.week.name, state.week.edits),
            state.problem,
            lambda: _workable(state, wanted),
        ),
    )


def _workable(state: WeekState, wanted: dict[Key, dict[str, Any] | None]) -> WorkableBeside:
    """How the week could be worked as the build wants it, and how it can now."""
    known = state.problem.job_by_id
    stay = [p for p in state.placements if p.key not in wanted]
    new = [as_core(k, r, state.zone) for k, r in wanted.items() if r and k[0] in known]
    placements = tuple(sorted([*stay, *new], key=lambda p: p.key))
    return WorkableBeside(
        workable.figures(workable.found_in(state), state.checked), workable.figures_with(state, placements)
    )
