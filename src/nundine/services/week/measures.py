"""What a week's review says, and what closing froze of it."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from pydantic import TypeAdapter

from nundine.services.week.publish import BacklogWeeks
from nundine.store.week import Closing


@dataclass(frozen=True)
class ReviewSeat:
    """A seat of a task, and who sits in it."""

    portion: int
    seat: int
    craft: str
    person: str | None
    name: str | None


@dataclass(frozen=True)
class ReviewTask:
    """A task of the week with what was reported of it.

    `days_off`: days after (+) or before (-) the published day; for open work the days that it is overdue.
    `kit`: where the parts of its WO were set aside.
    """

    job: str
    title: str
    task: str
    what: str
    asset_name: str
    day: str
    start: str | None
    end: str | None
    hours: float
    state: str
    hours_planned: float
    hours_spent: float
    hours_left: float | None
    must: bool
    people: list[str | None]
    crews: list[str]
    seats: list[ReviewSeat]
    area: str | None
    reason: str | None
    done_by: list[str]
    hours_by: dict[str, float]
    ended: str | None
    published_day: str | None
    published_start: str | None
    published_end: str | None
    days_off: int | None
    kit: str = ""


@dataclass(frozen=True)
class Compliance:
    """What was finished of what the revision in force promised: shares from 0 to 1, None where it promised
    nothing."""

    jobs: int
    jobs_done: int
    by_jobs: float | None
    hours: float
    hours_done: float
    by_hours: float | None
    source: str


@dataclass(frozen=True)
class CraftFigures:
    """Of tasks that are done: work hours planned and spent by a craft, and spent for one planned."""

    craft: str
    planned: float
    spent: float
    ratio: float | None


@dataclass(frozen=True)
class Measured:
    """What a week's review measures; frozen as it is when the week is closed."""

    baseline: int | None
    tasks: list[ReviewTask]
    compliance: Compliance
    break_ins: list[str]
    break_in_share: float | None
    crafts: list[CraftFigures]


@dataclass(frozen=True)
class Left:
    """A WO with tasks that are not done; `out`: it was published and is no longer in the week."""

    number: str
    title: str
    must: bool
    priority: float
    tasks: int
    done: int
    begun: bool
    hours: float
    reason: str | None = None
    out: bool = False


@dataclass(frozen=True)
class NotFinished(Left):
    """A WO that a closed week left, and where it went."""

    to: str | None = None


@dataclass(frozen=True)
class BacklogBeside:
    """Weeks of ready backlog by craft before the week and after it."""

    before: list[BacklogWeeks]
    after: list[BacklogWeeks]


@dataclass(frozen=True)
class ClosedWeek:
    """When and by whom a week was closed, and what became of the rest."""

    at: str
    by: str
    unfinished: list[NotFinished]
    backlog: BacklogBeside


@dataclass(frozen=True)
class PersonName:
    key: str
    name: str


@dataclass(frozen=True)
class Review(Measured):
    """The measures, and beside them the reasons to choose from, people, and how the week was closed."""

    reasons: list[str]
    people: list[PersonName]
    closing: ClosedWeek | None


@dataclass(frozen=True)
class Promised:
    """The day and hours that the revision in force gives a task, and by how many days it was missed."""

    published_day: str | None = None
    published_start: str | None = None
    published_end: str | None = None
    days_off: int | None = None


AS_MEASURED = TypeAdapter(Measured)
AS_UNFINISHED, AS_BACKLOG = TypeAdapter(list[NotFinished]), TypeAdapter(BacklogBeside)
"""Frozen documents, read as what they were."""
LATER: dict[str, Any] = {
    "crews": [],
    "seats": [],
    "area": None,
    "reason": None,
    "done_by": [],
    "hours_by": {},
    "ended": None,
    **asdict(Promised()),
}
"""What a review frozen by an older Nundine did not hold."""


def measured_then(closing: Closing) -> Measured:
    """The review of a week as it was when it was closed."""
    held = closing.content["review"]
    return AS_MEASURED.validate_python({**held, "tasks": [{**LATER, **t} for t in held["tasks"]]})


def closed_as(closing: Closing) -> ClosedWeek:
    """What its closing says of a week."""
    return ClosedWeek(
        closing.at.isoformat(),
        closing.account.full_name,
        AS_UNFINISHED.validate_python(closing.content["unfinished"]),
        AS_BACKLOG.validate_python(closing.content["backlog"]),
    )
