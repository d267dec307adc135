"""A proven upper bound of the value: the linear programme over buckets of the week, solved with HiGHS through
SciPy.

Every rule is kept or relaxed, never tightened, so no plan is worth more (weak duality; docs/engine.md,
"Bound"). People with the same skills and main craft are one group; a bucket is 24 hours from the week's
start.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nundine.core.week.board.bits import cover, span
from nundine.core.week.board.board import Board
from nundine.core.week.board.heads import at_least, starts_with_people
from nundine.core.week.board.worth import Worth
from nundine.core.week.problem import Job, Task, WeekProblem
from nundine.core.work import earliest_ends

if TYPE_CHECKING:
    from scipy.sparse import csr_matrix


@dataclass
class _Model:
    """Columns and rows of the programme in the making."""

    cost: list[float]
    upper: list[float]
    rows: list[tuple[float, float, list[tuple[int, float]]]]

    def column(self, cost: float, upper: float) -> int:
        self.cost.append(cost)
        self.upper.append(upper)
        return len(self.cost) - 1


def bound(problem: WeekProblem) -> float:
    """Points that no plan of the problem exceeds; fixed placements count as if in time and without
    overtime."""
    board = Board(problem)
    worth = Worth(board)
    constant = 0.0
    fixed_hours: dict[tuple[str, str], float] = defaultdict(float)
    for one in problem.fixed:
        fixed_hours[(one.job, one.task)] += one.elapsed or 0.0
        if one.start is not None:
            start, end = one.times
            part = span(board.problem.grid.floor(start), board.problem.grid.ceil(end))
            for seat in one.people:
                if seat.id is not None:
                    board.free[board.position[seat.id]] &= ~part
    model = _Model([], [], [])
    groups: dict[tuple[object, ...], list[int]] = defaultdict(list)
    for n, person in enumerate(problem.people):
        groups[
            (tuple(sorted((c.craft, c.level) for c in person.crafts)), person.certificates, person.main_craft)
        ].append(n)
    group_of = {n: g for g, (_, members) in enumerate(groups.items()) for n in members}
    per = 24 * 60 // problem.slot_minutes
    buckets = [span(b * per, (b + 1) * per if b < 6 else board.slots) for b in range(7)]
    use: dict[tuple[int, int], list[tuple[int, float]]] = defaultdict(list)
    fixed_jobs = {j for j, _ in fixed_hours}
    for job in problem.jobs:
        rate = job.priority + (problem.weights.must_per_hour if job.must else 0.0)
        if job.id in fixed_jobs:
            constant += rate * sum(min(t.hours, fixed_hours[(job.id, t.id)]) * t.people for t in job.tasks)
            constant += problem.weights.must_per_job if job.must else 0.0
            for task in job.tasks:
                left = task.hours - fixed_hours[(job.id, task.id)]
                if left > 1e-9:
                    x = model.column(rate * left * task.people, 1.0)
                    _task_rows(model, board, job, task, x, left, buckets, group_of, use, alone=False)
        elif job.divisible:
            xs = {}
            for task in job.ordered_tasks:
                extra = problem.weights.must_per_job / len(job.tasks) if job.must else 0.0
                xs[task.id] = x = model.column(rate * task.hours * task.people + extra, 1.0)
                model.rows += [(-np.inf, 0.0, [(x, 1.0), (xs[a.task], -1.0)]) for a in task.after]
                _task_rows(model, board, job, task, x, task.hours, buckets, group_of, use, alone=True)
        else:
            grid = problem.grid
            soonest = (grid.ceil(job.earliest) if job.earliest else 0) + grid.slots_for(
                max(earliest_ends(job.tasks).values(), default=0.0) - 1e-6
            )
            late = worth.late_days(job, max(soonest, 0))
            value = worth.most(job) * (1 - problem.weights.late_share_per_day * late)
            x = model.column(max(0.0, value), 1.0)
            for task in job.tasks:
                _task_rows(model, board, job, task, x, task.hours, buckets, group_of, use, alone=True)
    _capacity_rows(model, board, buckets, list(groups.values()), use)
    return constant + _solve(model)


def _task_rows(
    model: _Model,
    board: Board,
    job: Job,
    task: Task,
    x: int,
    hours: float,
    buckets: list[int],
    group_of: dict[int, int],
    use: dict[tuple[int, int], list[tuple[int, float]]],
    alone: bool,
) -> None:
    """Hours of the task by bucket, within slots where enough able people are free; none if it fits
    nowhere."""
    grid = board.problem.grid
    length = grid.slots_for(hours)
    allowed = board.asset_mask(job, task)
    first = grid.ceil(job.earliest) if job.earliest else 0
    allowed &= span(first, grid.floor(job.latest) if job.latest else board.slots)
    if any(len(board.tool_levels[t]) == 1 for t in task.tools):
        allowed = 0
    able_of = []
    for need in task.needs:
        able = [(n, board.free[n] & mask) for n, mask in board.qualified(need)]
        allowed &= at_least([m for _, m in able], need.people)
        able_of.append((need, able))
    if not task.splittable and alone:
        allowed &= cover(starts_with_people(board, task, allowed, length), length)
    if not allowed:
        model.upper[x] = 0.0
        return
    total: list[tuple[int, float]] = []
    for b, part in enumerate(buckets):
        most = (allowed & part).bit_count()
        if not most:
            continue
        h = model.column(0.0, float(most))
        model.rows.append((-np.inf, 0.0, [(h, 1.0), (x, -float(min(most, length)))]))
        total.append((h, 1.0))
        for need, able in able_of:
            members: dict[int, bool] = {}
            for n, m in able:
                if m & part & allowed:
                    members[group_of[n]] = True
            shares = [(model.column(0.0, np.inf), 1.0) for _ in members]
            for (y, _), g in zip(shares, members, strict=True):
                use[(g, b)].append((y, 1.0))
            model.rows.append((0.0, 0.0, [*shares, (h, -float(need.people))]))
    model.rows.append((0.0, 0.0, [*total, (x, -float(length))]))


def _capacity_rows(
    model: _Model,
    board: Board,
    buckets: list[int],
    groups: list[list[int]],
    use: dict[tuple[int, int], list[tuple[int, float]]],
) -> None:
    """Regular and overtime slots of each group and bucket; held-back slots of each craft over the week."""
    problem = board.problem
    price = problem.weights.overtime_per_hour * problem.slot_minutes / 60
    regular_use: dict[str, list[tuple[int, float]]] = defaultdict(list)
    for (g, b), columns in sorted(use.items()):
        members = groups[g]
        regular = sum((board.free[n] & board.regular[n] & buckets[b]).bit_count() for n in members)
        extra = sum((board.free[n] & ~board.regular[n] & buckets[b]).bit_count() for n in members)
        over = model.column(-price, float(extra))
        model.rows.append((-np.inf, float(regular), [*columns, (over, -1.0)]))
        regular_use[board.main[members[0]]] += [*columns, (over, -1.0)]
    for craft, columns in regular_use.items():
        taken = sum(
            (board.regular[n] & ~board.free[n] & board.there[n]).bit_count()
            for n in range(len(board.people))
            if board.main[n] == craft
        )
        model.rows.append((-np.inf, float(max(0, board.budget[craft] - taken)), columns))


def _solve(model: _Model) -> float:
    if not model.cost:
        return 0.0
    columns = len(model.cost)
    equal = [r for r in model.rows if r[0] == r[1]]
    below = [r for r in model.rows if r[0] != r[1]]
    a_ub, b_ub = _matrix(below, columns)
    a_eq, b_eq = _matrix(equal, columns)
    bounds = np.column_stack([np.zeros(columns), np.array(model.upper)])
    from scipy.optimize import linprog  # it takes a second to load: only who proves waits for it

    found = linprog(
        -np.array(model.cost), A_ub=a_ub, b_ub=b_ub, A_eq=a_eq, b_eq=b_eq, bounds=bounds, method="highs"
    )
    if not found.success:
        raise ArithmeticError(f"the bound could not be computed: {found.message}")
    return float(-found.fun) * (1 + 1e-7)


def _matrix(
    rows: list[tuple[float, float, list[tuple[int, float]]]], columns: int
) -> tuple[csr_matrix | None, np.ndarray | None]:
    from scipy.sparse import csr_matrix

    if not rows:
        return None, None
    starts = np.cumsum([0] + [len(r[2]) for r in rows])
    index = np.array([i for r in rows for i, _ in r[2]])
    value = np.array([v for r in rows for _, v in r[2]])
    return csr_matrix((value, index, starts), shape=(len(rows), columns)), np.array([r[1] for r in rows])
