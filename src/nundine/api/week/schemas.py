"""Who is signed in; the week as it stands; the backlog and its jobs; tanks."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nundine.api.exchange.foreign_schemas import MarkLine
from nundine.api.work_orders.schemas import MoveOffer


class SignInForm(BaseModel):
    name: str = Field(max_length=500)
    password: str = Field(max_length=500)
    code: str | None = Field(None, max_length=20)


class CodeNeeded(BaseModel):
    """Name and password are right; the code of the second factor is still to be given with them."""

    code_needed: Literal[True] = True


class SiteName(BaseModel):
    key: str
    name: str


class Me(BaseModel):
    """`week` and `step` are where the account's role begins; without a step it goes on where it was.
    `factor_wanted`: the site asks for a second factor, which is still to be set up.
    `site`: the key of the site that this is about, `first` whether it is the one that needs no address; `sites` are those that the account sees."""

    name: str
    full_name: str
    role: str
    one_time: bool
    factor: bool
    factor_wanted: bool
    rights: list[str]
    week: str
    step: str | None
    areas: list[str]
    site: str
    first: bool
    sites: list[SiteName]


class AreaShape(BaseModel):
    key: str
    name: str


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
    """`areas` are those of its jobs, where they are told."""

    code: str
    text: str
    jobs: list[str]
    person: str | None
    day: str | None
    areas: list[str] = []


class PricesShape(BaseModel):
    """What loose ends take off the points, in points."""

    waiting: float
    handover: float
    area_change: float
    away: float
    total: float


class WorkableFigures(BaseModel):
    """How the week can be worked. `jobs` have several portions; `over_run` of those left open lie over a run
    window."""

    jobs: int
    in_one_go: int
    open_nights: int
    over_run: int
    handovers: int
    area_changes: int
    hours_on_the_way: float
    points: float
    prices: PricesShape


class LooseEnd(BaseModel):
    job: str
    title: str
    day: str
    text: str


class LooseEnds(BaseModel):
    """What is behind each figure."""

    in_one_go: list[LooseEnd]
    in_pieces: list[LooseEnd]
    open_nights: list[LooseEnd]
    handovers: list[LooseEnd]
    area_changes: list[LooseEnd]


class Overview(BaseModel):
    week: str
    status: str
    moves: list[MoveOffer]
    edits: int
    timezone: str
    start: str
    end: str
    site: str
    days: list[str]
    today: str
    areas: list[AreaShape]
    crafts: list[CraftShape]
    tanks: list[TankShape]
    jobs_placed: int
    hours_placed: float
    hours_available: float
    over: int
    tight: int
    open_seats: int
    open_seats_of: dict[str, int]
    without_time: int
    conflicts: list[Conflict]
    changed_jobs: list[str]
    revision: int
    changed_since: bool
    value: float
    bound: float | None
    share: float | None
    workable: WorkableFigures


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
    elsewhere: str | None
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
    names: list[str | None]
    pinned: bool
    hand: bool
    answer: str | None
    answer_by: str | None
    remark: str | None


class LeftOver(BaseModel):
    """A closed week that the job was left in: why, with how many work hours, and where it went."""

    week: str
    reason: str
    hours: float
    to: str


class ShutGate(BaseModel):
    gate: str
    text: str


class SpanShape(BaseModel):
    start: str
    end: str


class WholeJob(JobRow):
    """`why_not_placed`: why it can not be placed even by hand. `free_for_work`: when its asset may be stopped
    this week."""

    earliest: str | None
    latest: str | None
    parts_ready: str | None
    permit: str
    description: str
    divisible: bool
    put_back: bool
    free_for_work: list[SpanShape]
    parts_unknown: bool
    tasks: list[TaskShape]
    placements: list[PlacementShape]
    conflicts: list[str]
    changes: list[MarkLine]
    history: list[LeftOver]
    shut: list[ShutGate]
    why_not_placed: str | None


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
    """`keys` are its placements in the tank, `others` counts those elsewhere in the week."""

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
    others: int


class ReliefShape(BaseModel):
    job: str
    day: str
    hours: float
    keys: list[tuple[str, str, int]]


class TankDetail(BaseModel):
    tank: TankShape
    jobs: list[TankJob]
    relief: list[ReliefShape]
