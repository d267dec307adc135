"""Job plans: made, changed in editions, put in force and retired; copied into WOs and made of them."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from datetime import date
from zoneinfo import ZoneInfo

from peewee import fn

from nundine.core.job_plan import applies
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange.forms import Cells, cells_of, changes_of_form
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.kinds.plan_tasks import PLANNED
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.services.lifecycles import Offer, need_move, offers
from nundine.services.numbering import JOB_PLANS, WORK_ORDERS, take_own, turn
from nundine.services.work import work_orders
from nundine.services.work.plan_editions import (
    NOUN,
    TASK,
    EditionLine,
    editions_of,
    keep_edition,
    stream_of,
)
from nundine.services.work.plan_estimates import Estimate, PlanUse, uses_of
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.belonging import at_site, key_here
from nundine.store.job_plan import JobPlan, PlanTask
from nundine.store.permit import PermitKind
from nundine.store.site import Craft, Site, Tool, site
from nundine.store.work_order import WorkOrder

OWN, EVERYWHERE = "JP-", "everywhere"
OF_SITE = " of "
"""Stands between the number of another site's plan and the key of that site."""
OF_ORDER = ("title", "kind", "divisible", "put_back", "permit", "permits", "isolation", "description")
"""Cells that a plan and a WO share."""


@dataclass(frozen=True)
class PlanChoice:
    """A plan in force, as a WO's form offers it; `hours`: those of its tasks, elapsed. `site`: the key of the
    other site that keeps it, empty for one of this."""

    number: str
    title: str
    kind: str
    edition: int
    applies: bool
    tasks: int
    hours: float
    valid_from: date | None
    site: str = ""


@dataclass(frozen=True)
class PlanDocument:
    """A plan and its tasks as text cells, with its editions, its last uses, and what they teach."""

    plan: Cells
    tasks: list[Cells]
    revision: int
    moves: list[Offer]
    editions: list[EditionLine]
    uses: list[PlanUse]
    estimates: list[Estimate]
    asset_names: dict[str, str]


@dataclass(frozen=True)
class PlanCopy:
    """What a WO that is made of a plan says."""

    order: Cells
    tasks: list[Cells]


def _found(number: str) -> JobPlan:
    found: JobPlan | None = JobPlan.get_or_none(JobPlan.number == number)
    if found is None:
        raise NotFound(NOUN, f"There is no job plan {number[:40]}.")
    return found


def _cells(number: str) -> tuple[Cells, list[Cells]]:
    zone = ZoneInfo(site().timezone)
    kinds = KINDS["job_plans"], KINDS["plan_tasks"]
    (row,) = kinds[0].rows(list(NOUNS[NOUN].read([(number,)]).values()))
    tasks = kinds[1].rows(list(NOUNS[TASK].read_of([number]).values()))
    return cells_of("job_plans", row, zone), [cells_of("plan_tasks", t, zone) for t in tasks]


def document(number: str) -> PlanDocument:
    """Raises NotFound."""
    one = _found(number)
    plan, tasks = _cells(number)
    uses, estimates = uses_of(one)
    names = Asset.select(Asset.key, Asset.name).where(Asset.key.in_(one.assets or [""])).tuples()
    moves = offers(NOUN, number, one.state, {})
    return PlanDocument(plan, tasks, one.revision, moves, editions_of(one), uses, estimates, dict(names))


def choices(asset: str | None) -> list[PlanChoice]:
    """Plans in force: those that apply to the asset first, each group by title; last those that other sites
    keep for this one too."""
    line, name = _line(asset)
    own = sorted(_in_force(line, name), key=lambda c: not c.applies)
    others = Site.select().where(Site.id != site().id).order_by(Site.id)
    return [*own, *(c for one in others for c in _served_by(one, name))]


def _served_by(other: Site, name: str) -> list[PlanChoice]:
    """Plans of another site that serve this one; they apply by words of the asset's name alone, for its own
    assets are not known here."""
    here = key_here()
    with at_site(other.id):
        found = _in_force([name] if name else [], name, here)
        return [replace(c, site=other.key) for c in found]


def _serves(plan: JobPlan, key: str | None) -> bool:
    """Whether a plan of another site is kept for this one too."""
    return bool({key, EVERYWHERE} & set(plan.sites))


def _in_force(line: list[str], name: str, serving: str | None = None) -> list[PlanChoice]:
    """Plans of the present site by title, and whether each applies to an asset; with `serving` those alone
    that serve the site of this key too."""
    sums = PlanTask.select(PlanTask.plan, fn.COUNT(PlanTask.id), fn.SUM(PlanTask.hours)).group_by(
        PlanTask.plan
    )
    of_plan = {plan: (count, hours) for plan, count, hours in sums.tuples()}
    rows = JobPlan.select().where(JobPlan.state == "in force").order_by(JobPlan.title, JobPlan.number)
    return [
        PlanChoice(
            p.number,
            p.title,
            p.kind,
            p.edition,
            bool(line) and applies(p.assets, p.words, line, name),
            *of_plan.get(p.id, (0, 0.0)),
            p.valid_from,
        )
        for p in rows
        if serving is None or _serves(p, serving)
    ]


def _line(asset: str | None) -> tuple[list[str], str]:
    """Keys of an asset and of all above it, and its name; nothing where there is no such asset."""
    rows = Asset.select(Asset.id, Asset.key, Asset.parent, Asset.name).tuples() if asset else ()
    by_id = {id_: (key, parent, name) for id_, key, parent, name in rows}
    at = next((id_ for id_, (key, _, _) in by_id.items() if key == asset), None)
    name = by_id[at][2] if at else ""
    line: list[str] = []
    while at is not None and by_id[at][0] not in line:
        line.append(by_id[at][0])
        at = by_id[at][1]
    return line, name


def copy_from(other: str, number: str) -> PlanCopy:
    """What a WO says that is made of a plan which another site keeps for this one too; without the crafts,
    tools and permits that are not known here. Raises NotFound, Refused."""
    here, found = key_here(), Site.get_or_none(Site.key == other)
    if found is None or found.id == site().id:
        raise NotFound(NOUN, f"There is no job plan {number[:40]} of {other[:40]}.")
    with at_site(found.id):
        one = JobPlan.get_or_none(JobPlan.number == number)
        if one is None or not _serves(one, here):
            raise NotFound(NOUN, f"There is no job plan {number[:40]} of {other[:40]}.")
        copied = copy_for_order(number)
    order = copied.order | {"plan": "", "plan_from": f"{number}{OF_SITE}{other}"}
    crafts, tools, permits = (set(t.select(t.key).scalars()) for t in (Craft, Tool, PermitKind))
    order["permits"] = _known(order["permits"], permits)
    tasks = [
        {**t, "needs": _known(t["needs"], crafts, first_word), "tools": _known(t["tools"], tools)}
        for t in copied.tasks
    ]
    return PlanCopy(order, tasks)


def _known(cell: str, keys: Collection[str], key_of: Callable[[str], str] = str) -> str:
    """A cell without the parts whose keys are not known here."""
    return "; ".join(p for p in (part.strip() for part in cell.split(";")) if p and key_of(p) in keys)


def first_word(part: str) -> str:
    """The craft of a crew need."""
    return part.split()[0]


def copy_for_order(number: str) -> PlanCopy:
    """What a WO made of a plan says; free to change. Raises NotFound, and Refused for one not in force."""
    one = _found(number)
    if one.state != "in force":
        raise Refused("state", f"{number} is {one.state}; only a plan in force is copied into WOs.")
    plan, tasks = _cells(number)
    order = {name: plan[name] for name in OF_ORDER}
    order |= {"plan": number, "plan_edition": plan["edition"], "plan_from": ""}
    return PlanCopy(order, [{k: v for k, v in t.items() if k != "plan"} for t in tasks])


def save(account: Account, plan: Cells, tasks: list[Cells], revision: int | None) -> str:
    """Make a plan (`revision` None), which is being written, or change one that was seen at a revision; one
    in force gets a new edition. All or nothing. Gives its number. Raises Stale, and Refused with the field
    that is wrong."""
    number = (plan.get("number") or "").strip()
    with db.atomic():
        counter = turn(JOB_PLANS)
        state, edition, there = "being written", 1, set[str]()
        if revision is None:
            number = number or take_own(counter, JobPlan, OWN, 1000)
            if JobPlan.select().where(JobPlan.number == number).exists():
                raise Refused("number", f"There is a job plan {number} already.", field="number")
        else:
            need_revision(NOUN, [number], revision)
            one = _found(number)
            state, edition = one.state, one.edition
            there = {t.number for t in one.tasks}
        if state == "retired":
            raise Refused("state", f"{number} is retired. Put it in force again, then change it.")
        if not tasks:
            raise Refused("tasks", "A job plan has at least one task.", field="tasks")
        gone = there - {(t.get("task") or "").strip() for t in tasks}
        whole = {**plan, "number": number, "state": state, "edition": str(edition)}
        parts = [{**{k: t.get(k, "") for k in _task_columns()}, "plan": number} for t in tasks]
        changes = changes_of_form("job_plans", whole, "plan_tasks", parts)
        changes += removals(TASK, [(number, t) for t in sorted(gone)])
        if changes:
            label = f"Make {number}" if revision is None else f"Change {number}"
            write(stream_of(number), account, Edit(NOUN, label, changes), checked=True)
            if state == "in force":
                _next_edition(account, number, edition + 1)
    return number


def _task_columns() -> tuple[str, ...]:
    return tuple(c.name for c in PLANNED)


def _next_edition(account: Account, number: str, edition: int) -> None:
    changes = changes_to(NOUN, {(number,): {"edition": edition}})
    write(stream_of(number), account, Edit(NOUN, f"{number}, edition {edition}", changes), checked=True)
    keep_edition(account, number)


def move(account: Account, number: str, to: str, revision: int) -> None:
    """Put a plan in force, or retire it. Raises NotFound, Stale, Refused."""
    with db.atomic():
        need_revision(NOUN, [number], revision)
        one = _found(number)
        need_move(NOUN, number, one.state, to, {})
        changes = changes_to(NOUN, {(number,): {"state": to}})
        if changes:
            write(stream_of(number), account, Edit(NOUN, f"{number} is {to}", changes), checked=True)
        if to == "in force" and not one.editions.count():
            keep_edition(account, number)


def accept_estimates(account: Account, number: str, tasks: list[str], revision: int) -> None:
    """Plan these tasks with the hours that their uses suggest. Raises NotFound, Stale, Refused."""
    _, estimates = uses_of(_found(number))
    hours = {e.task: e.suggested for e in estimates if e.suggested is not None}
    without = [t for t in tasks if t not in hours]
    if without or not tasks:
        raise Refused("tasks", f"No other hours are suggested for task {', '.join(without) or '…'}.")
    plan, cells = _cells(number)
    told = [{**c, "hours": f"{hours[c['task']]:g}"} if c["task"] in tasks else c for c in cells]
    save(account, plan, told, revision)


def make_of_order(account: Account, number: str, revision: int) -> str:
    """A plan of what a WO says, for its asset, to be written further; the WO is one of its uses unless it was
    made of another plan. Gives the plan's number. Raises NotFound, Stale, Refused."""
    with db.atomic():
        turn(WORK_ORDERS)
        need_revision("work order", [number], revision)
        found = work_orders.form(number)
        plan = {name: found.order[name] for name in OF_ORDER}
        plan |= {"assets": found.order["asset"], "permit": _asked(plan["permit"])}
        made = save(account, plan, found.tasks, None)
        own = WorkOrder.plan.is_null() & (WorkOrder.plan_from == "")
        if WorkOrder.select().where((WorkOrder.number == number) & own).exists():
            changes = changes_to("work order", {(number,): {"plan": made, "plan_edition": 1}})
            label = f"{made} is made of {number}"
            write(work_orders.stream_of(number), account, Edit("plan", label, changes), checked=True)
    return made


def _asked(permit: str) -> str:
    """A permit that was given for one job is to be asked for by the next."""
    return "waiting" if permit == "granted" else permit
