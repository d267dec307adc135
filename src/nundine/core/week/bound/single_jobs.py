"""What each job is worth at most if it had the week to itself, beside what is fixed: it tightens the bound of
all.

The relaxation lets the tasks of a chain, or the people of a team, meet sooner than they can. A place found
for the job alone that is worth what the relaxation gives it settles the matter; for the others the exact
model of the one job does.
"""

from __future__ import annotations

from dataclasses import replace

from nundine.core.week.board.board import Board
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.worth import Worth
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.problem import Job

MOST_SECONDS = 2.0
FREE = Freedom(held_back=True)


class Alone:
    """Caps the points of the jobs of a relaxation, dearest first, some at a time. Overtime costs nothing
    here: hours are paid for there."""

    def __init__(self, relaxation: Relaxation) -> None:
        self.relaxation = relaxation
        problem = relaxation.p
        self.board = Board(replace(problem, weights=replace(problem.weights, overtime_per_hour=0.0)))
        self.board.free, self.board.budget = list(relaxation.board.free), dict(relaxation.board.budget)
        self.fitter, self.worth = Fitter(self.board), Worth(self.board)
        self.left = sorted(
            (j for j in problem.jobs if j.id in relaxation.whole_jobs),
            key=lambda job: (self.worth.most(job), job.id),
        )

    def some(self, count: int) -> None:
        """Look at so many jobs more."""
        for _ in range(min(count, len(self.left))):
            job = self.left.pop()
            given = self.relaxation.given(job)
            found = self.fitter.fit(job, FREE)
            if not found or self.worth.of(job, found) < given - 1e-6 * given:
                self.relaxation.cap(job, min(given, self._most(job)))

    def _most(self, job: Job) -> float:
        from nundine.core.week.search import exact  # its solver takes a second to load

        found = exact.solve(self.board, [job], {}, seconds=MOST_SECONDS, prove=True, alone=True)
        return found.bound if found.whole else float("inf")
