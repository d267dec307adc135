"""A proven bound by Lagrangian relaxation: jobs buy seats at prices, people sell the hours of each shift as a
knapsack.

Every seat of a task has a price for each day on which the task may start, and for each narrower choice of
starts there that other tasks of the job on the same day leave it. For any prices the sum of what jobs gain
beyond the prices of their seats (each job at its best days, in order), what each person's stretch of hours
could earn by a set of seats that fits into it (a knapsack; what must happen between two hours of the stretch,
by a window or a release, has to fit between them; of a task that may be cut a portion is nothing or at least
the least), the same of the windows of an asset that takes one job at a time, and what the shared limits are
worth (held-back hours of crafts, such assets where they are open for long) is at least the value of every
plan (weak duality; Geoffrion 1974), so the least such sum found is a bound. Prices move against what is over-
and undersold (Polyak 1969 steps with a momentum). Unlike hours in a linear programme, three tasks of 5 h do
not fit into two shifts of 8 h here.
"""

from __future__ import annotations

from collections import defaultdict
from typing import Any

import numpy as np

from nundine.core.week.board.bits import runs, span
from nundine.core.week.board.board import Board
from nundine.core.week.bound import price_steps
from nundine.core.week.bound.price_tables import T_NOPTIONS, T_OPTIONS, Rows
from nundine.core.week.problem import Job, Need, WeekProblem


class Relaxation:
    """Lays a problem out, and lowers its bound step by step."""

    def __init__(self, problem: WeekProblem) -> None:
        self.p, self.board = problem, Board(problem)
        self.fixed: dict[tuple[str, str], float] = defaultdict(float)
        self._take_fixed()
        self.cuts = self._cuts()
        rows = Rows(self.board, self.cuts, self.fixed)
        self.constant, self.whole_jobs = rows.constant, rows.whole_jobs
        self.k = rows.tables()
        self.best = float("inf")
        self.prices = np.zeros(len(self.k.unit))
        self.step = np.array([1.0, 0.0, np.inf])
        """Step length, steps without a better sum, least sum."""
        self._moves = np.zeros(len(self.k.unit))
        self._start_prices(rows)

    def _take_fixed(self) -> None:
        """What is fixed uses its people up and counts as if in time and without overtime."""
        board, grid = self.board, self.p.grid
        for one in self.p.fixed:
            self.fixed[(one.job, one.task)] += one.elapsed or 0.0
            if one.start is not None:
                start, end = one.times
                part = span(grid.floor(start), grid.ceil(end))
                for seat in one.people:
                    if seat.id is not None:
                        n = board.position[seat.id]
                        board.budget[board.main[n]] -= board.regular_slots(n, part & board.free[n])
                        board.free[n] &= ~part

    def _cuts(self) -> list[int]:
        """Where a day ends and the next begins: each at the hour that the fewest shifts cross."""
        per = 24 * 60 // self.p.slot_minutes
        step = max(1, 60 // self.p.slot_minutes)
        stretches = [ab for m in self.board.there for ab in runs(m)]
        crossing = {
            h: sum(any(a < c < b for c in range(h, self.board.slots, per)) for a, b in stretches)
            for h in range(0, per, step)
        }
        at = min(crossing, key=lambda h: (crossing[h], h))
        inner = [c for c in range(at, self.board.slots, per) if 0 < c < self.board.slots]
        return [0, *inner, self.board.slots]

    # ---------------------------------------------------------------- points of single jobs

    def _late_options(self, task: int) -> Any:
        """What is lost by lateness with each option of a task; changes there are changes of the tables."""
        first = self.k.tasks[task, T_OPTIONS]
        return self.k.late[first : first + self.k.tasks[task, T_NOPTIONS]]

    def given(self, job: Job) -> float:
        """The points that a job has here at its soonest, if hours were free."""
        j, last = self.whole_jobs[job.id]
        return float(self.k.value[j] - min(self._late_options(last)))

    def cap(self, job: Job, points: float) -> None:
        """No place of the job is worth more than these points."""
        j, last = self.whole_jobs[job.id]
        lost = max(0.0, self.k.value[j] - points)
        late = self._late_options(last)
        np.maximum(late, lost, out=late)

    # ---------------------------------------------------------------- prices

    def _start_prices(self, rows: Rows) -> None:
        """At first a slot of a seat costs what the last job that still finds hours of its craft brings for a
        slot."""
        left = {c: float(max(0, n)) for c, n in self.board.budget.items()}
        wants = [
            [
                (s.need.craft, s.task.length * rows.people[i])
                for i, s in enumerate(rows.seats[a:b], a)
                if isinstance(s.need, Need)
            ]
            for a, b in rows.seats_of
        ]
        worth = [rows.value[j] / max(1.0, sum(n for _, n in needs)) for j, needs in enumerate(wants)]
        price: dict[str, float] = {}
        for j in sorted(range(len(wants)), key=lambda j: (-worth[j], j)):
            full = {c for c, _ in wants[j] if left.get(c, 0.0) <= 0}
            for c in full:
                price.setdefault(c, worth[j])
            for c, n in wants[j] if not full else ():
                left[c] -= n
        for seat in rows.seats:
            craft = seat.need.craft if isinstance(seat.need, Need) else ""
            self.prices[seat.prices : seat.prices + len(seat.options)] = price.get(craft, 0.0) * (
                1 if seat.task.split else seat.task.length
            )

    def lower(self, steps: int, known: float) -> float:
        """Some steps of prices; gives the best bound so far. `known` is the value of a plan, at which steps
        aim."""

        found = price_steps.descend(self.k, self.prices, self._moves, self.step, steps, known - self.constant)
        self.best = min(self.best, found + self.constant)
        return self.best
