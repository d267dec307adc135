"""What Publish and Run show."""

from __future__ import annotations

from pydantic import BaseModel, Field


class RevisionShape(BaseModel):
    number: int
    at: str
    by: str


class Line(BaseModel):
    job: str
    title: str
    task: str
    what: str
    day: str
    start: str | None
    end: str | None
    hours: float
    craft: str
    name: str | None
    area: str | None = None


class ChangedLine(BaseModel):
    before: Line
    after: Line
    what: list[str]


class Compared(BaseModel):
    added: list[Line]
    removed: list[Line]
    changed: list[ChangedLine]


class ReviewSeat(BaseModel):
    portion: int
    seat: int
    craft: str
    person: str | None
    name: str | None


class ReviewTask(BaseModel):
    """`days_off`: days after (+) or before (-) the published day; for open work the days that it is
    overdue."""

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
    ended: str | None
    published_day: str | None
    published_start: str | None
    published_end: str | None
    days_off: int | None


class ComplianceShape(BaseModel):
    jobs: int
    jobs_done: int
    by_jobs: float | None
    hours: float
    hours_done: float
    by_hours: float | None
    source: str


class CraftHoursShape(BaseModel):
    craft: str
    planned: float
    spent: float
    ratio: float | None


class UnfinishedShape(BaseModel):
    number: str
    title: str
    must: bool
    priority: float
    tasks: int
    done: int
    begun: bool
    hours: float
    reason: str | None = None
    to: str | None = None
    out: bool = False


class BacklogWeeks(BaseModel):
    craft: str
    name: str
    weeks: float | None


class BeforeAfter(BaseModel):
    before: list[BacklogWeeks]
    after: list[BacklogWeeks]


class ClosingShape(BaseModel):
    at: str
    by: str
    unfinished: list[UnfinishedShape]
    backlog: BeforeAfter


class PersonName(BaseModel):
    key: str
    name: str


class Review(BaseModel):
    reasons: list[str]
    people: list[PersonName]
    baseline: int | None
    tasks: list[ReviewTask]
    compliance: ComplianceShape
    break_ins: list[str]
    break_in_share: float | None
    crafts: list[CraftHoursShape]
    closing: ClosingShape | None


class StillAhead(BaseModel):
    """Hours of the week that are still to come, the placements in them and their work hours."""

    begun: bool
    hours_of_week: int
    placements: int
    work_hours: float


class BeforeClosing(BaseModel):
    next_week: str
    unfinished: list[UnfinishedShape]
    reasons: list[str]
    compliance: ComplianceShape
    break_ins: list[str]
    may_close: bool
    ahead: StillAhead | None


class CloseForm(BaseModel):
    """`early`: close it although hours of the week lie ahead."""

    why: dict[str, str] = Field(max_length=2000)
    into_next: list[str] = Field(max_length=2000)
    early: bool = False


class ReopenForm(BaseModel):
    reason: str = Field(max_length=200)


class Reopened(BaseModel):
    """What closing had carried into next week and stays there."""

    still_there: list[str]
    next_week: str


class Closed(BaseModel):
    carried: int
    back: int
    next_week: str


class CommandShape(BaseModel):
    seq: int
    at: str
    by: str
    label: str
    undone: bool
