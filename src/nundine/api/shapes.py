"""What goes over the wire."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field


class SignInForm(BaseModel):
    name: str = Field(max_length=60)
    password: str = Field(max_length=200)


class Me(BaseModel):
    name: str
    full_name: str
    role: str
    rights: list[str]
    week: str


class CraftShape(BaseModel):
    key: str
    name: str
    held_back: float


class TankShape(BaseModel):
    craft: str
    day: str
    available: float
    overtime: float
    held_back: float
    load: float
    free: float
    people: int
    jobs: int
    mood: Literal["none", "fits", "tight", "over"]
    must: float
    preventive: float
    other: float


class Conflict(BaseModel):
    code: str
    text: str
    jobs: list[str]
    person: str | None
    day: str | None


class Overview(BaseModel):
    week: str
    status: str
    edits: int
    timezone: str
    start: str
    end: str
    site: str
    days: list[str]
    crafts: list[CraftShape]
    tanks: list[TankShape]
    jobs_placed: int
    jobs_ready: int
    hours_placed: float
    hours_available: float
    over: int
    tight: int
    open_seats: int
    without_time: int
    conflicts: list[Conflict]
    revision: int
    changed_since: bool
    value: float
    bound: float | None
    share: float | None


class Gates(BaseModel):
    plan: bool
    parts: bool
    people: bool
    window: bool
    permit: bool


class JobRow(BaseModel):
    number: str
    title: str
    asset: str
    asset_key: str
    area: str
    kind: str
    state: str
    priority: float
    must: bool
    raised: str
    due: str | None
    hours: float
    hours_by_craft: dict[str, float]
    placed: str | None
    gates: Gates


class Page(BaseModel):
    total: int
    rows: list[JobRow]


class CraftBacklog(BaseModel):
    craft: str
    name: str
    ready_hours: float
    hours_a_week: float
    weeks: float | None


class AreaShape(BaseModel):
    key: str
    name: str


class BacklogSummary(BaseModel):
    total: int
    ready: int
    waiting: int
    crafts: list[CraftBacklog]
    areas: list[AreaShape]


class NeedShape(BaseModel):
    craft: str
    craft_name: str
    level: int
    people: int
    certificate: str | None


class AfterShape(BaseModel):
    task: str
    lag: float


class TaskShape(BaseModel):
    number: str
    title: str
    hours: float
    state: str
    asset_state: str
    splittable: bool
    hours_spent: float
    hours_left: float | None
    after: list[AfterShape]
    needs: list[NeedShape]
    tools: list[str]


class PlacementShape(BaseModel):
    task: str
    portion: int
    day: str
    start: str | None
    end: str | None
    people: list[str | None]
    pinned: bool
    hand: bool
    answer: str | None
    answer_by: str | None
    remark: str | None


class WholeJob(JobRow):
    earliest: str | None
    latest: str | None
    parts_ready: str | None
    permit: str
    description: str
    divisible: bool
    parts_unknown: bool
    tasks: list[TaskShape]
    placements: list[PlacementShape]
    conflicts: list[str]


class FindingShape(BaseModel):
    code: str
    text: str
    facts: dict[str, Any]


class Why(BaseModel):
    job: str
    placed: bool
    reasons: list[FindingShape]
    would_help: list[FindingShape]


class TankJob(BaseModel):
    job: str
    title: str
    asset: str
    priority: float
    must: bool
    kind: str
    hours: float
    gates_open: bool
    pinned: bool
    start: str | None
    keys: list[tuple[str, str, int]]


class ReliefShape(BaseModel):
    job: str
    day: str
    hours: float
    keys: list[tuple[str, str, int]]


class TankDetail(BaseModel):
    tank: TankShape
    jobs: list[TankJob]
    relief: list[ReliefShape]


Key = tuple[str, str, int]


class PutEdit(BaseModel):
    kind: Literal["put"]
    jobs: list[str] = Field(min_length=1, max_length=500)
    day: date | None = None


class MoveEdit(BaseModel):
    kind: Literal["move"]
    keys: list[Key] = Field(min_length=1, max_length=2000)
    day: date


class TakeOutEdit(BaseModel):
    kind: Literal["take out"]
    jobs: list[str] = Field(min_length=1, max_length=500)
    next_week: bool = False


class PinEdit(BaseModel):
    kind: Literal["pin"]
    keys: list[Key] = Field(min_length=1, max_length=2000)
    on: bool


class GiveEdit(BaseModel):
    kind: Literal["give"]
    key: Key
    seat: int
    person: str | None


class StartEdit(BaseModel):
    kind: Literal["start"]
    key: Key
    start: datetime | None


class StatusEdit(BaseModel):
    kind: Literal["status"]
    to: str


class AbsenceEdit(BaseModel):
    kind: Literal["absence"]
    person: str
    day: date
    reason: str


class PersonDayEdit(BaseModel):
    kind: Literal["back", "free day", "cover day"]
    person: str
    day: date


class UndoEdit(BaseModel):
    kind: Literal["undo", "redo"]


AnyEdit = Annotated[
    PutEdit | MoveEdit | TakeOutEdit | PinEdit | GiveEdit | StartEdit | StatusEdit | AbsenceEdit | PersonDayEdit | UndoEdit,
    Field(discriminator="kind"),
]


class EditForm(BaseModel):
    """An edit, and the count of edits that its sender had seen."""

    edit: AnyEdit
    seen: int


class AnswerForm(BaseModel):
    key: Key
    said: Literal["agreed", "refused"] | None
    remark: str = Field("", max_length=300)
    seen: int


class WindowAnswerForm(BaseModel):
    asset: str
    kind: Literal["work", "run"]
    start: datetime
    said: Literal["agreed", "refused"] | None
    remark: str = Field("", max_length=300)
    seen: int


class ProgressForm(BaseModel):
    job: str
    task: str
    to: Literal["to do", "under way", "done", "skipped"]
    hours_spent: float = 0.0
    hours_left: float | None = None
    seen: int


class Edited(BaseModel):
    label: str
    week: Overview


class BuildForm(BaseModel):
    seconds: float = 20.0
    crafts: list[str] | None = None
    areas: list[str] | None = None
    days: list[date] | None = None


class BuildPoint(BaseModel):
    seconds: float
    value: float
    bound: float | None
    placed: int
    jobs: int


class MovedTask(BaseModel):
    job: str
    task: str
    day_before: str
    day: str
    what: list[str]


class BuildChanges(BaseModel):
    added: list[str]
    removed: list[str]
    moved: list[MovedTask]
    kept: int
    held_up: list[str]


class BuildShape(BaseModel):
    id: int
    state: Literal["waiting", "running", "ready", "failed", "accepted", "dropped"]
    by: str | None
    error: str | None
    seconds: float
    value_before: float
    progress: list[BuildPoint]
    value: float | None
    bound: float | None
    status: str | None
    not_placed: int | None
    changes: BuildChanges | None


class Accepted(BaseModel):
    left: list[str]
    week: Overview


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


class AgreeAsset(BaseModel):
    key: str
    name: str
    area: str | None
    limited: bool
    one_job_at_a_time: bool
    windows: list[WindowShape]
    placements: list[AgreePlacement]


class Agree(BaseModel):
    assets: list[AgreeAsset]
    conflicts: list[Conflict]
    to_answer: int
    refused: int


class SeatItem(BaseModel):
    job: str
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


class ShiftShape(BaseModel):
    start: str
    end: str
    overtime: bool


class PersonDay(BaseModel):
    day: str
    shifts: list[ShiftShape]
    work: list[SeatItem]
    hours: float
    free: float
    absence: str | None
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
    days: list[PersonDay]


class CraftName(BaseModel):
    key: str
    name: str


class Crew(BaseModel):
    people: list[PersonRow]
    open_seats: list[SeatItem]
    crafts: list[CraftName]


class CandidateShape(BaseModel):
    person: str
    name: str
    fits: bool
    why: list[str]
    free_hours: float


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


class ChangedLine(BaseModel):
    before: Line
    after: Line
    what: list[str]


class Compared(BaseModel):
    added: list[Line]
    removed: list[Line]
    changed: list[ChangedLine]


class ReviewTask(BaseModel):
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


class ComplianceShape(BaseModel):
    jobs: int
    jobs_done: int
    by_jobs: float | None
    hours: float
    hours_done: float
    by_hours: float | None
    source: str


class Review(BaseModel):
    baseline: int | None
    tasks: list[ReviewTask]
    compliance: ComplianceShape
    break_ins: list[str]


class CommandShape(BaseModel):
    seq: int
    at: str
    by: str
    label: str
    undone: bool


class RowErrorShape(BaseModel):
    file: str
    row: int | None
    column: str | None
    reason: str


class ImportReport(BaseModel):
    done: bool
    kinds: dict[str, dict[str, int]]
    errors: list[RowErrorShape]


class KindShape(BaseModel):
    name: str
    columns: list[str]
