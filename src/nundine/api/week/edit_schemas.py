"""Edits, answers, reports and builds, as they are sent and answered."""

from __future__ import annotations

from datetime import time
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from nundine.api.moments import Day, Moment
from nundine.services.week.build_changes import BuildChanges
from nundine.services.week.overview import Overview

Key = tuple[str, str, int]


class PutEdit(BaseModel):
    """`clock`: the time of the day at which a single job starts."""

    kind: Literal["put"]
    jobs: list[str] = Field(min_length=1, max_length=500)
    day: Day | None = None
    clock: time | None = None


class MoveEdit(BaseModel):
    """`whole`: the other tasks of the jobs go along, so that their order holds."""

    kind: Literal["move"]
    keys: list[Key] = Field(min_length=1, max_length=2000)
    day: Day
    whole: bool = True


class TakeOutEdit(BaseModel):
    kind: Literal["take out"]
    jobs: list[str] = Field(min_length=1, max_length=500)


class NextWeekEdit(BaseModel):
    """Jobs go into the week after this one: on a day of it, or (null) where each fits first."""

    kind: Literal["next week"]
    jobs: list[str] = Field(min_length=1, max_length=500)
    day: Day | None


class PinEdit(BaseModel):
    kind: Literal["pin"]
    keys: list[Key] = Field(min_length=1, max_length=2000)
    on: bool


class GiveEdit(BaseModel):
    kind: Literal["give"]
    key: Key
    seat: int
    person: str | None


class GivingForm(BaseModel):
    """Jobs whose work is given to a person or a crew, of them only placements with `keys`, where some are
    named; `despite`: also what hours or the way speak against."""

    jobs: list[str] = Field(min_length=1, max_length=500)
    keys: list[Key] = Field(default=[], max_length=2000)
    person: str | None = None
    crew: str | None = None
    despite: bool = False


class GiveAllEdit(GivingForm):
    kind: Literal["give all"]


class ExchangeEdit(BaseModel):
    kind: Literal["exchange"]
    key: Key
    seat: int
    person: str


class StartEdit(BaseModel):
    """`clock` is a time of the placement's shift, in a night on either side of midnight; null takes the time
    off."""

    kind: Literal["start"]
    key: Key
    clock: time | None


class MendEdit(BaseModel):
    kind: Literal["mend"]
    put_in: list[str] = Field(default=[], max_length=50)


class StatusEdit(BaseModel):
    kind: Literal["status"]
    to: str


class AbsenceEdit(BaseModel):
    """`last`: away from the day to this one, from `start` on the first and until `end` on the last;
    `stand_in`: who answers meanwhile for what the person answers for."""

    kind: Literal["absence"]
    person: str
    day: Day
    reason: str
    start: time | None = None
    end: time | None = None
    last: Day | None = None
    stand_in: str | None = None


class ExtraHoursEdit(BaseModel):
    kind: Literal["overtime", "extra shift"]
    person: str
    day: Day
    start: time
    end: time


class LendEdit(BaseModel):
    kind: Literal["lend"]
    person: str
    area: str
    first: Day
    last: Day


class TakeBackEdit(BaseModel):
    kind: Literal["take back"]
    person: str
    day: Day
    what: Literal["absence", "overtime", "extra shift", "loan"]
    start: str = Field(max_length=40)


class SkillsEdit(BaseModel):
    kind: Literal["skills"]
    person: str
    crafts: list[tuple[str, int]] = Field(max_length=20)
    certificates: list[tuple[str, Day | None]] = Field(max_length=40)


class PersonDayEdit(BaseModel):
    """`last`: to open or to give all work from the day to this one."""

    kind: Literal["back", "free day", "cover day"]
    person: str
    day: Day
    last: Day | None = None


class UndoEdit(BaseModel):
    kind: Literal["undo", "redo"]


AnyEdit = Annotated[
    PutEdit
    | MoveEdit
    | TakeOutEdit
    | NextWeekEdit
    | PinEdit
    | GiveEdit
    | GiveAllEdit
    | ExchangeEdit
    | StartEdit
    | MendEdit
    | StatusEdit
    | AbsenceEdit
    | ExtraHoursEdit
    | LendEdit
    | TakeBackEdit
    | SkillsEdit
    | PersonDayEdit
    | UndoEdit,
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
    start: Moment
    said: Literal["agreed", "refused"] | None
    remark: str = Field("", max_length=300)
    seen: int


class WindowForm(BaseModel):
    """A window drawn (`was` null), changed, or taken away (`start` and `end` null)."""

    asset: str
    kind: Literal["work", "run"]
    was: Moment | None = None
    start: Moment | None = None
    end: Moment | None = None
    seen: int


class ProgressForm(BaseModel):
    """How one or several tasks went. `hours_spent` null keeps what was reported, or takes the planned hours
    for what is done.

    `along`: earlier tasks of these WOs that are not done yet are reported done with them.
    """

    tasks: list[tuple[str, str]] = Field(min_length=1, max_length=500)
    to: Literal["to do", "under way", "done", "not done", "skipped"]
    hours_spent: float | None = None
    hours_left: float | None = None
    reason: str | None = Field(None, max_length=80)
    who: list[str] | None = Field(None, max_length=50)
    ended: Moment | None = None
    along: bool = False
    seen: int


class TaskReport(BaseModel):
    """How one task went: `hours_by` holds the hours of each person."""

    job: str
    task: str
    to: Literal["under way", "done", "not done"]
    hours_by: dict[str, float] = Field(default={}, max_length=50)
    hours_left: float | None = None
    reason: str | None = Field(None, max_length=80)


class ReportsForm(BaseModel):
    """Several tasks reported in one go, all ended at one moment, or now."""

    rows: list[TaskReport] = Field(min_length=1, max_length=500)
    ended: Moment | None = None
    along: bool = False
    seen: int


class OrderSheetsForm(BaseModel):
    """Numbers of WOs, in the order of their sheets."""

    short: bool = False
    by: Literal["list", "asset", "day", "crew"] = "list"

    numbers: list[str] = Field(min_length=1, max_length=500)


class Edited(BaseModel):
    """What was done, what of it could not be done, loose ends that it made, and the week as it then
    stands."""

    label: str
    notes: list[str] = []
    arisen: list[str] = []
    week: Overview


class BuildForm(BaseModel):
    seconds: float = 20.0
    crafts: list[str] | None = None
    areas: list[str] | None = None
    days: list[Day] | None = None
    mode: Literal["all", "days", "seats"] = "all"


class BuildPoint(BaseModel):
    """How far a build is; `compiled` says whether the worker has the compiled engine yet."""

    seconds: float
    value: float
    bound: float | None
    placed: int
    jobs: int
    compiled: bool = True


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
    waits_for: str | None
    changes: BuildChanges | None


class Accepted(BaseModel):
    """Jobs that were left as they are, and those of them that are not in the week and could be fitted in
    anew."""

    left: list[str]
    to_fit: list[str]
    week: Overview
