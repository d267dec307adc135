"""The value of a placed job, as the builder counts it: points less the prices of its own loose ends
(docs/engine.md, "Value")."""

from __future__ import annotations

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.loose_ends import LooseEnds
from nundine.core.week.problem import Job
from nundine.core.week.value import points, points_per_hour, rate


class Worth:
    """Points of jobs on one board."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.w = board.problem.weights
        self.grid = board.problem.grid
        self.ends = LooseEnds(board)
        self.per_day = 24 * 60 / board.problem.slot_minutes

    def most(self, job: Job) -> float:
        """Points of the whole job, in time and without overtime."""
        return points(job, self.w)

    def per_hour(self, job: Job) -> float:
        """Most points for each work hour: the order of dispatch."""
        return points_per_hour(job, self.w)

    def rate(self, job: Job) -> float:
        return rate(job, self.w)

    def late_days(self, job: Job, end: int) -> int:
        """Days, or part, by which an end slot is past max(due, start)."""
        if job.due is None:
            return 0
        free = max(self.grid.ceil(job.due), 0)
        return max(0, -int(-(end - free) // self.per_day)) if end > free else 0

    def of(self, job: Job, portions: list[Portion]) -> float:
        """Points of the job placed as these portions, less the prices of its loose ends; changes of area are
        not in it."""
        return self.points(job, portions) - self.ends.of(job, portions)

    def points(self, job: Job, portions: list[Portion]) -> float:
        """Points of the job placed as these portions."""
        if not portions:
            return 0.0
        slots: dict[str, int] = {}
        for p in portions:
            slots[p.task.id] = slots.get(p.task.id, 0) + p.end - p.start
        hours, whole = 0.0, True
        for t in job.ordered_tasks:
            placed = min(t.hours, slots.get(t.id, 0) * self.board.problem.slot_minutes / 60)
            whole = whole and placed >= t.hours - 1e-9
            hours += placed * t.people
        got = self.rate(job) * hours + (self.w.must_per_job if job.must and whole else 0.0)
        got -= self.w.late_share_per_day * got * self.late_days(job, max(p.end for p in portions))
        return got - self.w.overtime_per_hour * self.overtime_hours(portions)

    def overtime_hours(self, portions: list[Portion]) -> float:
        board = self.board
        slots = sum(
            (board.there[n] & ~board.regular[n] & p.mask).bit_count()
            for p in portions
            for n in p.people
            if n is not None
        )
        return slots * board.problem.slot_minutes / 60
