"""What Agree, Crew, Publish, Run and Files show."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nundine.api.week.schemas import Conflict


class WindowShape(BaseModel):
    asset: str
    kind: Literal["work", "run"]
    start: str
    end: str
    answer: str | None
    answer_by: str | None
    remark: str | None


class AgreePlacement(BaseModel):
    job: str
    task: str
    portion: int
    title: str
    day: str
    start: str | None
    end: str | None
    asset_state: str
    must: bool
    kind: str
    answer: str | None
    answer_by: str | None
    remark: str | None
    pinned: bool
    conflict: bool


class AssetName(BaseModel):
    key: str
    name: str


class WaitingWork(BaseModel):
    """Jobs and work hours of an asset that have no place in the week yet."""

    jobs: int
    hours: float


class AgreeAsset(BaseModel):
    key: str
    name: str
    area: str | None
    limited: bool
    one_job_at_a_time: bool
    line: list[AssetName]
    windows: list[WindowShape]
    placements: list[AgreePlacement]
    waiting: WaitingWork


class Agree(BaseModel):
    assets: list[AgreeAsset]
    conflicts: list[Conflict]
    to_answer: int
    refused: int


class SeatItem(BaseModel):
    """`minutes_before`: on the way from the area `comes_from`, within the shift. `takes_over_from`: who began
    what is finished here."""

    job: str
    area: str | None
    task: str
    portion: int
    title: str
    task_title: str
    asset: str | None
    priority: float
    must: bool
    kind: str
    day: str
    start: str | None
    end: str | None
    hours: float
    pinned: bool
    seats: int
    seat: int
    craft: str
    level: int
    certificate: str | None
    minutes_before: float = 0.0
    comes_from: str | None = None
    takes_over_from: str | None = None


class ShiftShape(BaseModel):
    start: str
    end: str
    overtime: bool


class HoursByHand(BaseModel):
    """An absence, overtime, an extra shift or a loan; `id` is the start that names it."""

    what: Literal["absence", "overtime", "extra shift", "loan"]
    id: str
    start: str
    end: str
    note: str | None


class CertificateShape(BaseModel):
    name: str
    until: str | None


class PersonDay(BaseModel):
    day: str
    shifts: list[ShiftShape]
    work: list[SeatItem]
    hours: float
    free: float
    absence: str | None
    by_hand: list[HoursByHand]
    conflicts: list[Conflict]


class PersonCraftShape(BaseModel):
    craft: str
    name: str
    level: int


class PersonRow(BaseModel):
    key: str
    name: str
    craft: str
    level: int
    crew: str | None
    area: str | None
    crafts: list[PersonCraftShape]
    certificates: list[CertificateShape]
    days: list[PersonDay]


class CraftName(BaseModel):
    key: str
    name: str


class Crew(BaseModel):
    people: list[PersonRow]
    open_seats: list[SeatItem]
    crafts: list[CraftName]


class ExchangedSeat(BaseModel):
    job: str
    task: str
    day: str
    start: str
    end: str


class ExchangeShape(BaseModel):
    """What the person takes, and what who sat there takes in return."""

    takes: list[ExchangedSeat]
    gives: list[ExchangedSeat]


class CandidateShape(BaseModel):
    person: str
    name: str
    fits: bool
    why: list[str]
    free_hours: float
    exchange: ExchangeShape | None


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
