"""Loose ends of a plan and what they cost: jobs that wait, handovers, changes of area, hours away
(docs/engine.md, "Prices")."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from nundine.core.week.check.layout import Key, Layout, Placed, Plan
from nundine.core.week.problem import Job, WeekProblem


@dataclass(frozen=True)
class Waiting:
    """Nobody works on an opened job between two portions: `hours` in all, `charged` hours less the lag and up
    to the cap."""

    job: str
    before: Key
    after: Key
    hours: float
    charged: float


@dataclass(frozen=True)
class Handover:
    """A portion is done by entirely other people than the one before it, which needed a craft in common."""

    job: str
    before: Key
    after: Key


@dataclass(frozen=True)
class AreaChange:
    """Two successive seats of a person in one shift lie in different areas; `minutes` is the way between
    them."""

    person: str
    day: date
    before: Key
    after: Key
    minutes: float


@dataclass(frozen=True)
class Away:
    """Hours of a seat outside the area of the person's shift."""

    person: str
    key: Key
    hours: float


@dataclass(frozen=True)
class JobEnds:
    """Loose ends of one job."""

    waiting: tuple[Waiting, ...] = ()
    handovers: tuple[Handover, ...] = ()
    away: tuple[Away, ...] = ()


@dataclass(frozen=True)
class Prices:
    """What loose ends take off the points, in points."""

    waiting: float = 0.0
    handover: float = 0.0
    area_change: float = 0.0
    away: float = 0.0

    @property
    def total(self) -> float:
        return self.waiting + self.handover + self.area_change + self.away

    def __add__(self, other: Prices) -> Prices:
        return Prices(
            self.waiting + other.waiting,
            self.handover + other.handover,
            self.area_change + other.area_change,
            self.away + other.away,
        )


def _ends_of(x: Placed) -> tuple[int, int]:
    assert x.slots is not None
    return x.slots.start, x.slots.stop


def of_job(week: Layout, p: WeekProblem, job: Job, placed: list[Placed]) -> JobEnds:
    """Loose ends of a job: its portions that have a time, by start, end, order of tasks, portion."""
    order = {t.id: n for n, t in enumerate(job.ordered_tasks)}
    timed = sorted(
        (x for x in placed if x.slots is not None),
        key=lambda x: (*_ends_of(x), order[x.task.id], x.one.portion),
    )
    waiting, handovers = [], []
    last, end = None, 0
    for n, x in enumerate(timed):
        assert x.slots is not None
        if last is not None and x.slots.start > end:
            hours = week.hours(x.slots.start - end)
            lag = max((a.lag for a in x.task.after), default=0.0)
            charged = min(p.weights.waiting_cap_hours, max(0.0, hours - lag))
            waiting.append(Waiting(job.id, last.key, x.key, hours, charged))
        if n and _handed_over(timed[n - 1], x):
            handovers.append(Handover(job.id, timed[n - 1].key, x.key))
        if last is None or x.slots.stop > end:
            last, end = x, x.slots.stop
    away = [
        Away(person.id, x.key, week.hours(slots))
        for x in timed
        for person, cal in x.seated
        if (slots := (x.mask & cal.there & ~cal.at(p.area_of(job))).bit_count())
    ]
    return JobEnds(tuple(waiting), tuple(handovers), tuple(away))


def _handed_over(before: Placed, after: Placed) -> bool:
    """Whether entirely other people go on with a craft in common; only where all seats of both are filled."""
    assert before.slots is not None and after.slots is not None
    if after.slots.start < before.slots.stop:
        return False
    if not {n.craft for n in before.task.needs} & {n.craft for n in after.task.needs}:
        return False
    people = [[s.id for s in x.one.people] for x in (before, after)]
    return None not in people[0] + people[1] and not set(people[0]) & set(people[1])


def price_of(p: WeekProblem, ends: JobEnds) -> Prices:
    """What the loose ends of a job cost."""
    w = p.weights
    return Prices(
        waiting=w.waiting_per_hour * sum(x.charged for x in ends.waiting),
        handover=w.handover * len(ends.handovers),
        away=w.away_per_hour * sum(x.hours for x in ends.away),
    )


def area_changes(plan: Plan) -> list[AreaChange]:
    """For each person and shift, each two successive seats in different areas. Seats without an area are
    passed over.

    A seat belongs to the shift in which it starts. Of seats that start in the same slot, which only a clash
    of fixed work has, the first area by name counts.
    """
    seats: dict[tuple[str, date], dict[int, tuple[str, Placed]]] = defaultdict(dict)
    for x in plan.placed:
        area = plan.area(x)
        if x.slots is None or area is None:
            continue
        for person, cal in x.seated:
            start = max(x.slots.start, plan.week.week_start)
            day = cal.day_at(start)
            if day is not None:
                its = seats[person.id, day]
                if start not in its or area < its[start][0]:
                    its[start] = (area, x)
    found = []
    for (person_id, day), its in seats.items():
        starts = sorted(its)
        for a, b in zip(starts, starts[1:], strict=False):
            (area, before), (next_area, after) = its[a], its[b]
            if area != next_area:
                minutes = plan.p.minutes_between.get((area, next_area), 0.0)
                found.append(AreaChange(person_id, day, before.key, after.key, minutes))
    return found
