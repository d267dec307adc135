"""Preventive plans by hand: made, changed, started, held, ended; with a service on each of their assets."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from peewee import JOIN

from nundine.core.preventive.ladder import Ladder, forecast
from nundine.services.access import PLAN, require_in
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange import importing
from nundine.services.exchange.forms import Cells, cells_of, filled
from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.services.lifecycles import Offer, need_move, offers
from nundine.services.numbering import PREVENTIVE_PLANS, take_own, turn
from nundine.services.work import validity
from nundine.services.work.validity import Remark
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.job_plan import JobPlan, PlanTask
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.reading.preventive import Grounds, grounds, last_rows, last_times
from nundine.store.request import WorkRequest
from nundine.store.site import site
from nundine.store.work_order import WorkOrder

NOUN, OWN = "preventive plan", "PP-"
MOST_DRAWN = 12
"""Occurrences that a form draws ahead."""


@dataclass(frozen=True)
class ServiceLine:
    """A plan on one asset: when it was last done, what falls due next, and the WO or request that is raised
    for it."""

    asset: str
    name: str
    held: bool
    last_done: date | None
    next_due: date | None
    next_rungs: list[str]
    order: str | None
    request: str | None


@dataclass(frozen=True)
class Happened:
    """An occurrence that was raised, and what became of it; `late`: days after its tolerance."""

    asset: str
    due: date
    rungs: list[str]
    state: str
    done: date | None
    order: str | None
    late: int


@dataclass(frozen=True)
class PlanTaskName:
    task: str
    title: str
    hours: float


@dataclass(frozen=True)
class PreventiveDocument:
    """A plan as text cells, with the tasks of its job plan, its services, and the last that happened;
    `compliance`: the share of those due in the last year that were done within tolerance."""

    plan: Cells
    revision: int
    moves: list[Offer]
    tasks: list[PlanTaskName]
    services: list[ServiceLine]
    happened: list[Happened]


@dataclass(frozen=True)
class Ahead:
    """What would fall due on a day: rungs, the highest first, and the tasks that they hold."""

    day: date
    rungs: list[str]
    tasks: list[str]
    hours: float


@dataclass(frozen=True)
class Drawn:
    """What would come next, and what does not hold on the days: a job plan, a craft, who is answerable."""

    ahead: list[Ahead]
    remarks: list[Remark]


def _found(number: str) -> PreventivePlan:
    found: PreventivePlan | None = PreventivePlan.get_or_none(PreventivePlan.number == number)
    if found is None:
        raise NotFound(NOUN, f"There is no preventive plan {number[:40]}.")
    return found


def document(number: str) -> PreventiveDocument:
    """Raises NotFound."""
    one = _found(number)
    (row,) = KINDS["preventive_plans"].rows(list(NOUNS[NOUN].read([(number,)]).values()))
    cells = cells_of("preventive_plans", row, ZoneInfo(site().timezone))
    return PreventiveDocument(
        cells,
        one.revision,
        offers(NOUN, number, one.state, {}),
        tasks_of_plan(one.job_plan.number if one.job_plan else ""),
        _services(one),
        _happened(one),
    )


def tasks_of_plan(number: str) -> list[PlanTaskName]:
    """The tasks of a job plan by their numbers; none where there is no such plan."""
    rows = PlanTask.select(PlanTask.number, PlanTask.title, PlanTask.hours).join(JobPlan)
    found = [PlanTaskName(*r) for r in rows.where(JobPlan.number == number).tuples()]
    return sorted(found, key=lambda t: (len(t.task), t.task))


def _services(plan: PreventivePlan) -> list[ServiceLine]:
    numbers = Occurrence.select(Occurrence.asset, WorkOrder.number, WorkRequest.number)
    open_ = (
        numbers.join(WorkOrder, JOIN.LEFT_OUTER)
        .join_from(Occurrence, WorkRequest, JOIN.LEFT_OUTER)
        .where((Occurrence.plan == plan) & (Occurrence.state == "raised"))
    )
    raised = {asset: (order, None if order else request) for asset, order, request in open_.tuples()}
    rows = Service.select(Service, Asset).join(Asset).where(Service.plan == plan).order_by(Asset.name)
    return [
        ServiceLine(
            s.asset.key,
            s.asset.name,
            s.held,
            s.last_done,
            s.next_due,
            s.next_rungs,
            *raised.get(s.asset_id, (None, None)),
        )
        for s in rows
    ]


def _happened(plan: PreventivePlan) -> list[Happened]:
    today = settings().day(site().timezone)
    rows = (
        Occurrence.select(Occurrence, Asset.name.alias("of_asset"), WorkOrder.number.alias("of_order"))
        .join(Asset)
        .join_from(Occurrence, WorkOrder, JOIN.LEFT_OUTER)
        .where(Occurrence.plan == plan)
        .order_by(Occurrence.due.desc(), Occurrence.id.desc())
        .limit(40)
    )
    out = []
    for o in rows.objects():
        late = ((o.done or today) - o.due).days - plan.days_behind if o.state != "left out" else 0
        rungs = [name for name, _ in o.rungs]
        out.append(Happened(o.of_asset, o.due, rungs, o.state, o.done, o.of_order, max(0, late)))
    return out


def save(
    account: Account, cells: Cells, started: date | None, revision: int | None, like: str | None = None
) -> str:
    """Make a plan (`revision` None), which is being written, or change one that was seen at a revision; each
    of its assets gets a service. All or nothing. Gives its number.

    Parameters
    ----------
    started
        The day on which the cycle of new services begins, as a rule when it was done last; today where none
        is said.
    like
        The plan after whose pattern a new one is made; where that runs, the new one runs at once.

    Raises
    ------
    NotFound
        For a pattern that is not there.
    Stale
        If somebody changed it meanwhile, with what differs.
    Refused
        With the field that is wrong.
    """
    number = (cells.get("number") or "").strip()
    with db.atomic():
        counter = turn(PREVENTIVE_PLANS)
        state = "being written"
        if revision is None:
            number = number or take_own(counter, PreventivePlan, OWN, 1000)
            if PreventivePlan.select().where(PreventivePlan.number == number).exists():
                raise Refused("number", f"There is a preventive plan {number} already.", field="number")
            if like is not None and _found(like).state == "running":
                _need_work(cells)
                state = "running"
        else:
            need_revision(NOUN, [number], revision)
            state = _found(number).state
        row, changes = _read({**cells, "number": number, "state": state})
        changes += _services_of(number, row, started or settings().day(site().timezone))
        if changes:
            label = f"Make {number}" if revision is None else f"Change {number}"
            write(f"{NOUN} {number}", account, Edit(NOUN, label, changes), checked=True)
    return number


def _read(cells: Cells) -> tuple[dict[str, Any], list[Change]]:
    """A form's cells as a row, and what it changes. Raises Refused with the field that is wrong."""
    report, changes = importing.checked_rows({"preventive_plans": [filled(cells)]})
    if report.errors:
        first = report.errors[0]
        raise Refused("field", f"{first.column}: {first.reason}", field=str(first.column))
    kind, zone = KINDS["preventive_plans"], ZoneInfo(site().timezone)
    return {c.name: c.value(cells.get(c.name, ""), zone) for c in kind.columns}, changes


def _ladder(row: dict[str, Any], known: Grounds) -> Ladder:
    return known.rungs(row["rungs"], row["basis"], row["season"], row["outside"], row["together"])


def _services_of(number: str, row: dict[str, Any], started: date) -> list[Change]:
    """Services of the plan's assets that have none yet; those of assets that it has no more go. A rung that
    is new begins its cycle on the day."""
    rungs = _ladder(row, grounds([row["rungs"]]))
    there = {k[1]: s for k, s in NOUNS["service"].read_of([number]).items()}
    wanted = {
        (number, asset): {
            "held": there[asset]["held"] if asset in there else False,
            "lasts": last_rows(last_times(rungs, there[asset]["lasts"] if asset in there else (), started)),
        }
        for asset in row["assets"]
    }
    gone = [(number, asset) for asset in there if asset not in row["assets"]]
    return [*changes_to("service", wanted), *removals("service", gone)]


def move(account: Account, number: str, to: str, revision: int) -> None:
    """Start, hold or end a plan. Raises NotFound, Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = _found(number)
        need_move(NOUN, number, one.state, to, {})
        if to == "running" and one.job_plan is not None:
            _need_in_force(one.job_plan)
        changes = changes_to(NOUN, {(number,): {"state": to}})
        if changes:
            write(f"{NOUN} {number}", account, Edit(NOUN, f"{number} is {to}", changes), checked=True)


def _need_work(cells: Cells) -> None:
    """Raises Refused where a plan's job plan may not be used."""
    found = JobPlan.get_or_none(JobPlan.number == (cells.get("job_plan") or "").strip())
    if found is not None:
        _need_in_force(found)


def _need_in_force(job_plan: JobPlan) -> None:
    if job_plan.state != "in force":
        told = f"Its job plan {job_plan.number} is {job_plan.state}; put that in force first."
        raise Refused("state", told, field="job_plan")


def hold_service(account: Account, number: str, asset: str, held: bool) -> None:
    """Hold a plan on one asset, or take it up again. Raises NotFound."""
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        if not NOUNS["service"].ids([(number, asset)]):
            raise NotFound("service", f"{number[:40]} has no service on {asset[:60]}.")
        require_in(account, PLAN, [Asset.get(Asset.key == asset).area.key])
        changes = changes_to("service", {(number, asset): {"held": held}})
        if changes:
            label = f"{number} on {asset} is {'held' if held else 'taken up again'}"
            write(f"{NOUN} {number}", account, Edit(NOUN, label, changes), checked=True)


def ahead(cells: Cells, started: date | None) -> Drawn:
    """What would come next while a form is filled in, from its cells alone, and what does not hold then.
    Raises Refused with the field that is wrong."""
    whole = {"number": "PP-0", "title": "…", **filled(cells)}
    row, _ = _read({**whole, "state": "being written"})
    known = grounds([row["rungs"]])
    rungs, counter = _ladder(row, known), None
    if row["assets"]:
        first = Asset.get_or_none(Asset.key == row["assets"][0])
        counter = known.counter(row["rungs"], first.id) if first else None
    begins = started or settings().day(site().timezone)
    until = date(begins.year + 6, begins.month, 1)
    tasks = tasks_of_plan(row["job_plan"] or "")
    grid = dict(row["grid"])
    out = []
    for one in forecast(rungs, last_times(rungs, (), begins, counter), until, counter)[:MOST_DRAWN]:
        its = [t for t in tasks if not grid.get(t.task) or set(grid[t.task]) & set(one.rungs)]
        out.append(Ahead(one.day, list(one.rungs), [t.task for t in its], sum(t.hours for t in its)))
    return Drawn(out, [*_without_work(row), *_remarks(row, [one.day for one in out])])


def _without_work(row: dict[str, Any]) -> list[Remark]:
    """What a plan lacks that has no job plan: its WOs could not be raised."""
    if row["job_plan"]:
        return []
    if row["hours"] is None:
        return [Remark("hours", "Nothing says how long it takes: choose a job plan, or type the hours.")]
    if not row["needs"]:
        return [Remark("needs", "Nothing says who does it: choose a craft.")]
    return []


def _remarks(row: dict[str, Any], days: list[date]) -> list[Remark]:
    """What does not hold on the first or the last of these days, each cell once."""
    number = row["job_plan"] or ""
    rows = PlanTask.select(PlanTask.needs).join(JobPlan).where(JobPlan.number == number)
    crafts = {need[0]: "job_plan" for (needs,) in rows.tuples() for need in needs}
    crafts |= {need[0]: "needs" for need in row["needs"]}
    found: dict[str, Remark] = {}
    for day in sorted({*days[:1], *days[-1:]}):
        for remark in validity.on_day(day, number, crafts, row["crew"]):
            found.setdefault(remark.field, remark)
    return list(found.values())
