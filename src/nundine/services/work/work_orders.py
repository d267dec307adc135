"""Work by hand: make, change, hold, release and cancel a WO with its tasks, through the same reading and
checks as an import."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from zoneinfo import ZoneInfo

from peewee import JOIN

from nundine.core.priority import URGENCIES
from nundine.services.access import PLAN, require_in
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange.forms import cells_of, changes_of_form, filled
from nundine.services.exchange.stored_rows import standing_work
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.services.lifecycles import Offer, need_move, offers
from nundine.services.listing.column import Choice
from nundine.services.numbering import WORK_ORDERS, take_own, turn
from nundine.services.week.state import WeekState
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.belonging import SiteTable
from nundine.store.job_plan import PlanTask
from nundine.store.permit import PermitKind
from nundine.store.placement import placed_in
from nundine.store.roster import Person, PersonCertificate
from nundine.store.site import Area, Craft, Tool, site
from nundine.store.week import Placement
from nundine.store.work_order import CrewNeed, Task, WorkOrder

OWN, MOST_USED, NEWEST = "WO-", 500, 5000


@dataclass(frozen=True)
class AssetChoice:
    """An asset, the name of its area, and what it is part of."""

    key: str
    name: str
    area: str
    parent: str | None


@dataclass(frozen=True)
class CraftChoice:
    """A craft, and what an hour of it costs in the site's currency."""

    key: str
    name: str
    rate: float


@dataclass(frozen=True)
class Contract:
    """A contract with people from outside, and what an hour of one cost when it was used last."""

    name: str
    rate: float


@dataclass(frozen=True)
class OrderChoices:
    """What the forms offer."""

    assets: list[AssetChoice]
    crafts: list[CraftChoice]
    certificates: list[str]
    sub_kinds: list[str]
    departments: list[str]
    crews: list[str]
    contacts: list[str]
    cost_accounts: list[str]
    currency: str
    tools: list[Choice]
    permits: list[Choice]
    contracts: list[Contract]
    people: list[Choice]


@dataclass(frozen=True)
class OrderDocument:
    """A WO and its tasks as text cells, as an import would have them; its revision, the moves that are open,
    and the week that it is placed in."""

    order: dict[str, str]
    tasks: list[dict[str, str]]
    revision: int
    moves: list[Offer]
    placed_in: str | None


def choices() -> OrderChoices:
    """Assets by name, crafts in their order."""
    above = Asset.alias()
    rows = (
        Asset.select(Asset.key, Asset.name, Area.name.alias("area_name"), above.key.alias("above"))
        .join(Area)
        .join_from(Asset, above, JOIN.LEFT_OUTER, on=Asset.parent == above.id)
        .order_by(Asset.name)
        .dicts()
    )
    used = _used_of_orders()
    return OrderChoices(
        [AssetChoice(a["key"], a["name"], a["area_name"], a["above"]) for a in rows],
        [CraftChoice(c.key, c.name, c.rate) for c in Craft.select().order_by(Craft.id)],
        _certificates(),
        used["sub_kind"],
        used["department"],
        sorted({*_used(Person, Person.crew), *_used(Person, Person.name)}),
        used["contact"],
        sorted({*used["cost_account"], *_used(Asset, Asset.cost_account)}),
        str(site().settings.get("currency", "")),
        [Choice(t.key, t.name) for t in Tool.select().order_by(Tool.vehicle, Tool.name)],
        [Choice(k.key, k.name) for k in PermitKind.select().order_by(PermitKind.name)],
        _contracts(),
        [Choice(p.key, p.name) for p in Person.select().order_by(Person.name)],
    )


def _contracts() -> list[Contract]:
    """Those that tasks of job plans and the newest tasks of WOs name, by name."""
    rates: dict[str, float] = {}
    for table in (PlanTask, Task):
        newest = table.select(table.outside).order_by(table.id.desc()).limit(NEWEST)
        for (outside,) in newest.tuples():
            for name, _, rate in outside:
                rates.setdefault(name, rate)
    return [Contract(name, rate) for name, rate in sorted(rates.items())]


def _used(table: type[SiteTable], field: Any) -> list[str]:
    """Words of a field that stand somewhere already."""
    words = table.select(field).where(field.is_null(False) & (field != "")).distinct().order_by(field)
    return [word for (word,) in words.limit(MOST_USED).tuples()]


def _used_of_orders() -> dict[str, list[str]]:
    """The words that stand in some fields of WOs, by field; WOs are looked through once."""
    fields = (WorkOrder.sub_kind, WorkOrder.department, WorkOrder.contact, WorkOrder.cost_account)
    found = list(WorkOrder.select(*fields).distinct().tuples())
    return {f.name: sorted({r[n] for r in found} - {None, ""})[:MOST_USED] for n, f in enumerate(fields)}


def _certificates() -> list[str]:
    """Those that somebody holds, or that some work asks for."""
    held = PersonCertificate.select(PersonCertificate.certificate).distinct().tuples()
    asked = CrewNeed.select(CrewNeed.certificate).where(CrewNeed.certificate.is_null(False)).distinct()
    return sorted({name for (name,) in [*held, *asked.tuples()]})


def _standing(number: str) -> tuple[dict[str, Any], dict[str, dict[str, Any]]]:
    orders, tasks = standing_work({number})
    if number not in orders:
        raise NotFound("work order", f"There is no WO {number}.")
    return orders[number], tasks.get(number, {})


def form(number: str) -> OrderDocument:
    """Raises NotFound."""
    zone = ZoneInfo(site().timezone)
    revision = WorkOrder.select(WorkOrder.revision).where(WorkOrder.number == number).scalar()
    order, tasks = _standing(number)
    week = placed_in([number]).get(number)

    return OrderDocument(
        cells_of("work_orders", order, zone),
        [cells_of("tasks", t, zone) for t in tasks.values()],
        revision,
        offers("work order", number, order["state"], {"week": week}),
        week,
    )


def save(
    account: Account | None, order: dict[str, str], tasks: list[dict[str, str]], revision: int | None
) -> str:
    """Make a WO (`revision` None) or change one that was seen at a revision; all or nothing. Gives its
    number.

    Raises
    ------
    Stale
        If somebody changed it meanwhile, with what differs.
    Refused
        With the field that is wrong.
    """
    number = (order.get("number") or "").strip()
    with db.atomic():
        counter = turn(WORK_ORDERS)
        gone: set[str] = set()
        if revision is None:
            number = number or take_own(counter, WorkOrder, OWN, 999)
            if WorkOrder.get_or_none(WorkOrder.number == number):
                raise Refused("number", f"There is a WO {number} already.", field="number")
        else:
            need_revision("work order", [number], revision)
            gone = set(_standing(number)[1]) - {(t.get("task") or "").strip() for t in tasks}
        if not tasks:
            raise Refused("tasks", "A WO has at least one task.", field="tasks")
        changes = [*_changes(number, order, tasks), *_removals(number, gone)]
        _need_right(account, [order.get("asset", ""), *_assets_of([number])])
        if changes:
            label = f"Make {number}" if revision is None else f"Change {number}"
            write(stream_of(number), account, Edit("work order", label, changes), checked=True)
    return number


def _assets_of(numbers: list[str]) -> list[str]:
    rows = WorkOrder.select(Asset.key).join(Asset).where(WorkOrder.number.in_(numbers))
    return [key for (key,) in rows.tuples()]


def _need_right(account: Account | None, assets: list[str]) -> None:
    """Raises NotAllowed for somebody who plans work in other areas alone."""
    if account is not None:
        areas = Asset.select(Area.key).join(Area).where(Asset.key.in_(assets or [""])).tuples()
        require_in(account, PLAN, {key for (key,) in areas})


def stream_of(number: str) -> str:
    """The stream of a WO's own deeds."""
    return f"work order {number}"


def _changes(number: str, order: dict[str, str], tasks: list[dict[str, str]]) -> list[Change]:
    """What a form changes. Raises Refused with the field that is wrong."""
    today = settings().day(site().timezone).isoformat()
    whole = {"raised": today, **filled(order), "number": number}
    return changes_of_form("work_orders", whole, "tasks", [{**t, "number": number} for t in tasks])


def _removals(number: str, tasks: set[str]) -> list[Change]:
    """A task that is placed or has progress is skipped; another one goes."""
    wanted = (WorkOrder.number == number) & Task.number.in_(sorted(tasks) or [""])
    skipped, gone = {}, []
    for task in Task.select().join(WorkOrder).where(wanted):
        if task.state in ("done", "skipped"):
            raise Refused("task", f"Task {task.number} is {task.state}; it stays.", field="tasks")
        if task.state == "under way" or Placement.select().where(Placement.task == task).exists():
            skipped[(number, task.number)] = {"state": "skipped"}
        else:
            gone.append((number, task.number))
    return [*changes_to("task", skipped), *removals("task", gone)]


def move(account: Account | None, number: str, to: str) -> None:
    """Hold, release or cancel. Raises Refused with what stands in the way."""
    with db.atomic():
        turn(WORK_ORDERS)
        order = WorkOrder.select().where(WorkOrder.number == number).for_update().first()
        if order is None:
            raise NotFound("work order", f"There is no WO {number}.")
        _need_right(account, _assets_of([number]))
        facts = {"week": placed_in([number]).get(number)}
        need_move("work order", number, order.state, to, facts)
        changes = changes_to("work order", {(number,): {"state": to}})
        write(stream_of(number), account, Edit("state", f"{number} is {to}", changes), checked=True)


def break_in(
    account: Account,
    state: WeekState,
    title: str,
    asset: str,
    hours: float,
    craft: str,
    people: int,
    urgency: str,
) -> str:
    """A WO of one task for work that comes into a running week. Gives its number.

    "now": a breakdown that must be done, due at once. "this week": corrective work due at the end of the
    week.
    """
    if urgency not in URGENCIES:
        raise Refused("urgency", f"Choose how urgent it is: {', '.join(URGENCIES)}.", field="urgency")
    now = urgency == "now"
    due = (
        settings().now().astimezone(state.zone)
        if now
        else state.problem.end - timedelta(minutes=1)
        if urgency == "this week"
        else None
    )
    order = {
        "title": title,
        "asset": asset,
        "kind": "breakdown" if now else "corrective",
        "must": "yes" if now else "no",
        "due": due.isoformat(timespec="minutes") if due else "",
    }
    return save(
        account,
        order,
        [{"task": "10", "title": title, "hours": f"{hours:g}", "needs": f"{craft} x{people}"}],
        None,
    )
