"""Background work, as it is told."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel

State = Literal["waiting", "running", "done", "failed", "stopped"]


class RunShape(BaseModel):
    """`share` is how far it is, 0 to 1, where that is known; `file` the name of what it made. No `by`:
    Nundine began it by itself."""

    id: int
    kind: str
    label: str
    state: State
    by: str | None
    created: datetime
    began: datetime | None
    ended: datetime | None
    share: float | None
    error: str | None
    waits_for: str | None
    again: bool
    file: str | None
    can_stop: bool


class PeriodicShape(BaseModel):
    """What Nundine does by itself: when, when last and how that ended, when next, and whether it can be
    had at once."""

    kind: str
    label: str
    when: str
    last: RunShape | None
    next: datetime
    at_once: bool


class RunsShape(BaseModel):
    timezone: str
    runs: list[RunShape]
    periodic: list[PeriodicShape]
