"""The whole job as the side panel shows it: tasks, needs, order, gates in words, where it stands in the
week."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from peewee import JOIN, Select, fn

from nundine.core.gates import gates
from nundine.core.priority import PriorityParts, priority_parts
from nundine.core.timeline import Interval, subtract
from nundine.services.derived import weights
from nundine.services.errors import NotFound
from nundine.services.exchange.foreign.guesses import still_guessed
from nundine.services.exchange.foreign.marks import MarkLine, changes_of
from nundine.services.people.names import people_names
from nundine.services.week.overview import conflict_of
from nundine.services.week.state import WeekState
from nundine.services.work.answers import CheckLine, check_lines
from nundine.services.work.backlog import Gates, JobRow, hours_by_craft
from nundine.services.work.gates import ShutGate, facts_of, shut_gates, why_not_placed
from nundine.services.work.part_needs import NeedLine, needs_of
from nundine.services.work.weeks_before import LeftOver, history_of
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.gates import last_day_of
from nundine.store.job_plan import JobPlan
from nundine.store.site import Area, Craft, Tool, site
from nundine.store.work_order import CrewNeed, Task, TaskAfter, TaskTool, WorkOrder


@dataclass(frozen=True)
class Need:
    craft: str
    craft_name: str
    level: int
    people: int
    certificate: str | None


@dataclass(frozen=True)
class After:
    """The task before, and hours to wait after its end."""

    task: str
    lag: float


@dataclass(frozen=True)
class Outside:
    """People of another firm, by contract; `rate`: what an hour of one costs."""

    contract: str
    people: int
    rate: float


@dataclass(frozen=True)
class TaskRow:
    """`hours`, `hours_spent`, `hours_left` are elapsed hours."""

    number: str
    title: str
    hours: float
    state: str
    asset_state: str
    splittable: bool
    hours_spent: float
    hours_left: float | None
    after: list[After]
    needs: list[Need]
    tools: list[str]
    text: str
    outside: list[Outside]
    checklist: list[CheckLine]
    parts: list[NeedLine]


@dataclass(frozen=True)
class PlacedTask:
    """A placement of the job: `people` by key and `names`, None = an open seat."""

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


@dataclass(frozen=True)
class Span:
    start: str
    end: str


@dataclass(frozen=True)
class WholeJob(JobRow):
    """`why_not_placed`: why it can not be placed even by hand. `free_for_work`: when its asset may be stopped
    this week. `guessed`: what the export that it came in by did not say, and nobody has since: kind, hours,
    craft."""

    earliest: str | None
    latest: str | None
    parts_ready: str | None
    permit: str
    description: str
    divisible: bool
    put_back: bool
    free_for_work: list[Span]
    parts_unknown: bool
    tasks: list[TaskRow]
    placements: list[PlacedTask]
    conflicts: list[str]
    changes: list[MarkLine]
    history: list[LeftOver]
    shut: list[ShutGate]
    why_not_placed: str | None
    guessed: list[str]
    priority_parts: PriorityParts
    sub_kind: str
    department: str
    crew: str
    contact: str
    cost_account: str | None
    plan: str | None
    isolation: list[str]
    kit: str


def whole_job(state: WeekState, number: str) -> WholeJob:
    """A WO of the backlog or of the week. Raises NotFound."""
    facts = facts_of(state, number)
    found = _with_asset().where(WorkOrder.number == number).dicts().first()
    if found is None:
        raise NotFound("work order", f"There is no WO {number}.")
    placements = _placements(state, number)
    row = _row_of(
        found,
        hours_by_craft([found["id"]]).get(found["id"], {}),
        placements[0].day if placements else None,
        facts.elsewhere,
        gates(facts, last_day_of(state.week)),
    )
    tasks = _tasks(found["id"])
    of_job = [b for b in state.checked.conflicts if any(k[0] == number for k in b.keys)]
    return WholeJob(
        **vars(row),
        earliest=_written(found["earliest"]),
        latest=_written(found["latest"]),
        parts_ready=_written(found["parts_ready"]),
        permit=found["permit"],
        description=found["description"],
        divisible=found["divisible"],
        put_back=found["put_back"],
        parts_unknown=found["parts_unknown"],
        free_for_work=_free_for_work(state, number),
        tasks=tasks,
        placements=placements,
        conflicts=[conflict_of(b, state.names).text for b in of_job],
        changes=changes_of(number),
        history=history_of(number),
        shut=shut_gates(state, facts),
        why_not_placed=why_not_placed(facts),
        guessed=still_guessed(found["imported"], found["kind"], {t.number: _as_told(t) for t in tasks}),
        priority_parts=_priority_parts(found),
        **{name: found[name] for name in ("sub_kind", "department", "crew", "contact")},
        cost_account=found["cost_account"] or found["asset_account"],
        plan=found["plan_number"] or found["plan_from"] or None,
        isolation=found["isolation"],
        kit=found["kit"],
    )


def _priority_parts(found: dict[str, Any]) -> PriorityParts:
    here = site()
    today = settings().day(here.timezone)
    facts = found["criticality"], found["kind"], found["raised"]
    return priority_parts(*facts, today, weights(here), found["correction"])


def _as_told(task: TaskRow) -> dict[str, Any]:
    """Hours and crew need of a task as an export has them."""
    needs = [[n.craft, n.people, n.level, n.certificate] for n in task.needs]
    return {"hours": task.hours, "needs": needs}


def _with_asset() -> Select:
    """WOs with the names of their assets and areas."""
    names = (
        Asset.name.alias("asset_name"),
        Asset.key.alias("asset_key"),
        Asset.criticality,
        Asset.cost_account.alias("asset_account"),
        Area.name.alias("area_name"),
        JobPlan.number.alias("plan_number"),
    )
    query = WorkOrder.select(WorkOrder, *names).join(Asset).join(Area)
    return query.join_from(WorkOrder, JobPlan, JOIN.LEFT_OUTER)


def _row_of(
    r: dict[str, Any],
    hours: dict[str, float],
    placed: str | None,
    elsewhere: str | None,
    open_gates: dict[str, bool],
) -> JobRow:
    return JobRow(
        r["number"],
        r["title"],
        r["asset_name"],
        r["asset_key"],
        r["area_name"],
        r["kind"],
        r["state"],
        r["priority"],
        r["must"],
        r["raised"].isoformat(),
        r["due"].isoformat() if r["due"] else None,
        r["hours"],
        hours,
        placed,
        elsewhere,
        Gates(**open_gates),
    )


def _written(moment: date | None) -> str | None:
    return moment.isoformat() if moment else None


def _tasks(order: int) -> list[TaskRow]:
    """Tasks of a WO by their numbers, with needs, order and tools."""
    rows = Task.select().where(Task.work_order == order).order_by(fn.LENGTH(Task.number), Task.number)
    tasks = list(rows.dicts())
    ids, numbers = [t["id"] for t in tasks] or [0], {t["id"]: t["number"] for t in tasks}
    named = (CrewNeed, Craft.name.alias("craft_name"), Craft.key.alias("craft_key"))
    needs = _by_task(CrewNeed.select(*named).join(Craft).where(CrewNeed.task.in_(ids)).dicts())
    after = _by_task(TaskAfter.select().where(TaskAfter.task.in_(ids)).dicts())
    tools = _by_task(
        TaskTool.select(TaskTool.task, Tool.name).join(Tool).where(TaskTool.task.in_(ids)).dicts()
    )
    parts = needs_of(order, {t["number"]: t["parts"] for t in tasks})
    plain = ("number", "title", "hours", "state", "asset_state", "splittable", "hours_spent", "hours_left")
    return [
        TaskRow(
            **{k: t[k] for k in plain},
            after=[After(numbers[a["before"]], a["lag"]) for a in after[t["id"]]],
            needs=[
                Need(n["craft_key"], n["craft_name"], n["level"], n["people"], n["certificate"])
                for n in needs[t["id"]]
            ],
            tools=[x["name"] for x in tools[t["id"]]],
            text=t["text"],
            outside=[Outside(*o) for o in t["outside"]],
            checklist=check_lines(t["checklist"], t["answers"]),
            parts=parts.get(t["number"], []),
        )
        for t in tasks
    ]


def _by_task(rows: Iterable[dict[str, Any]]) -> dict[int, list[dict[str, Any]]]:
    out: dict[int, list[dict[str, Any]]] = defaultdict(list)
    for row in rows:
        out[row["task"]].append(row)
    return out


def _placements(state: WeekState, number: str) -> list[PlacedTask]:
    """Where the job stands in the week."""
    known, called = {p.id for p in state.problem.people}, people_names()
    out = []
    for p in state.placements:
        if p.job == number:
            seats = [s.id for s in p.people if s.id in known or s.id is None]
            kept = {k: state.rows[p.key][k] for k in ("pinned", "hand", "answer", "answer_by", "remark")}
            start, end = (m.isoformat() if m else None for m in (p.start, p.end))
            names = [called.get(s) if s else None for s in seats]
            out.append(PlacedTask(p.task, p.portion, p.day.isoformat(), start, end, seats, names, **kept))
    return out


def _free_for_work(state: WeekState, number: str) -> list[Span]:
    """When the asset of a job may be stopped in the week: its work windows without its run windows; none
    where it has no limits."""
    job = state.problem.job_by_id.get(number)
    asset = state.problem.asset_by_id.get(job.asset or "") if job else None
    if asset is None or (asset.work_windows is None and not asset.run_windows):
        return []
    whole = Interval(state.problem.start, state.problem.end)
    work = (whole,) if asset.work_windows is None else asset.work_windows
    return [
        Span(max(i.start, whole.start).isoformat(), min(i.end, whole.end).isoformat())
        for i in subtract(work, asset.run_windows)
        if i.end > whole.start and i.start < whole.end
    ]
