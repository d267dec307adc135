"""The critical path over the tasks of many jobs: how long all takes at least, and how much each may slip.

Earliest and latest finishes as in the critical path method (Kelley and Walker, "Critical-Path Planning and
Scheduling", 1959; from memory), with lags; people, windows and shifts are left out of it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Step:
    """`hours` long; begins once each of `after` has ended and its lag in hours has passed."""

    hours: float
    after: Sequence[tuple[int, float]] = ()


@dataclass(frozen=True)
class Slack:
    """Hours from the beginning of all: earliest start and end; `slack`: by how much it may slip before the
    end of all does."""

    start: float
    end: float
    slack: float


def critical(steps: Mapping[int, Step]) -> dict[int, Slack]:
    """Each step's times, by its number. What a step follows but is not among the steps is taken as done.
    Raises ValueError for steps that wait for each other."""
    order = _in_order(steps)
    ends: dict[int, float] = {}
    starts: dict[int, float] = {}
    for k in order:
        starts[k] = max((ends[b] + lag for b, lag in steps[k].after if b in steps), default=0.0)
        starts[k] = max(0.0, starts[k])
        ends[k] = starts[k] + steps[k].hours
    whole = max(ends.values(), default=0.0)
    latest = dict.fromkeys(order, whole)
    for k in reversed(order):
        for before, lag in steps[k].after:
            if before in latest:
                latest[before] = min(latest[before], latest[k] - steps[k].hours - lag)
    return {k: Slack(starts[k], ends[k], max(0.0, latest[k] - ends[k])) for k in order}


def _in_order(steps: Mapping[int, Step]) -> list[int]:
    """Steps after those that they follow."""
    waits = {k: sum(b in steps for b, _ in s.after) for k, s in steps.items()}
    next_of: dict[int, list[int]] = {k: [] for k in steps}
    for k, s in steps.items():
        for before, _ in s.after:
            if before in steps:
                next_of[before].append(k)
    ready = [k for k, n in waits.items() if n == 0]
    out: list[int] = []
    while ready:
        k = ready.pop()
        out.append(k)
        for later in next_of[k]:
            waits[later] -= 1
            if waits[later] == 0:
                ready.append(later)
    if len(out) < len(steps):
        raise ValueError("some steps wait for each other")
    return out
