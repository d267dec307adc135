"""Builds in the background: asked for, run by a worker, watched, stopped, compared, accepted."""

from __future__ import annotations

from datetime import date
from typing import Any

from nundine.core.week.bound.prove import proven_within
from nundine.core.week.building.build import Limits, Progress, Scope, build
from nundine.core.week.check import check
from nundine.core.week.problem import Placement, WeekProblem
from nundine.core.week.search import compiled
from nundine.services.background.courtesy import stand_aside
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin, target_of_week
from nundine.services.background.runs import find as find_run
from nundine.services.background.runs import newest as newest_run
from nundine.services.background.working import Working, need_week
from nundine.services.errors import Refused
from nundine.services.ledger.commands import tell
from nundine.services.retrying import patiently
from nundine.services.week.edits import day_of_week
from nundine.services.week.state import WeekState, load_state
from nundine.services.work.backlog import ready_numbers
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.placement import as_row
from nundine.store.run import GOING, Run
from nundine.store.site import Area
from nundine.store.week import Week

KIND, ACCEPTED, DROPPED = "build", "accepted", "dropped"
PROVE_SECONDS = 8.0
SHORTEST, LONGEST = 0.1, 600.0
"""What a build may be given, seconds."""


def ask(
    state: WeekState,
    account: Account,
    seconds: float,
    crafts: list[str] | None,
    areas: list[str] | None,
    days: list[date] | None,
    mode: str = "all",
) -> Run:
    """A build that a worker will take. One at a time for a week. `mode`: all, days (without times and
    people), seats (finish what is placed)."""
    if state.week.status == "closed":
        raise Refused("closed", f"Week {state.week.name} is closed and can only be read.")
    if not SHORTEST <= seconds <= LONGEST:
        raise Refused(
            "range", f"Seconds of a build lie between {SHORTEST:g} and {LONGEST:g}.", field="seconds"
        )
    known = {
        "craft": {c.id for c in state.problem.crafts},
        "area": {key for (key,) in Area.select(Area.key).tuples()},
    }
    for what, given in (("craft", crafts), ("area", areas)):
        unknown = set(given or ()) - known[what]
        if unknown:
            raise Refused(what, f"There is no {what} {', '.join(sorted(unknown))}.", field=f"{what}s")
    for day in days or ():
        day_of_week(state, day)
    asked = {
        "seconds": seconds,
        "crafts": crafts,
        "areas": areas,
        "mode": mode,
        "days": [d.isoformat() for d in days] if days else None,
        **_as_it_stands(state),
    }
    name = state.week.name
    return begin(KIND, target_of_week(name), f"a build of week {name}", account, asked)


def _as_it_stands(state: WeekState) -> dict[str, Any]:
    """What the week is when a build of it is asked for."""
    return {"edits": state.week.edits, "value": state.checked.value}


def _anew(run: Run) -> dict[str, Any]:
    """The same build of the week as it stands now."""
    return {**run.asked, **_as_it_stands(load_state(need_week(run.target)))}


def scope_of(asked: dict[str, Any]) -> Scope:
    def chosen(name: str) -> frozenset[str] | None:
        return frozenset(asked[name]) if asked.get(name) else None

    days = frozenset(date.fromisoformat(d) for d in asked["days"]) if asked.get("days") else None
    mode = asked.get("mode", "all")
    return Scope(chosen("crafts"), chosen("areas"), days, new_jobs=mode != "seats", days_only=mode == "days")


def problem_to_build(state: WeekState, scope: Scope) -> WeekProblem:
    """Pins and hand work stay, and so does all that lies outside the scope; the rest is the draft before."""

    def stays(p: Placement) -> bool:
        row = state.rows[p.key]
        outside = not scope.takes(state.problem.job_by_id[p.job]) or (
            scope.days is not None and p.day not in scope.days
        )
        return bool(row["pinned"] or row["hand"] or row["answer"] or outside)

    held = {p.job for p in state.placements if stays(p)}
    fixed = tuple(p for p in state.placements if p.job in held)
    rest = tuple(p for p in state.placements if p.job not in held)
    return state.problem.with_placements(fixed, rest)


@background(
    KIND,
    busy="A build of this week is running. Stop it first, or wait for it.",
    partial=True,
    anew=_anew,
)
def run_build(working: Working) -> dict[str, Any]:
    """What the worker does: build with progress, keep the best, give the result."""
    asked = working.asked
    state, scope = load_state(working.week), scope_of(asked)
    problem = problem_to_build(state, scope)
    free_bound = state.week.bound if state.week.bound_of == state.data_mark else None
    curve: list[dict[str, Any]] = []

    def told(p: Progress) -> None:
        point = {
            "seconds": round(p.seconds, 2),
            "value": round(p.value, 1),
            "bound": round(p.bound, 1) if p.bound else None,
            "placed": p.placed,
            "jobs": max(offered, p.placed),
            "compiled": compiled.ready(),
        }
        curve.append(point)
        working.tell(list(curve if len(curve) < 120 else curve[:: len(curve) // 60]), point)

    ready, taken = ready_numbers(state), {j.id for j in problem.jobs if scope.takes(j)}
    offered = len(ready & taken)
    plan = build(
        problem,
        limits=Limits(asked["seconds"], every=0.5, aside=stand_aside),
        scope=scope,
        tell=told,
        stop=lambda: working.stopped,
        helps=False,
        known_bound=free_bound if not problem.fixed else None,
        workers=settings().workers,
    )
    if free_bound is None:
        free_bound = proven_within(state.problem, PROVE_SECONDS) if problem.fixed else plan.bound
        keep_bound(state.week, free_bound, state.data_mark)
    broken = check(problem, plan.placements).errors
    if broken:
        raise ArithmeticError(f"the plan breaks a rule: {broken[0].code} {broken[0].facts}")
    fixed = set(problem.fixed)
    return {
        "status": plan.status,
        "value": plan.value,
        "bound": plan.bound,
        "free_bound": free_bound,
        "seconds": plan.seconds,
        "placements": [[*p.key, as_row(p)] for p in plan.placements if p not in fixed],
        "fixed": sorted({p.job for p in problem.fixed}),
        "not_placed": [
            {"job": n.job, "reason": vars(n.reasons[0])} for n in plan.not_placed if n.job in taken & ready
        ],
    }


def keep_bound(week: Week, value: float, mark: str) -> None:
    """Keep a proven bound of a week as it was; those who look are told."""

    def kept() -> None:
        with db.atomic():
            Week.update(bound=value, bound_of=mark).where(Week.id == week.id).execute()
            tell(week.name, "bound", {})

    patiently(kept)


def find(week: Week, build_id: int, lock: bool = False) -> Run:
    """A build of the week; with `lock` nobody else takes or drops it until the caller's transaction ends.
    Raises NotFound."""
    return find_run(build_id, KIND, target_of_week(week.name), lock)


def latest(week: Week) -> Run | None:
    """The newest build that still wants something: running, or ready or failed and not yet accepted or
    dropped."""
    found = newest_run(KIND, target_of_week(week.name))
    return found if found is not None and standing(found) not in (ACCEPTED, DROPPED) else None


def standing(found: Run) -> str:
    """waiting, running, ready or failed, and once somebody decided, accepted or dropped."""
    return found.outcome or {"done": "ready", "stopped": "failed"}.get(found.state, found.state)


def drop(found: Run) -> None:
    """Give a build up, while it is going or when it is ready. Raises Refused for one that was accepted or
    dropped already."""
    undecided = (Run.id == found.id) & Run.outcome.is_null()
    over = {"state": "stopped", "holds": None, "lane": None, "ended": settings().now()}
    going = over if found.state in GOING else {}
    if not Run.update(outcome=DROPPED, stop=True, **going).where(undecided).execute():
        raise Refused("build", "This build was accepted or dropped already.")
    tell(need_week(found.target), KIND, {"run": found.id, "state": DROPPED})
