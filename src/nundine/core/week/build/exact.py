"""An exact model of some jobs beside all that stands on a board, solved with CP-SAT (OR-Tools).

For a small week the model holds every job, and what CP-SAT proves is proven of the week. It tells itself where it is
stricter than the rules (`whole` is False); then its bound says nothing of the week.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from ortools.sat.python import cp_model

from nundine.core.week.build.bits import run_starts, runs, span
from nundine.core.week.build.board import Board, Portion
from nundine.core.week.build.fit import at_least
from nundine.core.week.build.worth import Worth
from nundine.core.week.problem import Job, Task

MOST_PORTIONS = 4
SCALE = 1000


@dataclass
class Exact:
    """What was found: portions of the jobs that are in, their points, a bound of the points, whether that bound is of all plans."""

    placed: dict[str, list[Portion]]
    value: float
    bound: float
    optimal: bool
    whole: bool


@dataclass
class _Part:
    """A portion in the model: whether it is there, when it starts and ends, who sits on its seats."""

    task: Task
    number: int
    here: Any
    start: Any
    end: Any
    size: Any
    seats: list[tuple[int, int, Any]] = field(default_factory=list)


def literals(board: Board, jobs: list[Job]) -> int:
    """About how many decisions on people the model would have."""
    return sum(len(board.qualified(n)) * (1 if not t.splittable else MOST_PORTIONS) for j in jobs for t in j.tasks for n in t.needs)


def solve(
    board: Board,
    jobs: list[Job],
    hint: dict[str, list[Portion]],
    *,
    seconds: float,
    workers: int = 1,
    seed: int = 1,
    stop: Callable[[], bool] = lambda: False,
) -> Exact:
    """The best way to place `jobs`, none of which is on the board, beside what stands there.

    Parameters
    ----------
    hint
        Portions to start from (of some of the jobs).
    stop
        Asked a few times a second, on the calling thread, whether to end with the best so far.
    """
    return _Model(board, jobs).solve(hint, seconds, workers, seed, stop)


class _Model:
    def __init__(self, board: Board, jobs: list[Job]) -> None:
        self.board, self.jobs, self.grid = board, jobs, board.problem.grid
        self.m = cp_model.CpModel()
        self.worth = Worth(board)
        self.whole = True
        self.parts: dict[str, list[_Part]] = {}
        self.on: dict[int, list[Any]] = {}
        self.gaps: set[int] = set()
        self.asset_spans: dict[str, list[Any]] = {}
        self.tool_use: dict[str, list[Any]] = {}
        self.regular: dict[str, list[Any]] = {}
        self.points: list[tuple[int, Any]] = []
        for job in jobs:
            self._job(job)
        self._shared()
        self.m.maximize(sum(c * v for c, v in self.points))

    # ---------------------------------------------------------------- jobs

    def _job(self, job: Job) -> None:
        m = self.m
        there = m.new_bool_var(job.id)
        of_task: dict[str, tuple[Any, list[_Part]]] = {}
        gains: list[tuple[float, Any]] = []
        self.parts[job.id] = []
        for task in job.ordered_tasks:
            here = m.new_bool_var("") if job.divisible else there
            parts = self._task(job, task, here)
            of_task[task.id] = (here, parts)
            self.parts[job.id] += parts
            for after in task.after:
                before_here, before = of_task[after.task]
                if job.divisible:
                    m.add_implication(here, before_here)
                lag = self.grid.slots_for(after.lag)
                for b in before:
                    m.add(parts[0].start >= b.end + lag).only_enforce_if(b.here, parts[0].here)
            gains.append((self.worth.rate(job) * task.hours * task.people, here))
        if job.divisible:
            for here, _ in of_task.values():
                m.add_implication(here, there)
            m.add(sum(h for h, _ in of_task.values()) >= 1).only_enforce_if(there)
            if job.must:
                whole = m.new_bool_var("")
                for here, _ in of_task.values():
                    m.add_implication(whole, here)
                gains.append((self.board.problem.weights.must_per_job, whole))
        else:
            gains = [(self.worth.most(job), there)]
        for points, literal in gains:
            self._gain(points, literal)
        self._late(job, gains)
        self._span(job, there)

    def _gain(self, points: float, literal: Any) -> None:
        if points:
            self.points.append((round(points * SCALE), literal))

    def _late(self, job: Job, gains: list[tuple[float, Any]]) -> None:
        """Each day, or part of one, past max(due, start) takes a share of the points of what is placed of the job."""
        if job.due is None:
            return
        m, due, per_day = self.m, max(self.grid.ceil(job.due), 0), int(self.worth.per_day)
        before: Any = None
        for day in range((self.board.slots - due + per_day - 1) // per_day):
            late = m.new_bool_var("")
            for p in self.parts[job.id]:
                m.add(p.end <= due + day * per_day).only_enforce_if(p.here, ~late)
            if before is not None:
                m.add_implication(late, before)
            before = late
            for points, literal in gains:
                counts = late
                if job.divisible:
                    counts = m.new_bool_var("")
                    m.add_bool_or(~late, ~literal, counts)
                self._gain(-self.board.problem.weights.late_share_per_day * points, counts)

    def _span(self, job: Job, there: Any) -> None:
        """On an asset that takes one job at a time: from the first start to the last end of tasks that touch it."""
        if job.asset not in self.board.spans:
            return
        touching = [p for p in self.parts[job.id] if p.task.asset_state != "any"]
        if not touching:
            return
        slots = self.board.slots
        start, end, size = (self.m.new_int_var(0, slots, "") for _ in range(3))
        for p in touching:
            self.m.add(start <= p.start).only_enforce_if(p.here)
            self.m.add(end >= p.end).only_enforce_if(p.here)
        self.asset_spans.setdefault(job.asset, []).append(self.m.new_optional_interval_var(start, size, end, there, ""))

    # ---------------------------------------------------------------- tasks

    def _task(self, job: Job, task: Task, here: Any) -> list[_Part]:
        board, m = self.board, self.m
        length = self.grid.slots_for(task.hours)
        allowed = board.asset_mask(job, task)
        for tool in task.tools:
            allowed &= ~board.tool_levels[tool][-1] if len(board.tool_levels[tool]) > 1 else 0
        first = self.grid.ceil(job.earliest) if job.earliest is not None else 0
        last = self.grid.floor(job.latest) if job.latest is not None else board.slots
        if not task.needs:
            last = min(last, board.week_end)
        allowed &= span(first, last)
        for need in task.needs:
            allowed &= at_least([board.free[n] & mask for n, mask in board.qualified(need)], need.people)
        least = min(length, self.grid.slots_for(task.min_portion)) if task.splittable else length
        count = length // least if task.splittable else 1
        if count == 1:
            starts = run_starts(allowed, length)
            if not starts:
                m.add(here == 0)
                return [_Part(task, 1, here, m.new_constant(0), m.new_constant(length), length)]
            start = m.new_int_var_from_domain(_domain(starts), "")
            part = _Part(task, 1, here, start, start + length, length)
            self._seats(part, allowed, length)
            self._use_tools(part)
            return [part]
        return self._portions(task, here, allowed, length, least, count)

    def _portions(self, task: Task, here: Any, allowed: int, length: int, least: int, count: int) -> list[_Part]:
        m = self.m
        if count > MOST_PORTIONS:
            self.whole = False
        starts = run_starts(allowed, least)
        if not starts:
            m.add(here == 0)
            return [_Part(task, 1, here, m.new_constant(0), m.new_constant(length), length)]
        parts: list[_Part] = []
        closed = [m.new_fixed_size_interval_var(a, b - a, "") for a, b in runs(self.board.everything & ~allowed)]
        for n in range(min(count, MOST_PORTIONS)):
            there = here if n == 0 else m.new_bool_var("")
            start = m.new_int_var_from_domain(_domain(starts), "")
            size, end = m.new_int_var(least, length, ""), m.new_int_var(0, self.board.slots, "")
            part = _Part(task, n + 1, there, start, end, size)
            m.add_no_overlap([m.new_optional_interval_var(start, size, end, there, ""), *closed])
            if parts:
                m.add_implication(there, parts[-1].here)
                m.add(start >= parts[-1].end).only_enforce_if(there)
            self._seats(part, allowed, least)
            self._use_tools(part)
            parts.append(part)
        counted = [m.new_int_var(0, length, "") for _ in parts]
        for c, p in zip(counted, parts, strict=True):
            m.add(c == p.size).only_enforce_if(p.here)
            m.add(c == 0).only_enforce_if(~p.here)
        m.add(sum(counted) == length).only_enforce_if(here)
        return parts

    def _seats(self, part: _Part, allowed: int, length: int) -> None:
        """Who sits on the seats: for each seat one person who is free for all of it, nobody twice."""
        m, board = self.m, self.board
        on_part: dict[int, list[Any]] = {}
        fixed = isinstance(part.size, int)
        for i, need in enumerate(part.task.needs):
            chosen = []
            for n, mask in board.qualified(need):
                free = board.free[n] & mask & allowed
                starts = run_starts(free, length)
                if not starts:
                    continue
                for outside, able in self._classes(n, starts, length) if fixed else self._split_classes(n, starts):
                    sits = m.new_bool_var("")
                    m.add_linear_expression_in_domain(part.start, _domain(able)).only_enforce_if(sits)
                    if not fixed:
                        self.gaps.add(n)
                        m.add_linear_expression_in_domain(part.end - 1, _domain(free)).only_enforce_if(sits)
                    self._cost(n, part, sits, outside, length, fixed)
                    chosen.append(sits)
                    on_part.setdefault(n, []).append(sits)
                    part.seats.append((i, n, sits))
                    self.on.setdefault(n, []).append(m.new_optional_interval_var(part.start, part.size, part.end, sits, ""))
            m.add(sum(chosen) == need.people * part.here)
        for sits_n in on_part.values():
            if len(sits_n) > 1:
                m.add_at_most_one(sits_n)

    def _classes(self, n: int, starts: int, length: int) -> list[tuple[int, int]]:
        """Starts of a person by how many slots of the portion would be overtime."""
        extra = self.board.there[n] & ~self.board.regular[n]
        if not extra:
            return [(0, starts)]
        by_count: dict[int, int] = {}
        for a, b in runs(starts):
            for s in range(a, b):
                k = (extra & span(s, s + length)).bit_count()
                by_count[k] = by_count.get(k, 0) | 1 << s
        return sorted(by_count.items())

    def _split_classes(self, n: int, starts: int) -> list[tuple[int, int]]:
        """For portions of any length: starts in regular hours (0) and in overtime (1); exact where the two never touch."""
        extra = self.board.there[n] & ~self.board.regular[n]
        if extra & (self.board.regular[n] << 1) or extra & (self.board.regular[n] >> 1):
            self.whole = False
        return [(k, s) for k, s in ((0, starts & ~extra), (1, starts & extra)) if s]

    def _cost(self, n: int, part: _Part, sits: Any, outside: int, length: int, fixed: bool) -> None:
        """Overtime costs points; regular hours count against what the craft may use."""
        price = self.board.problem.weights.overtime_per_hour * self.board.problem.slot_minutes / 60
        main = self.board.main[n]
        if fixed:
            if outside:
                self.points.append((-round(price * outside * SCALE), sits))
            self.regular.setdefault(main, []).append((length - outside) * sits)
            return
        longest = self.grid.slots_for(part.task.hours)
        slots = self.m.new_int_var(0, longest, "")
        self.m.add(slots >= part.size).only_enforce_if(sits)
        if outside:
            self.points.append((-round(price * SCALE), slots))
        else:
            self.regular.setdefault(main, []).append(slots)

    def _use_tools(self, part: _Part) -> None:
        for tool in part.task.tools:
            use = self.m.new_optional_interval_var(part.start, part.size, part.end, part.here, "")
            self.tool_use.setdefault(tool, []).append(use)

    # ---------------------------------------------------------------- what jobs share

    def _shared(self) -> None:
        m, board = self.m, self.board
        for n, intervals in self.on.items():
            away = [m.new_fixed_size_interval_var(a, b - a, "") for a, b in runs(board.everything & ~board.free[n])] if n in self.gaps else []
            m.add_no_overlap([*intervals, *away])
        for asset, spans in self.asset_spans.items():
            others = [m.new_fixed_size_interval_var(a, b - a, "") for mask in board.spans[asset].values() for a, b in runs(mask)]
            m.add_no_overlap([*spans, *others])
        for tool, uses in self.tool_use.items():
            levels = board.tool_levels[tool]
            taken = [m.new_fixed_size_interval_var(a, b - a, "") for level in levels[1:] for a, b in runs(level)]
            m.add_cumulative([*uses, *taken], [1] * (len(uses) + len(taken)), len(levels) - 1)
        total: dict[str, int] = {}
        for n, main in enumerate(board.main):
            total[main] = total.get(main, 0) + (board.regular[n] & board.free[n]).bit_count()
        for craft, used in self.regular.items():
            if board.budget[craft] < total[craft]:
                m.add(sum(used) <= board.budget[craft])

    # ---------------------------------------------------------------- solving

    def solve(self, hint: dict[str, list[Portion]], seconds: float, workers: int, seed: int, stop: Callable[[], bool]) -> Exact:
        self._hint(hint)
        solver = cp_model.CpSolver()
        solver.parameters.max_time_in_seconds = max(seconds, 0.05)
        solver.parameters.num_workers = workers
        solver.parameters.random_seed = seed

        found: list[Any] = []
        thread = threading.Thread(target=lambda: found.append(solver.solve(self.m)), daemon=True)
        thread.start()
        while thread.is_alive():
            thread.join(0.1)
            if stop():
                solver.stop_search()
        status = found[0] if found else cp_model.UNKNOWN
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return Exact({}, 0.0, float("inf"), False, False)
        placed = {j.id: found for j in self.jobs if (found := self._read(solver, j))}
        value = sum(self.worth.of(j, placed[j.id]) for j in self.jobs if j.id in placed)
        slack = 0.5 * len(self.points) / SCALE
        return Exact(placed, value, solver.best_objective_bound / SCALE + slack, status == cp_model.OPTIMAL, self.whole)

    def _read(self, solver: Any, job: Job) -> list[Portion]:
        out = []
        for p in self.parts[job.id]:
            if not solver.boolean_value(p.here):
                continue
            by_need: dict[int, list[int]] = {}
            for i, n, sits in p.seats:
                if solver.boolean_value(sits):
                    by_need.setdefault(i, []).append(n)
            people = tuple(n for i in range(len(p.task.needs)) for n in by_need.get(i, []))
            start = solver.value(p.start)
            size = p.size if isinstance(p.size, int) else solver.value(p.size)
            out.append(Portion(p.task, p.number, start, start + size, people))
        return out

    def _hint(self, hint: dict[str, list[Portion]]) -> None:
        for job in self.jobs:
            given = {(q.task.id, q.number): q for q in hint.get(job.id, [])}
            for p in self.parts[job.id]:
                q = given.get((p.task.id, p.number))
                if p.number > 1 or job.divisible or p is self.parts[job.id][0]:
                    self.m.add_hint(p.here, q is not None)
                if q is None:
                    continue
                if not isinstance(p.start, int) and hasattr(p.start, "index"):
                    self.m.add_hint(p.start, q.start)
                if not isinstance(p.size, int):
                    self.m.add_hint(p.size, q.end - q.start)
                for _, n, sits in p.seats:
                    self.m.add_hint(sits, n in q.people)


def _domain(mask: int) -> cp_model.Domain:
    return cp_model.Domain.from_intervals([[a, b - 1] for a, b in runs(mask)])
