"""The week problem: plain frozen data that validates itself (format `nundine-week/2`)."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from itertools import product
from typing import Any

from nundine.core.timeline import Interval, SlotGrid, week_monday
from nundine.core.work import in_order

STOPPED, RUNNING, ANY = "stopped", "running", "any"
WHOLE, BY_TASK = "whole", "by_task"


@dataclass(frozen=True)
class Weights:
    """Weights of the value, and the prices of loose ends; a price is 0 unless it is given.

    `must_per_hour`, `overtime_per_hour`, `waiting_per_hour`, `away_per_hour` in points an hour,
    `must_per_job`, `handover`, `area_change` in points each, `late_share_per_day` a share a day; a gap is
    charged for `waiting_cap_hours` at most.
    """

    must_per_hour: float = 200.0
    must_per_job: float = 500.0
    late_share_per_day: float = 0.08
    overtime_per_hour: float = 20.0
    waiting_per_hour: float = 0.0
    waiting_cap_hours: float = 24.0
    handover: float = 0.0
    area_change: float = 0.0
    away_per_hour: float = 0.0

    @property
    def has_prices(self) -> bool:
        """Whether any loose end costs anything."""
        return any((self.waiting_per_hour, self.handover, self.area_change, self.away_per_hour))

    def without_prices(self) -> Weights:
        """The same weights, loose ends costing nothing."""
        return replace(self, waiting_per_hour=0.0, handover=0.0, area_change=0.0, away_per_hour=0.0)


PRICED = Weights(waiting_per_hour=10.0, handover=200.0, area_change=40.0, away_per_hour=2.0)
"""The prices that a site begins with, and a file of `nundine-week/2` that names none."""
PRICE_NAMES = ("waiting_per_hour", "waiting_cap_hours", "handover", "area_change", "away_per_hour")


@dataclass(frozen=True)
class Travel:
    """Minutes from one area to another, the same both ways."""

    start: str
    end: str
    minutes: float


@dataclass(frozen=True)
class Craft:
    """A trade, and the share of its regular hours (0-1) that the week keeps free."""

    id: str
    held_back: float = 0.0


@dataclass(frozen=True)
class CraftLevel:
    """Level 1 helper, 2 qualified, 3 lead."""

    craft: str
    level: int = 2


@dataclass(frozen=True)
class Certificate:
    """`until` is the last valid day; None = no end."""

    id: str
    until: date | None = None


@dataclass(frozen=True)
class PersonHours:
    """Hours in which a person can be given work; `day` is the shift's day, `area` where it is worked (None:
    the person's)."""

    start: datetime
    end: datetime
    overtime: bool
    day: date
    area: str | None = None


@dataclass(frozen=True)
class Person:
    """The first craft is the main one."""

    id: str
    crafts: tuple[CraftLevel, ...]
    certificates: tuple[Certificate, ...] = ()
    area: str | None = None
    crew: str | None = None
    hours: tuple[PersonHours, ...] = ()

    @property
    def main_craft(self) -> str:
        return self.crafts[0].craft

    def level_in(self, craft: str) -> int:
        """0 if the person does not have the craft."""
        return max((c.level for c in self.crafts if c.craft == craft), default=0)


@dataclass(frozen=True)
class Asset:
    """`work_windows` None = no limit, () = never; windows as they take effect."""

    id: str
    area: str | None = None
    work_windows: tuple[Interval, ...] | None = None
    run_windows: tuple[Interval, ...] = ()
    one_job_at_a_time: bool = False


@dataclass(frozen=True)
class Tool:
    """`count` pieces that can be in use at once."""

    id: str
    count: int


@dataclass(frozen=True)
class Need:
    """`people` seats for a craft at `level` or higher, with a certificate if one is named."""

    craft: str
    level: int = 1
    people: int = 1
    certificate: str | None = None

    @property
    def facts(self) -> dict[str, Any]:
        """What one of its seats asks for."""
        return {"craft": self.craft, "level": self.level, "certificate": self.certificate}


@dataclass(frozen=True)
class After:
    """The task that must be finished first, and hours to wait after its end."""

    task: str
    lag: float = 0.0


@dataclass(frozen=True)
class Task:
    """One step; `hours` is what remains, elapsed."""

    id: str
    hours: float
    asset_state: str = ANY
    after: tuple[After, ...] = ()
    splittable: bool = False
    min_portion: float = 1.0
    needs: tuple[Need, ...] = ()
    tools: tuple[str, ...] = ()

    @property
    def people(self) -> int:
        return sum(need.people for need in self.needs)

    @cached_property
    def seat_needs(self) -> tuple[Need, ...]:
        """One need for each seat, in the order in which a placement lists its people."""
        return tuple(need for need in self.needs for _ in range(need.people))


@dataclass(frozen=True)
class Job:
    """A work order as the engine sees it.

    `out_of_service`: the asset stays out of service from the first to the last task that needs it stopped
    ("whole"), or goes back in between ("by_task"). `out_since`: since when it has been out for this job, from
    an earlier week.
    """

    id: str
    asset: str | None
    priority: float
    tasks: tuple[Task, ...]
    area: str | None = None
    must: bool = False
    divisible: bool = False
    earliest: datetime | None = None
    due: datetime | None = None
    latest: datetime | None = None
    out_of_service: str = BY_TASK
    out_since: datetime | None = None

    @cached_property
    def stays_out(self) -> bool:
        """Whether the asset stays out of service between the job's stopped tasks.

        Not where the order asks for a running task between two stopped ones: then it has to go back.
        """
        return self.out_of_service == WHOLE and self.asset is not None and not self.runs_between

    @cached_property
    def runs_between(self) -> bool:
        """Whether, by the order of its tasks, a running task lies between two stopped ones."""
        before: dict[str, set[str]] = {}
        for task in self.ordered_tasks:
            before[task.id] = {a.task for a in task.after} | {b for a in task.after for b in before[a.task]}
        state = {t.id: t.asset_state for t in self.tasks}
        return any(
            state[last] == STOPPED
            and any(state[b] == RUNNING and any(state[a] == STOPPED for a in before[b]) for b in earlier)
            for last, earlier in before.items()
        )

    @cached_property
    def ordered_tasks(self) -> tuple[Task, ...]:
        return tuple(in_order(self.tasks))

    def task(self, task_id: str) -> Task:
        return next(t for t in self.tasks if t.id == task_id)


@dataclass(frozen=True)
class Seat:
    """One place on a portion; `id` None = open. `craft` is the craft it needs."""

    id: str | None
    craft: str


@dataclass(frozen=True)
class Placement:
    """A portion of a task on a day, perhaps without times (then `hours` is given) or people (open seats)."""

    job: str
    task: str
    portion: int
    day: date
    start: datetime | None
    end: datetime | None
    people: tuple[Seat, ...]
    hours: float | None = None

    @property
    def key(self) -> tuple[str, str, int]:
        return (self.job, self.task, self.portion)

    @property
    def times(self) -> tuple[datetime, datetime]:
        """Start and end of a placement that has them."""
        assert self.start is not None and self.end is not None
        return self.start, self.end

    @property
    def elapsed(self) -> float | None:
        """Hours that it takes, exact across a clock change; those that are given where it has no times."""
        return self.hours if self.start is None or self.end is None else Interval(*self.times).hours


class ProblemError(ValueError):
    """A week problem that contradicts itself; each error says where and what."""

    def __init__(self, errors: list[str]) -> None:
        super().__init__("; ".join(errors))
        self.errors = errors


@dataclass(frozen=True)
class WeekProblem:
    """All that the engine may know. Raises ProblemError if it contradicts itself."""

    week: str
    timezone: str
    start: datetime
    end: datetime
    slot_minutes: int = 15
    weights: Weights = field(default_factory=Weights)
    crafts: tuple[Craft, ...] = ()
    people: tuple[Person, ...] = ()
    assets: tuple[Asset, ...] = ()
    tools: tuple[Tool, ...] = ()
    jobs: tuple[Job, ...] = ()
    fixed: tuple[Placement, ...] = ()
    previous: tuple[Placement, ...] = ()
    travel: tuple[Travel, ...] = ()

    def __post_init__(self) -> None:
        from nundine.core.week.contradictions import contradictions  # which knows what stands here

        errors = contradictions(self)
        if errors:
            raise ProblemError(errors)

    @cached_property
    def grid(self) -> SlotGrid:
        return SlotGrid(self.start, self.slot_minutes)

    @cached_property
    def minutes_between(self) -> dict[tuple[str, str], float]:
        """Minutes between two different areas, by the shortest way; pairs that are not there need none."""
        return shortest_ways(self.travel)

    def area_of(self, job: Job) -> str | None:
        """Where a job is done: its own area, else its asset's."""
        if job.area is not None or job.asset is None:
            return job.area
        return self.asset_by_id[job.asset].area

    @cached_property
    def days(self) -> tuple[date, ...]:
        monday = week_monday(self.week)
        return tuple(monday + timedelta(days=n) for n in range(7))

    @cached_property
    def job_by_id(self) -> dict[str, Job]:
        return {j.id: j for j in self.jobs}

    @cached_property
    def asset_by_id(self) -> dict[str, Asset]:
        return {a.id: a for a in self.assets}

    @cached_property
    def task_by_id(self) -> dict[tuple[str, str], Task]:
        """By the ids of job and task."""
        return {(j.id, t.id): t for j in self.jobs for t in j.tasks}

    @cached_property
    def sound_placements(self) -> dict[tuple[str, int], Placement]:
        """Placements that were looked through already, by role and identity; shared by the same week around
        other placements."""
        return {}

    def with_placements(
        self, fixed: tuple[Placement, ...] = (), previous: tuple[Placement, ...] = ()
    ) -> WeekProblem:
        """The same week around other placements; what was looked up by id is taken over."""
        if len(self.sound_placements) > 50_000:
            self.sound_placements.clear()
        other = copy(self)
        for name, value in (("fixed", fixed), ("previous", previous)):
            object.__setattr__(other, name, value)
        from nundine.core.week.contradictions import contradictions_of_placements  # the same

        errors = contradictions_of_placements(other)
        if errors:
            raise ProblemError(errors)
        return other

    @cached_property
    def person_by_id(self) -> dict[str, Person]:
        return {p.id: p for p in self.people}


def shortest_ways(travel: tuple[Travel, ...]) -> dict[tuple[str, str], float]:
    """Minutes between areas by the shortest way over those given (Floyd 1962, Warshall 1962), from memory.

    Between areas that no way joins there is none to go: 0 minutes; such pairs, and ways of 0 minutes, are
    left out.
    """
    far = float("inf")
    least: dict[tuple[str, str], float] = {}
    for way in travel:
        if way.start != way.end:
            for pair in ((way.start, way.end), (way.end, way.start)):
                least[pair] = min(least.get(pair, far), way.minutes)
    areas = sorted({a for pair in least for a in pair})
    for via, a, b in product(areas, repeat=3):
        through = least.get((a, via), far) + least.get((via, b), far)
        if a != b and through < least.get((a, b), far):
            least[a, b] = through
    return {pair: minutes for pair, minutes in least.items() if minutes > 0}
