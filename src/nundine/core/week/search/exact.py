"""Solving the exact model of some jobs (`exact_model.py`) with CP-SAT (OR-Tools), from a plan to begin with.

For a small week the model holds every job, and what CP-SAT proves is proven of the week. It tells itself
where it is stricter than the rules (`whole` is False); then its bound says nothing of the week.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ortools.sat.python import cp_model

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.problem import Job
from nundine.core.week.search.exact_model import (
    FEW_PORTIONS,
    MIXED,
    MOST_PORTIONS,
    ExactModel,
    Part,
    Sits,
)
from nundine.core.week.search.exact_prices import SCALE

HELPERS = 2
"""Threads that look for better plans beside those that prove; they share the processors."""


@dataclass
class Exact:
    """What was found: portions of the jobs that are in, their points, a bound of the points, whether that
    bound is of all plans."""

    placed: dict[str, list[Portion]]
    value: float
    bound: float
    optimal: bool
    whole: bool


def literals(board: Board, jobs: list[Job]) -> int:
    """About how many decisions on people the model would have."""
    return sum(
        len(board.qualified(n)) * (1 if not t.splittable else FEW_PORTIONS)
        for j in jobs
        for t in j.tasks
        for n in t.needs
    )


def solve(
    board: Board,
    jobs: list[Job],
    hint: dict[str, list[Portion]],
    *,
    seconds: float,
    workers: int = 1,
    seed: int = 1,
    prove: bool = False,
    alone: bool = False,
    stop: Callable[[float, float], bool] = lambda value, bound: False,
) -> Exact:
    """The best way to place `jobs`, none of which is on the board, beside what stands there.

    Parameters
    ----------
    hint
        Portions to start from (of some of the jobs).
    prove
        Whether the bound matters as much as the plan: long tasks may be cut into more portions, one
        strategy works on the bound
        and one on conflicts, and some improve the plan.
    alone
        Whether it is so small that one strategy does.
    stop
        Asked a few times a second, on the calling thread, whether to end with the best so far; is
        told the points found and the bound
        (none where the model's own would not be that of plans).
    """
    model = ExactModel(board, jobs, MOST_PORTIONS if prove else FEW_PORTIONS)
    _begin_with(model, hint)
    solver, watch = cp_model.CpSolver(), _Watch()
    _set(solver.parameters, seconds, workers, seed, prove and not alone)
    solver.best_bound_callback = watch.bounded
    slack = 0.5 * len(model.points) / SCALE
    found: list[Any] = []
    thread = threading.Thread(target=lambda: found.append(solver.solve(model.m, watch)), daemon=True)
    thread.start()
    while thread.is_alive():
        thread.join(0.1)
        if stop(
            float("-inf") if model.mixed else watch.value,
            watch.bound + slack if model.whole else float("inf"),
        ):
            solver.stop_search()
    status = found[0] if found else cp_model.UNKNOWN
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Exact({}, 0.0, float("inf"), False, False)
    bound = solver.best_objective_bound / SCALE + slack
    placed = {j.id: portions for j in jobs if (portions := _read(solver, model.parts[j.id]))}
    if not _keeps_hours(board, placed):
        return Exact({}, 0.0, bound, False, model.whole)
    value = sum(model.worth.of(j, placed[j.id]) for j in jobs if j.id in placed)
    told = solver.objective_value / SCALE - slack  # more where a split task lies in hours partly overtime
    return Exact(placed, value, bound, status == cp_model.OPTIMAL and value >= told, model.whole)


def _set(parameters: Any, seconds: float, workers: int, seed: int, prove: bool) -> None:
    parameters.max_time_in_seconds = max(seconds, 0.05)
    parameters.random_seed = seed
    parameters.num_workers = workers + HELPERS if prove else workers
    parameters.cp_model_probing_level = 0
    parameters.symmetry_level = 0
    if prove:
        parameters.subsolvers.extend(["max_lp", "no_lp"])


class _Watch(cp_model.CpSolverSolutionCallback):
    """Points found and bound so far."""

    def __init__(self) -> None:
        super().__init__()
        self.value, self.bound = float("-inf"), float("inf")

    def on_solution_callback(self) -> None:
        self.value = max(self.value, self.objective_value / SCALE)

    def bounded(self, bound: float) -> None:
        self.bound = min(self.bound, bound / SCALE)


def _keeps_hours(board: Board, placed: dict[str, list[Portion]]) -> bool:
    """Whether no craft uses more regular hours than it may: the model counts a split task less in hours that
    are partly overtime."""
    spent: dict[str, int] = {}
    for p in (p for portions in placed.values() for p in portions):
        for n in p.people:
            if n is not None:
                spent[board.main[n]] = spent.get(board.main[n], 0) + board.regular_slots(n, p.mask)
    return all(s <= max(0, board.budget[c]) for c, s in spent.items())


def _read(solver: Any, parts: list[Part]) -> list[Portion]:
    out = []
    for p in parts:
        if not solver.boolean_value(p.here):
            continue
        by_need: dict[int, list[int]] = {}
        for sits in p.seats:
            if solver.boolean_value(sits.literal):
                by_need.setdefault(sits.need, []).append(sits.person)
        people = tuple(n for i in range(len(p.task.needs)) for n in by_need.get(i, []))
        start = solver.value(p.start)
        size = p.size if isinstance(p.size, int) else solver.value(p.size)
        out.append(Portion(p.task, p.number, start, start + size, people))
    return out


def _begin_with(model: ExactModel, hint: dict[str, list[Portion]]) -> None:
    """Every variable as it is in the plan to start from."""
    said: set[int] = set()

    def say(variable: Any, value: int) -> None:
        if (
            not isinstance(variable, int)
            and hasattr(variable, "index")
            and variable.index >= 0
            and variable.index not in said
        ):
            said.add(variable.index)
            model.m.add_hint(variable, value)

    at: dict[int, tuple[int, int]] = {}
    for job in model.jobs:
        given = {(q.task.id, q.number): q for q in hint.get(job.id, [])}
        for p in model.parts[job.id]:
            q = given.get((p.task.id, p.number))
            say(p.here, q is not None)
            if q is not None:
                at[id(p)] = (q.start, q.end)
                for variable, value in ((p.start, q.start), (p.end, q.end), (p.size, q.end - q.start)):
                    say(variable, value)
            for sits in p.seats:
                there = q is not None and _is(model.board, sits, p, q)
                say(sits.literal, there)
                say(sits.slots, q.end - q.start if there and q is not None else 0)
    for job, cut, late in model.lates:
        say(late, any(q.end > cut for q in hint.get(job.id, [])))
    for start, end, size, touching in model.spans.values():
        spans = [at[id(p)] for p in touching if id(p) in at]
        first, last = min((a for a, _ in spans), default=0), max((b for _, b in spans), default=0)
        for variable, value in ((start, first), (end, last), (size, last - first)):
            say(variable, value)
    held = {j: {(q.task.id, q.number): q for q in portions} for j, portions in hint.items()}
    for job_id, variable, value_in in model.hints:
        say(variable, value_in(held.get(job_id, {})))
    for counted, p in model.counts:
        say(counted, at[id(p)][1] - at[id(p)][0] if id(p) in at else 0)


def _is(board: Board, sits: Sits, p: Part, q: Portion) -> bool:
    """Whether a portion as it is placed has this person on this seat in this stretch of hours."""
    needs = (i for i, need in enumerate(p.task.needs) for _ in range(need.people))
    if (sits.need, sits.person) not in zip(
        needs, q.people, strict=True
    ) or not sits.first <= q.start < sits.last:
        return False
    if sits.outside == MIXED:
        return True
    extra = board.there[sits.person] & ~board.regular[sits.person]
    return sits.outside == ((extra & q.mask).bit_count() if isinstance(p.size, int) else extra >> q.start & 1)
