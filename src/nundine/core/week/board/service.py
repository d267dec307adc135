"""Assets out of service: in which stretch a job's stopped portions must lie together, and who must not run
the asset meanwhile."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING

from nundine.core.week.board.bits import runs, span, union
from nundine.core.week.problem import RUNNING, STOPPED, Job, Task, WeekProblem

if TYPE_CHECKING:
    from nundine.core.week.board.board import Board, Portion

Stretch = tuple[int, int]


class Service:
    """Stretches of the assets, and on assets that some job needs running who keeps them out and who runs
    them."""

    def __init__(self, problem: WeekProblem, board: Board) -> None:
        self.problem, self.board = problem, board
        needs_it_running = {
            j.asset
            for j in problem.jobs
            if j.asset is not None and any(t.asset_state == RUNNING for t in j.tasks)
        }
        self.shared = {j.asset for j in problem.jobs if j.stays_out and j.asset in needs_it_running}
        """Assets of which the two kinds of work may get in one another's way."""
        self.out: dict[str, dict[str, int]] = {a: {} for a in self.shared if a is not None}
        self.running: dict[str, dict[str, int]] = {a: {} for a in self.shared if a is not None}

    def since(self, job: Job) -> int | None:
        """The slot from which the job's asset has been out of service, if it has."""
        return None if job.out_since is None else max(0, self.problem.grid.floor(job.out_since))

    def span_of(self, job: Job, portions: Iterable[Portion]) -> Stretch | None:
        """From the first to the last of the job's stopped portions."""
        stopped = [p for p in portions if p.task.asset_state == STOPPED]
        if not stopped:
            return None
        since = self.since(job)
        first = min(p.start for p in stopped)
        return (first if since is None else min(first, since), max(p.end for p in stopped))

    def stretch_of(self, job: Job, first: int, last: int) -> Stretch | None:
        """The stretch of the asset's work windows around some slots, None if they do not lie in one."""
        opened = self.board.stopped[job.asset or ""]
        return next(((a, b) for a, b in runs(opened) if a <= first and last <= b), None)

    def all_stretches(self, job: Job) -> list[Stretch]:
        """Every stretch of the asset's work windows without its run windows."""
        return runs(self.board.stopped[job.asset or ""])

    def stretches(
        self, job: Job, have: Iterable[Portion] = (), beside_others: bool = True
    ) -> list[Stretch] | None:
        """Where the stopped portions of a job may lie together, beside those that it has; None if it makes no
        difference.

        With `beside_others` not where another job needs the asset running.
        """
        if not job.stays_out:
            return None
        count = sum(t.asset_state == STOPPED for t in job.tasks)
        splits = any(t.splittable for t in job.tasks if t.asset_state == STOPPED)
        held, since = self.span_of(job, have), self.since(job)
        alone = count == 1 and not splits and held is None and since is None
        shared = beside_others and job.asset in self.shared
        if count == 0 or (alone and not shared):
            return None
        if held is not None:
            around = self.stretch_of(job, *held)
            found = None if around is None else [around]
        elif since is not None:
            found = [(a, b) for a, b in runs(self.board.stopped[job.asset or ""]) if a <= since < b]
        else:
            found = runs(self.board.stopped[job.asset or ""])
        if found is None or not shared:
            return found
        return self._beside_running(job, found, held, since)

    def _beside_running(
        self, job: Job, found: list[Stretch], held: Stretch | None, since: int | None
    ) -> list[Stretch]:
        """The stretches without what other jobs run; a part must hold what the job has already."""
        others = union(m for j, m in self.running[job.asset or ""].items() if j != job.id)
        parts = [part for a, b in found for part in runs(span(a, b) & ~others)]
        if held is None and since is None:
            return parts
        first, last = held or (since or 0, (since or 0) + 1)
        return [(a, b) for a, b in parts if a <= first and last <= b]

    def slots_for(self, job: Job, task: Task, have: Iterable[Portion]) -> int:
        """Slots that one portion of a task may use, beside what the job has: in the stretch of its other
        stopped portions."""
        if task.asset_state == RUNNING:
            return ~self.out_of_others(job)
        if task.asset_state != STOPPED:
            return -1
        stretches = self.stretches(job, have)
        return -1 if stretches is None else union(span(a, b) for a, b in stretches)

    def out_of_others(self, job: Job) -> int:
        """Slots at which other jobs keep the asset out of service: nobody runs it then."""
        its = self.out.get(job.asset or "", {})
        return union(m for j, m in its.items() if j != job.id)

    def note(self, job: Job, portions: Iterable[Portion]) -> None:
        """How the job stands on its asset now."""
        asset = job.asset or ""
        if asset not in self.shared:
            return
        portions = list(portions)
        self.running[asset][job.id] = union(p.mask for p in portions if p.task.asset_state == RUNNING)
        held = self.span_of(job, portions) if job.stays_out else None
        torn = held is None or self.stretch_of(job, *held) is None
        self.out[asset][job.id] = 0 if held is None or torn else span(*held)


def shortest_span(job: Job, slots_for: Callable[[float], int]) -> int:
    """Slots from the first start to the last end of the job's stopped tasks, if none ever waits: the longest
    path with lags."""
    begun: dict[str, int | None] = {}
    longest = 0
    for task in job.ordered_tasks:
        since = [at + slots_for(a.lag) for a in task.after if (at := begun.get(a.task)) is not None]
        start = max(since, default=0 if task.asset_state == STOPPED else None)
        begun[task.id] = None if start is None else start + slots_for(task.hours)
        if task.asset_state == STOPPED:
            longest = max(longest, begun[task.id] or 0)
    return longest
