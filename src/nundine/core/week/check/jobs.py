"""Rules of one job: the order of its tasks, whole or not at all, its hours; its points and loose ends."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

from nundine.core.week.check.layout import Broken, Layout, Placed, Plan
from nundine.core.week.check.loose_ends import JobEnds, of_job
from nundine.core.week.check.untimed import chain
from nundine.core.week.problem import Job, Task, Weights

_ByTask = dict[str, list[Placed]]


@dataclass(frozen=True)
class _Seen:
    """A job as it was looked at: nothing of it is computed anew while all this is the same."""

    job: Job
    placed: list[Placed]
    fixed: list[bool]
    weights: Weights
    found: list[Broken]
    points: float
    ends: JobEnds

    def same(self, job: Job, placed: list[Placed], fixed: list[bool], weights: Weights) -> bool:
        return (
            self.job is job
            and self.fixed == fixed
            and self.weights == weights
            and _identical(self.placed, placed)
        )


def _identical(a: list[Placed], b: list[Placed]) -> bool:
    return len(a) == len(b) and all(x is y for x, y in zip(a, b, strict=True))


def jobs(plan: Plan) -> tuple[list[Broken], dict[str, float], dict[str, JobEnds]]:
    """What each job breaks by itself, its points, and its loose ends."""
    found: list[Broken] = []
    points: dict[str, float] = {}
    ends: dict[str, JobEnds] = {}
    for job_id, placed in plan.by_job.items():
        job = plan.p.job_by_id[job_id]
        fixed = [x.key in plan.fixed for x in placed]
        seen = plan.week.of_jobs.get(job_id)
        if not isinstance(seen, _Seen) or not seen.same(job, placed, fixed, plan.p.weights):
            by_task: _ByTask = {}
            for x in sorted(placed, key=lambda x: x.one.portion):
                by_task.setdefault(x.task.id, []).append(x)
            keys = {x.key for x, is_fixed in zip(placed, fixed, strict=True) if is_fixed}
            broken = _order(plan.week, job, by_task)
            broken = (broken or chain(plan.week, job, by_task)) + _whole(plan.week, job, by_task, keys)
            its = of_job(plan.week, plan.p, job, placed)
            seen = _Seen(job, placed, fixed, plan.p.weights, broken, _points(plan, job, by_task), its)
            plan.week.of_jobs[job_id] = seen
        found += seen.found
        points[job_id], ends[job_id] = seen.points, seen.ends
    return found, points, ends


def _order(week: Layout, job: Job, by_task: _ByTask) -> list[Broken]:
    """A task starts when those before it have ended and their lag has passed; portions follow one another."""
    found = []
    for portions in by_task.values():
        timed = [x for x in portions if x.one.start]
        for a, b in pairwise(timed):
            if a.one.end > b.one.start:  # type: ignore[operator]
                found.append(Broken("order", a.facts(how="portions"), (a.key, b.key)))
        for after in portions[0].task.after:
            before = by_task.get(after.task)
            if not before:
                continue
            ends = [x.slots.stop for x in before if x.slots is not None]
            starts = [x.slots.start for x in timed if x.slots is not None]
            keys = tuple(x.key for x in before + portions)
            facts = portions[0].facts(after=after.task)
            if ends and starts and min(starts) < max(ends) + week.slots(after.lag):
                found.append(Broken("order", {"how": "start", **facts}, keys))
            elif max(x.one.day for x in before) > min(x.one.day for x in portions):
                found.append(Broken("order", {"how": "day", **facts}, keys))
    return found


def _whole(week: Layout, job: Job, by_task: _ByTask, fixed: set[tuple[str, str, int]]) -> list[Broken]:
    """A job is placed whole or not at all, unless it is divisible or partly fixed; each task has its
    hours."""
    found = []
    keys = tuple(x.key for t in job.tasks for x in by_task.get(t.id, ()))
    if len(by_task) < len(job.tasks) and not job.divisible and not fixed:
        found.append(Broken("whole", {"how": "in part", "job": job.id}, keys))
    for task in job.tasks:
        if task.id in by_task:
            if not fixed and any(a.task not in by_task for a in task.after):
                its = tuple(x.key for x in by_task[task.id])
                facts = {"how": "without", "job": job.id, "task": task.id}
                found.append(Broken("whole", facts, its))
            found += _hours(week, job, task, by_task[task.id], fixed)
    return found


def _hours(
    week: Layout, job: Job, task: Task, portions: list[Placed], fixed: set[tuple[str, str, int]]
) -> list[Broken]:
    found: list[Broken] = []
    facts = {"job": job.id, "task": task.id}
    its = tuple(x.key for x in portions)
    want, got = week.slots(task.hours), week.slots(week.placed_hours(portions))
    if got > want or (got < want and not any(k in fixed for k in its)):
        placed = {"placed": week.hours(got), "hours": week.hours(want)}
        found.append(Broken("hours", {**facts, **placed}, its))
    if len(portions) > 1 and not task.splittable:
        found.append(Broken("split", {"how": "never", **facts}, its))
    elif len(portions) > 1:
        least = min(want, week.slots(task.min_portion))
        short = [x for x in portions if x.key not in fixed and week.slots(week.placed_hours([x])) < least]
        found += [
            Broken("split", {"how": "short", **facts, "least": task.min_portion}, (x.key,)) for x in short
        ]
    return found


def _points(plan: Plan, job: Job, by_task: _ByTask) -> float:
    """Points; the formula stands in docs/engine.md ("Value")."""
    w, week = plan.p.weights, plan.week
    hours, whole, last, overtime = 0.0, True, 0, 0
    for t in job.tasks:
        portions = by_task.get(t.id, ())
        placed = min(t.hours, week.placed_hours(portions))
        whole = whole and placed >= t.hours - 1e-9
        hours += placed * t.people
        for x in portions:
            last = max(last, x.slots.stop if x.slots is not None else week.up(_end_of_day(plan, x)))
            overtime += sum((cal.overtime & x.mask).bit_count() for _, cal in x.seated)
    points = (job.priority + (w.must_per_hour if job.must else 0)) * hours
    points += w.must_per_job if job.must and whole else 0
    late = 0.0
    if job.due is not None:
        days = (last - max(week.up(job.due), week.week_start)) * week.minutes / (24 * 60)
        late = w.late_share_per_day * points * max(0, -(-days // 1))
    return points - late - w.overtime_per_hour * week.hours(overtime)


def _end_of_day(plan: Plan, x: Placed) -> datetime:
    """The end of its day, for a placement that has only its day."""
    return datetime.combine(x.one.day + timedelta(days=1), datetime.min.time(), ZoneInfo(plan.p.timezone))
