"""How a week can be worked, from its loose ends: five figures and what is behind each."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from nundine.core.week.check import Checked
from nundine.core.week.check.loose_ends import AreaChange, Handover
from nundine.core.week.problem import STOPPED, Placement, WeekProblem

Key = tuple[str, str, int]


@dataclass(frozen=True)
class LeftOpen:
    """A job on which nobody works between two portions, from one shift's day to another: when, and whether
    its asset must run then."""

    job: str
    start: datetime
    end: datetime
    before: Key
    after: Key
    over_run: bool


@dataclass(frozen=True)
class Workability:
    """`jobs` of several portions that have a time, those of them without any gap, nights left open,
    handovers, changes of area, minutes on the way within shifts."""

    jobs: tuple[str, ...]
    in_one_go: tuple[str, ...]
    left_open: tuple[LeftOpen, ...]
    handovers: tuple[Handover, ...]
    area_changes: tuple[AreaChange, ...]

    @property
    def minutes(self) -> float:
        """On the way."""
        return sum(c.minutes for c in self.area_changes)

    @property
    def open_nights(self) -> int:
        """Jobs that are left open overnight."""
        return len({o.job for o in self.left_open})

    @property
    def over_run(self) -> int:
        """Jobs that lie open while their asset must run."""
        return len({o.job for o in self.left_open if o.over_run})


def workability(problem: WeekProblem, placements: tuple[Placement, ...], checked: Checked) -> Workability:
    """The figures of a plan, by its check."""
    at: dict[Key, Placement] = {p.key: p for p in placements if p.start is not None}
    of_job: dict[str, list[Placement]] = {}
    for p in at.values():
        of_job.setdefault(p.job, []).append(p)
    jobs = tuple(sorted(j for j, its in of_job.items() if len(its) > 1))
    waits = [w for j in jobs if j in checked.ends for w in checked.ends[j].waiting]
    gaps = {w.job for w in waits}
    left_open = []
    for w in waits:
        before, after = at[w.before], at[w.after]
        assert before.end is not None and after.start is not None
        over_run = _must_run(problem, w.job, of_job[w.job], before.end, after.start)
        if over_run or before.day != after.day:
            left_open.append(LeftOpen(w.job, before.end, after.start, w.before, w.after, over_run))
    return Workability(
        jobs,
        tuple(j for j in jobs if j not in gaps),
        tuple(left_open),
        tuple(h for e in checked.ends.values() for h in e.handovers),
        checked.area_changes,
    )


def _must_run(
    problem: WeekProblem, job_id: str, its: list[Placement], start: datetime, end: datetime
) -> bool:
    """Whether the asset of a job, which it keeps out of service then, has a run window between two
    moments."""
    job = problem.job_by_id[job_id]
    stopped = [p for p in its if job.task(p.task).asset_state == STOPPED and p.start and p.end]
    if not job.stays_out or not stopped:
        return False
    begun = min(p.start.astimezone(UTC) for p in stopped if p.start)
    ended = max(p.end.astimezone(UTC) for p in stopped if p.end)
    first, last = max(begun, start.astimezone(UTC)), min(ended, end.astimezone(UTC))
    return any(
        run.start.astimezone(UTC) < last and first < run.end.astimezone(UTC)
        for run in problem.asset_by_id[job.asset or ""].run_windows
    )
