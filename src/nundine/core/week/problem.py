"""The week problem: plain frozen data that validates itself (format `nundine-week/1`)."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from functools import cached_property

from nundine.core.timeline import Interval, SlotGrid, week_monday
from nundine.core.work import in_order

STOPPED, RUNNING, ANY = "stopped", "running", "any"


@dataclass(frozen=True)
class Weights:
    """Weights of the value: points an hour, points a job, a share a day, points an hour."""

    must_per_hour: float = 200.0
    must_per_job: float = 500.0
    late_share_per_day: float = 0.08
    overtime_per_hour: float = 20.0


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
    """Hours in which a person can be given work; `day` is the shift's day."""

    start: datetime
    end: datetime
    overtime: bool
    day: date


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
    """A work order as the engine sees it."""

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

    def __post_init__(self) -> None:
        errors = problem_errors(self)
        if errors:
            raise ProblemError(errors)

    @cached_property
    def grid(self) -> SlotGrid:
        return SlotGrid(self.start, self.slot_minutes)

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
        """Placements that were looked through already, by role and identity; shared by the same week around other placements."""
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
        errors = _placement_errors(other)
        if errors:
            raise ProblemError(errors)
        return other

    @cached_property
    def person_by_id(self) -> dict[str, Person]:
        return {p.id: p for p in self.people}


def _duplicates(ids: list[str]) -> list[str]:
    seen: set[str] = set()
    return [i for i in ids if i in seen or seen.add(i)]  # type: ignore[func-returns-value]


_sound: list[WeekProblem] = []


def problem_errors(p: WeekProblem) -> list[str]:
    """Every contradiction of a problem, each with its place as a JSON path.

    People, assets and jobs that were found sound are not looked through again when only placements change.
    """
    for known in _sound:
        if (
            known.jobs is p.jobs
            and known.people is p.people
            and known.assets is p.assets
            and known.crafts is p.crafts
            and known.tools is p.tools
        ):
            return _placement_errors(p)
    errors = _data_errors(p)
    if not errors:
        _sound.append(p)
        del _sound[:-4]
    return errors + _placement_errors(p)


def _data_errors(p: WeekProblem) -> list[str]:
    errors: list[str] = []
    if p.end <= p.start:
        errors.append("$.end: must lie after start")
    if p.slot_minutes < 1:
        errors.append("$.slot_minutes: must be at least 1")
    for name, things in (
        ("crafts", p.crafts),
        ("people", p.people),
        ("assets", p.assets),
        ("tools", p.tools),
        ("jobs", p.jobs),
    ):
        errors += [f"$.{name}: id {i!r} stands twice" for i in _duplicates([t.id for t in things])]
    crafts, assets = {c.id for c in p.crafts}, {a.id for a in p.assets}
    tools = {t.id for t in p.tools}
    for n, craft in enumerate(p.crafts):
        if not 0 <= craft.held_back <= 1:
            errors.append(f"$.crafts[{n}].held_back: must lie between 0 and 1")
    for n, person in enumerate(p.people):
        if not person.crafts:
            errors.append(f"$.people[{n}].crafts: a person has at least one craft")
        errors += [
            f"$.people[{n}].crafts: unknown craft {c.craft!r}" for c in person.crafts if c.craft not in crafts
        ]
        errors += [
            f"$.people[{n}].hours[{k}]: end before start"
            for k, h in enumerate(person.hours)
            if h.end < h.start
        ]
    for n, job in enumerate(p.jobs):
        where = f"$.jobs[{n}]"
        if job.asset is not None and job.asset not in assets:
            errors.append(f"{where}.asset: unknown asset {job.asset!r}")
        errors += [f"{where}.tasks: id {i!r} stands twice" for i in _duplicates([t.id for t in job.tasks])]
        try:
            in_order(job.tasks)
        except ValueError as bad:
            errors.append(f"{where}.tasks: {bad}")
        for k, task in enumerate(job.tasks):
            at = f"{where}.tasks[{k}]"
            if task.hours <= 0:
                errors.append(f"{at}.hours: must be more than 0")
            if task.asset_state not in (STOPPED, RUNNING, ANY):
                errors.append(f"{at}.asset_state: must be stopped, running or any")
            if task.splittable and task.min_portion <= 0:
                errors.append(f"{at}.min_portion: must be more than 0")
            errors += [f"{at}.after: lag must not be negative" for a in task.after if a.lag < 0]
            errors += [f"{at}.needs: unknown craft {d.craft!r}" for d in task.needs if d.craft not in crafts]
            errors += [f"{at}.needs: people must be at least 1" for d in task.needs if d.people < 1]
            errors += [f"{at}.tools: unknown tool {t!r}" for t in task.tools if t not in tools]
    return errors


def _placement_errors(p: WeekProblem) -> list[str]:
    errors: list[str] = []
    if not (p.fixed or p.previous):
        return errors
    tasks, people = p.task_by_id, p.person_by_id
    for name, placements in (("fixed", p.fixed), ("previous", p.previous)):
        keys: set[tuple[str, str, int]] = set()
        for n, one in enumerate(placements):
            at = f"$.{name}[{n}]"
            if one.key in keys:
                errors.append(f"{at}: portion {one.portion} of task {one.task} of {one.job} stands twice")
            keys.add(one.key)
            if p.sound_placements.get((name, id(one))) is one:
                continue
            before = len(errors)
            task = tasks.get((one.job, one.task))
            if name == "fixed" and task is None:
                errors.append(f"{at}: unknown task {one.task!r} of job {one.job!r}")
            if name == "fixed" and task is not None and len(one.people) != task.people:
                errors.append(f"{at}.people: the task has {task.people} seats, not {len(one.people)}")
            if (one.start is None) != (one.end is None):
                errors.append(f"{at}: give both start and end, or neither")
            if one.start is not None and one.end is not None and one.end <= one.start:
                errors.append(f"{at}.end: must lie after start")
            if one.start is None and one.hours is None:
                errors.append(f"{at}.hours: needed when start and end are null")
            errors += [
                f"{at}.people: unknown person {s.id!r}"
                for s in one.people
                if s.id is not None and s.id not in people
            ]
            if len(errors) == before:
                p.sound_placements[(name, id(one))] = one
    return errors
