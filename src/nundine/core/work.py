"""Jobs as networks of tasks: hours, order, critical path."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Protocol, TypeVar


class NeedLike(Protocol):
    """A crew need: so many people of one craft."""

    @property
    def people(self) -> int: ...


class AfterLike(Protocol):
    """A task that must be finished before, and the hours to wait after it."""

    @property
    def task(self) -> str: ...
    @property
    def lag(self) -> float: ...


class TaskLike(Protocol):
    """What this module needs to know of a task."""

    @property
    def id(self) -> str: ...
    @property
    def hours(self) -> float: ...
    @property
    def after(self) -> Sequence[AfterLike]: ...
    @property
    def needs(self) -> Sequence[NeedLike]: ...


T = TypeVar("T", bound="TaskLike")


def work_hours(task: TaskLike) -> float:
    """Person-hours of a task: elapsed hours x people."""
    return task.hours * sum(need.people for need in task.needs)


def in_order(tasks: Sequence[T]) -> list[T]:
    """Tasks so that each comes after all that it follows; ties keep the given order.

    Raises
    ------
    ValueError
        If tasks follow each other in a circle, or one follows a task that the job does not have.
    """
    ids = {task.id for task in tasks}
    for task in tasks:
        for after in task.after:
            if after.task not in ids:
                raise ValueError(f"task {task.id} follows task {after.task}, which the job does not have")
    done: set[str] = set()
    left = list(tasks)
    ordered: list[T] = []
    while left:
        ready = [t for t in left if all(a.task in done for a in t.after)]
        if not ready:
            raise ValueError("tasks follow each other in a circle: " + ", ".join(t.id for t in left))
        ordered += ready
        done |= {t.id for t in ready}
        left = [t for t in left if t.id not in done]
    return ordered


def earliest_ends(tasks: Sequence[TaskLike]) -> Mapping[str, float]:
    """Hours from the job's start to the earliest end of each task, people and windows aside.

    The forward pass of the critical path method (Kelley and Walker 1959).
    """
    ends: dict[str, float] = {}
    for task in in_order(tasks):
        ends[task.id] = max((ends[a.task] + a.lag for a in task.after), default=0.0) + task.hours
    return ends


def critical_path_hours(tasks: Sequence[TaskLike]) -> float:
    """The shortest elapsed time of a whole job in hours; 0 for a job with no task."""
    return max(earliest_ends(tasks).values(), default=0.0)


def tasks_before(tasks: Sequence[TaskLike], chosen: Collection[str]) -> list[str]:
    """Tasks that the chosen ones follow, near or far, in their order; the chosen ones are not among them."""
    of = {task.id: task for task in tasks}
    found: set[str] = set()
    waiting = [c for c in chosen if c in of]
    while waiting:
        for after in of[waiting.pop()].after:
            if after.task in of and after.task not in found:
                found.add(after.task)
                waiting.append(after.task)
    return [task.id for task in in_order(tasks) if task.id in found and task.id not in chosen]
