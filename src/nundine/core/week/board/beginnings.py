"""Where to begin a job whose loose ends cost something: where all its tasks can follow one another, else
where the first can begin."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import TYPE_CHECKING

from nundine.core.week.board.bits import runs, span
from nundine.core.week.board.board import Portion
from nundine.core.week.board.freedom import Freedom, JobState, Window
from nundine.core.week.problem import Job, Task

if TYPE_CHECKING:
    from nundine.core.week.board.fit import Fitter


class Beginnings:
    """Slots from which a fitter should try to place a job."""

    def __init__(self, fitter: Fitter) -> None:
        self.fitter = fitter

    def of(self, job: Job, freedom: Freedom, have: list[Portion], window: Window) -> Iterator[int]:
        """Where to begin: of a single portion the earliest place, then wherever one becomes possible; of a
        chain where all its tasks can follow one another without a gap, else where the first one can begin."""
        pending = self._pending(job, have)
        if not pending:
            return
        single = len(pending) == 1 and not pending[0].splittable
        if single:
            yield freedom.not_before
        state = self.fitter.state(job, have, window, freedom)
        if not have and len(pending) > 1:
            together = self._together(job, pending, freedom, state)
            if together:
                for first, last in runs(together):
                    yield first
                    if last - 1 > first:
                        yield last - 1
                return
        starts = self._starts_of(job, pending[0], freedom, state)
        for first, _ in runs(starts):
            yield first

    def _pending(self, job: Job, have: list[Portion]) -> list[Task]:
        """Tasks of which something is left, in order."""
        done: dict[str, int] = {}
        for p in have:
            done[p.task.id] = done.get(p.task.id, 0) + p.end - p.start
        return [
            t
            for t in job.ordered_tasks
            if self.fitter.grid.slots_for(t.hours) > done.get(t.id, 0) and (t.id not in done or t.splittable)
        ]

    def _starts_of(self, job: Job, task: Task, freedom: Freedom, state: JobState) -> int:
        """Slots from which the first portion of a task could go on, the least of it if it may be cut."""
        if any(a.task not in state.ends for a in task.after):
            return 0
        length = self.fitter.grid.slots_for(task.hours)
        if task.splittable:
            length = min(length, self.fitter.grid.slots_for(task.min_portion))
        allowed = self.fitter.bounds(job, task, freedom, state)
        return self.fitter.starts(job, task, length, allowed, freedom, state)[0]

    def _together(self, job: Job, pending: list[Task], freedom: Freedom, state: JobState) -> int:
        """Slots from which all tasks can follow one another without a gap, each with enough people."""
        offset: dict[str, int] = {}
        length = {t.id: self.fitter.grid.slots_for(t.hours) for t in pending}
        together = self.fitter.board.everything & ~span(0, freedom.not_before)
        free = replace(freedom, not_before=0)
        for task in pending:
            at = max(
                (offset[a.task] + length[a.task] + self.fitter.grid.slots_for(a.lag) for a in task.after),
                default=0,
            )
            offset[task.id] = at
            allowed = self.fitter.bounds(job, replace(task, after=()), free, state)
            starts, _ = self.fitter.starts(job, task, length[task.id], allowed, free, state)
            together &= starts >> at
            if not together:
                break
        return together
