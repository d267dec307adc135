"""The one conversion from what is stored to a week problem; tanks, conflicts, value and reasons come from it.

People and jobs are kept in memory under the marks of people and work, so that an edit of the week reads
placements alone.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import week_interval, week_monday
from nundine.core.week.check import Checked, check
from nundine.core.week.load import Tank, empty_tanks, loaded
from nundine.core.week.problem import PRICED, Job, Placement, Seat, Task, WeekProblem
from nundine.services.cache import kept, remember, remember_value
from nundine.services.errors import NotFound
from nundine.services.ledger import entries
from nundine.services.ledger.marks import mark_of
from nundine.services.ledger.nouns import PLACEMENT
from nundine.services.week.loaded import Loaded, in_memory
from nundine.services.wording import Names
from nundine.services.wording.site_names import SiteNames
from nundine.store.base import db
from nundine.store.gates import placed_elsewhere
from nundine.store.placement import Key, as_core, load_placements
from nundine.store.reading.jobs import load_jobs
from nundine.store.site import Site, site
from nundine.store.week import Placement as PlacementRow
from nundine.store.week import Week
from nundine.store.work_order import Task as TaskRow
from nundine.store.work_order import WorkOrder

_converted: dict[int, tuple[dict[str, Any], Placement]] = {}


def _as_core(key: Key, row: dict[str, Any], zone: ZoneInfo) -> Placement:
    """As `as_core`, kept for the very same row: most rows stay what they are from edit to edit."""
    held = _converted.get(id(row))
    if held is not None and held[0] is row and held[1].key == key:
        return held[1]
    made = as_core(key, row, zone)
    if len(_converted) > 20_000:
        _converted.clear()
    _converted[id(row)] = (row, made)
    return made


def _seated(one: Placement, task: Task) -> Placement:
    """The placement with the seats that its task has now; a task that was changed after it was placed may
    have others."""
    if len(one.people) == task.people:
        return one
    have = list(one.people)[: task.people]
    return replace(one, people=tuple(have + [Seat(None, n.craft) for n in task.seat_needs[len(have) :]]))


@dataclass(frozen=True)
class WeekState:
    """A week as it stands: the week's row, stored placements, and the problem without fixed placements."""

    week: Week
    site: Site
    problem: WeekProblem
    rows: dict[Key, dict[str, Any]]
    marks: tuple[str, str]
    """Of people and of work, as they were read."""
    work_elsewhere: frozenset[int]
    """WOs that stand in another open week."""
    kinds: dict[str, str]
    """What a WO's hours count as (must, preventive, other), as far as it was looked up."""

    @property
    def zone(self) -> ZoneInfo:
        return ZoneInfo(self.site.timezone)

    @cached_property
    def placements(self) -> tuple[Placement, ...]:
        known, zone = self.problem.task_by_id, self.zone
        return tuple(
            _seated(_as_core(k, r, zone), known[k[:2]]) for k, r in self.rows.items() if k[:2] in known
        )

    @cached_property
    def draft(self) -> WeekProblem:
        """The problem with all that is placed as fixed: what the screens show."""
        return self.problem.with_placements(self.placements)

    @cached_property
    def checked(self) -> Checked:
        return self._once("checked", lambda: check(self.draft, self.placements))

    @cached_property
    def tanks(self) -> dict[tuple[str, Any], Tank]:
        empty = remember(
            ("empty", id(self.problem.people)), self.problem.people, lambda: empty_tanks(self.problem)
        )
        return self._once("tanks", lambda: loaded(empty, self.problem, self.placements))

    def _once(self, what: str, make: Any) -> Any:
        """Computed once for these people, work and edits, whoever asks."""
        return remember((what, id(self.problem), self.week.name, self.week.edits), self.problem, make)

    def tasks_that_are(self, *states: str) -> set[tuple[str, str]]:
        """Job and task, of jobs in the week, of what stands as given: to do, under way, done, skipped."""
        placed = TaskRow.alias()
        jobs = (
            PlacementRow.select(placed.work_order)
            .join(placed, on=PlacementRow.task == placed.id)
            .where(PlacementRow.week == self.week)
        )
        rows = (
            TaskRow.select(WorkOrder.number, TaskRow.number)
            .join(WorkOrder)
            .where(TaskRow.work_order.in_(jobs) & TaskRow.state.in_(states))
        )
        return {(job, task) for job, task in rows.tuples()}

    @property
    def names(self) -> Names:
        """Names of the site, read once while people and work are as they are."""
        found: Names = remember_value(("names", self.site.get_id(), *self.marks), SiteNames)
        return found

    @property
    def data_mark(self) -> str:
        """Names the people and work that a bound was proven for."""
        return f"{self.marks[0]}.{self.marks[1]}"


def find_week(name: str) -> Week:
    """The week's row, made when it is first opened. Raises NotFound for what is no week."""
    _need_week(name)
    return Week.get_or_none(Week.name == name) or _opened(name)


def _need_week(name: str) -> None:
    try:
        week_monday(name)
    except ValueError as bad:
        raise NotFound("week", str(bad)) from bad


def _opened(name: str) -> Week:
    Week.insert(name=name).on_conflict_ignore().execute()
    return Week.get(Week.name == name)  # type: ignore[no-any-return]


Stamp = tuple[tuple[int, int, str], ...]
"""Rows of weeks, with their edits and status: as long as it is the same, they are as they were."""


def _week_among(name: str) -> tuple[Week, Stamp]:
    """The week's row, as `find_week` gives it, and the stamp of all other weeks, by one question."""
    _need_week(name)
    all_weeks = {w.name: w for w in Week.select().order_by(Week.id)}
    week = all_weeks.pop(name, None) or _opened(name)
    return week, tuple((w.id, w.edits, w.status) for w in all_weeks.values())


def _rows(here: Any, week: Week) -> dict[Key, dict[str, Any]]:
    """Stored placements after the week's newest edit, by job, task and portion: those after the edit before
    it with its changes, else read whole."""

    def make() -> dict[Key, dict[str, Any]]:
        return dict(sorted(found().items()))

    def found() -> dict[Key, dict[str, Any]]:
        before = kept(("rows", here, week.name, week.edits - 1))
        if before is None:
            return load_placements(week)
        changes = entries.changes_by(week.name, week.edits, PLACEMENT)
        if changes is None:
            return load_placements(week)
        rows = dict(before)
        for change in changes:
            job, task, portion = change.key
            rows.pop((job, task, int(portion)), None)
            if change.after is not None:
                rows[(job, task, int(portion))] = change.after
        return rows

    return dict(remember_value(("rows", here, week.name, week.edits), make))


def _elsewhere(here: Any, week: Week, stamp: Stamp) -> frozenset[int]:
    """WOs that stand in another open week; looked up again only when other weeks were edited."""
    made: frozenset[int] = remember_value(
        ("elsewhere", here, week.name, stamp),
        lambda: frozenset(
            row[0] for row in placed_elsewhere(week).select(TaskRow.work_order).distinct().tuples()
        ),
    )
    return made


def load_state(name: str) -> WeekState:
    """The week as it stands now."""
    (week, others), here = _week_among(name), site()
    zone = ZoneInfo(here.timezone)
    here_id = (here.name, here.get_id())
    rows = _rows(here_id, week)
    held = in_memory(week, zone, here_id, _elsewhere(here_id, week, others))
    jobs = held.jobs
    known = remember(
        ("known", id(jobs)), jobs, lambda: frozenset((j.id, t.id) for j in jobs for t in j.tasks)
    )
    unready = frozenset(k[:2] for k in rows if k[:2] not in known)
    if unready:
        jobs = remember_value(
            ("work and", here_id, name, held.work_deeds, held.elsewhere, unready),
            lambda: _with(jobs, load_jobs(week, zone, only={job for job, _ in unready})),
        )
    marks = (mark_of(held.people_deeds), mark_of(held.work_deeds))
    problem = remember_value(
        ("problem", here_id, name, *marks, id(jobs)), lambda: _problem(name, here, held, jobs)
    )
    return WeekState(week, here, problem, rows, marks, held.elsewhere, held.kinds)


def has_work(name: str) -> bool:
    """Whether anything is placed in a week; a week that nobody has opened is not made by asking."""
    return bool(PlacementRow.select().join(Week).where(Week.name == name).exists())


def with_work(state: WeekState, numbers: frozenset[str]) -> WeekState:
    """The same week with some WOs more among its jobs, ready or not."""
    jobs = _with(state.problem.jobs, load_jobs(state.week, state.zone, numbers, only=numbers))
    return replace(state, problem=replace(state.problem, jobs=jobs))


def _with(jobs: tuple[Job, ...], more: tuple[Job, ...]) -> tuple[Job, ...]:
    """Jobs in the order of their numbers, with more of them or others in their place."""
    by_number = {j.id: j for j in (*jobs, *more)}
    return tuple(by_number[n] for n in sorted(by_number))


@contextmanager
def locked_week(name: str) -> Iterator[WeekState]:
    """A transaction that begins with locking the week against edits: all that is done in it stands, or
    nothing."""
    with db.atomic():
        Week.select(Week.id).where(Week.name == name).for_update().get()
        yield load_state(name)


def _problem(name: str, here: Site, held: Loaded, jobs: tuple[Job, ...]) -> WeekProblem:
    span = week_interval(name, ZoneInfo(here.timezone))
    weights = replace(PRICED, **here.settings.get("weights", {}))
    return WeekProblem(
        name,
        here.timezone,
        span.start,
        span.end,
        15,
        weights,
        held.crafts,
        held.people,
        held.assets,
        held.tools,
        jobs,
        travel=held.ways,
    )
