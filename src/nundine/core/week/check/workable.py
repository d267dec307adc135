"""Whether crews can work the week: assets out of service in one stretch, time for the way between areas."""

from __future__ import annotations

from collections import defaultdict
from datetime import UTC, datetime

from nundine.core.week.check.layout import Broken, Placed, Plan
from nundine.core.week.problem import RUNNING, STOPPED, Job, Person


def out_of_service(plan: Plan) -> list[Broken]:
    """From the first to the last of a job's stopped portions its asset is in one stretch of its work windows,
    and nobody runs it."""
    found: list[Broken] = []
    running: dict[str, list[Placed]] = defaultdict(list)
    for x in plan.placed:
        if x.task.asset_state == RUNNING and x.job.asset is not None and x.slots is not None:
            running[x.job.asset].append(x)
    for job_id, placed in plan.by_job.items():
        job = plan.p.job_by_id[job_id]
        stopped = [x for x in placed if x.task.asset_state == STOPPED and x.slots is not None]
        if stopped and job.stays_out:
            found += _in_one_stretch(plan, job, stopped, running.get(job.asset or "", []))
    return found


def _in_one_stretch(plan: Plan, job: Job, stopped: list[Placed], running: list[Placed]) -> list[Broken]:
    fixed = [x for x in stopped if x.key in plan.fixed]
    if fixed and not _fits(plan, job, fixed):
        return [_torn(plan, job, fixed)] if len(fixed) > 1 or job.out_since else []
    if not _fits(plan, job, stopped):
        return [_torn(plan, job, stopped)] if len(stopped) > 1 or job.out_since else []
    span = _span(plan, job, stopped)
    return [
        Broken(
            "out of service",
            {"how": "running", "job": job.id, "asset": job.asset, "other": x.job.id, "task": x.task.id},
            (*(y.key for y in stopped), x.key),
            None,
            x.one.day,
        )
        for x in running
        if x.job.id != job.id and x.mask & span
    ]


def _span(plan: Plan, job: Job, stopped: list[Placed]) -> int:
    """Slots from the first to the last of the portions, of an asset that is out already from the week's start
    on."""
    week = plan.week
    first = min(x.slots.start for x in stopped if x.slots is not None)
    if job.out_since is not None:
        first = min(first, max(week.down(job.out_since), week.week_start))
    return week.mask(first, max(x.slots.stop for x in stopped if x.slots is not None))


def _fits(plan: Plan, job: Job, stopped: list[Placed]) -> bool:
    """Whether the span lies in one stretch of the asset's work windows without its run windows."""
    opened = plan.week.asset_slots(job.asset or "", STOPPED)
    return opened is None or not _span(plan, job, stopped) & ~opened


def _torn(plan: Plan, job: Job, stopped: list[Placed]) -> Broken:
    first = min(stopped, key=lambda x: x.mask & -x.mask)
    last = max(stopped, key=lambda x: x.mask)
    facts = {
        "how": "from before" if job.out_since is not None else "torn",
        "job": job.id,
        "asset": job.asset,
        "first": first.one.day.isoformat(),
        "last": last.one.day.isoformat(),
    }
    return Broken("out of service", facts, tuple(x.key for x in stopped), None, last.one.day)


def travel(plan: Plan) -> list[Broken]:
    """Between two seats of a person in different areas lie at least the minutes between them.

    A seat is held against the last one before it in each other area: where the ways are closed over shortest
    paths, that is the same as holding successive ones against each other.
    """
    ways = plan.p.minutes_between
    if not ways:
        return []
    found: list[Broken] = []
    for person, seats in seats_of_people(plan):
        last: dict[str, Placed] = {}
        for x in seats:
            area = plan.area(x)
            if area is None:
                continue
            for other, before in last.items():
                minutes = ways.get((other, area), 0.0)
                between = _minutes(before, x)
                if 0 <= between < minutes - 1e-9:
                    ends = {"from_job": before.job.id, "from_area": other, "job": x.job.id, "area": area}
                    facts = {"person": person.id, "between": between, "minutes": minutes, **ends}
                    found.append(Broken("travel", facts, (before.key, x.key), person.id, x.one.day))
            held = last.get(area)
            if held is None or _end(held) < _end(x):
                last[area] = x
    return found


def _start(x: Placed) -> datetime:
    return x.one.times[0].astimezone(UTC)


def _end(x: Placed) -> datetime:
    return x.one.times[1].astimezone(UTC)


def _minutes(before: Placed, after: Placed) -> float:
    return (_start(after) - _end(before)).total_seconds() / 60


def seats_of_people(plan: Plan) -> list[tuple[Person, list[Placed]]]:
    """Each person's portions that have a time, in the order of their starts."""
    of: dict[str, list[Placed]] = defaultdict(list)
    for x in plan.placed:
        if x.slots is not None:
            for person, _ in x.seated:
                of[person.id].append(x)
    return [
        (plan.p.person_by_id[name], sorted(its, key=lambda x: (_start(x), x.key))) for name, its in of.items()
    ]
