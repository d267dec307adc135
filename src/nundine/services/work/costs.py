"""What WOs cost: planned and actual, task by task, and which accounts bear it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from nundine.core.cost import labour, labour_of_people, of_outside, overtime, shared_out
from nundine.services.errors import NotFound
from nundine.services.work import part_costs
from nundine.services.work.part_costs import PartCost, PartCosts
from nundine.store.asset import Asset
from nundine.store.roster import OvertimeOffer as Offer
from nundine.store.roster import Person, PersonCraft
from nundine.store.site import Craft, site
from nundine.store.week import Placement, Seat
from nundine.store.work_order import CrewNeed, Task, WorkOrder

NO_ACCOUNT = ""


@dataclass(frozen=True)
class TaskCost:
    """Cents that a task costs as planned, and as its people's hours were reported; None before that. Of what
    is planned `overtime` is what hours of overtime cost more, by where it stands in a week, and `outside`
    what people of other firms cost."""

    task: str
    title: str
    planned: int
    actual: int | None
    overtime: int
    outside: int


@dataclass(frozen=True)
class Charge:
    """Cents that an account bears; the account is empty where neither WO nor asset has one."""

    account: str
    amount: int


@dataclass(frozen=True)
class OrderCosts:
    """Costs of a WO in cents of the site's currency. `charges` share out the actual costs, before there are
    any the planned ones. `final`: it is closed, and these are the costs that were charged then. `parts`: what
    its parts cost as planned, and `parts_used` those that were handed out less those that came back, or
    bought straight for it; both stand in the sums, and part by part in `part_lines`."""

    number: str
    title: str
    state: str
    currency: str
    tasks: list[TaskCost]
    planned: int
    actual: int | None
    charges: list[Charge]
    final: bool
    overtime: int
    outside: int
    parts: int
    parts_used: int
    part_lines: list[PartCost]


def costs(number: str) -> OrderCosts:
    """Raises NotFound."""
    found = costs_of([number])
    if not found:
        raise NotFound("work order", f"There is no WO {number[:40]}.")
    return found[0]


def costs_of(numbers: list[str]) -> list[OrderCosts]:
    """Of those that are there, by number."""
    rows = (
        WorkOrder.select(WorkOrder, Asset.key.alias("asset_key"), Asset.cost_account.alias("asset_account"))
        .join(Asset)
        .where(WorkOrder.number.in_(numbers or [""]))
        .order_by(WorkOrder.number)
    )
    orders = list(rows.dicts())
    tasks = _tasks([o["id"] for o in orders])
    parts = part_costs.of_orders([o["id"] for o in orders])
    others = {asset for o in orders for asset, _ in o["shares"]}
    keys = Asset.select(Asset.key, Asset.cost_account).where(Asset.key.in_(sorted(others) or [""]))
    accounts = dict(keys.tuples())
    currency = str(site().settings.get("currency", ""))
    return [_costs(o, tasks[o["id"]], parts[o["id"]], accounts, currency) for o in orders]


def _costs(
    o: dict[str, Any],
    tasks: list[TaskCost],
    parts: PartCosts,
    accounts: Mapping[str, str | None],
    currency: str,
) -> OrderCosts:
    reported = [t.actual for t in tasks if t.actual is not None]
    planned = sum(t.planned for t in tasks) + parts.planned
    actual = sum(reported) + parts.used if reported or parts.used else None
    final = o["cost_actual"] is not None
    if final:
        planned, actual = o["cost_planned"], o["cost_actual"]
        charges = [Charge(account, amount) for account, amount in o["charges"]]
    else:
        charges = _charges(o, planned if actual is None else actual, accounts)
    of_it = o["number"], o["title"], o["state"], currency, tasks
    apart = sum(t.overtime for t in tasks), sum(t.outside for t in tasks)
    lines = list(parts.lines)
    return OrderCosts(
        *of_it, planned, actual, charges, final, *apart, parts.planned, parts.used, part_lines=lines
    )


def _charges(o: dict[str, Any], total: int, accounts: Mapping[str, str | None]) -> list[Charge]:
    """A WO's own account bears all; else its asset's and those of the assets that share, by their percent."""
    if o["cost_account"]:
        return [Charge(o["cost_account"], total)]
    weights: dict[str, float] = defaultdict(float)
    weights[o["asset_account"] or NO_ACCOUNT] = 100 - sum(p for _, p in o["shares"])
    for asset, percent in o["shares"]:
        weights[accounts.get(asset) or NO_ACCOUNT] += percent
    shares = shared_out(total, {a: w for a, w in weights.items() if w > 0})
    return [Charge(account, amount) for account, amount in shares.items()]


def _tasks(orders: list[int]) -> dict[int, list[TaskCost]]:
    """Costs of the tasks of WOs that are not skipped, by the WO's row."""
    rates = dict(Craft.select(Craft.key, Craft.rate).tuples())
    chosen = Task.work_order.in_(orders or [0]) & (Task.state != "skipped")
    tasks = list(Task.select().where(chosen).order_by(Task.id).dicts())
    seats: dict[int, list[tuple[str, int]]] = defaultdict(list)
    needs = CrewNeed.select(CrewNeed.task, Craft.key, CrewNeed.people).join(Craft)
    for task, craft, people in needs.where(CrewNeed.task.in_([t["id"] for t in tasks] or [0])).tuples():
        seats[task].append((craft, people))
    dearer = {c.key: c.overtime_rate for c in Craft.select() if c.overtime_rate is not None}
    late = _overtime_hours([t["id"] for t in tasks]) if dearer else defaultdict(dict)
    craft_of = _main_crafts() if any(t["hours_by"] for t in tasks) else {}
    out: dict[int, list[TaskCost]] = defaultdict(list)
    for t in tasks:
        its, actual = seats[t["id"]], None
        more = overtime(late[t["id"]], rates, dearer)
        outside = of_outside(t["hours"], t["outside"])
        if t["hours_by"]:
            actual = labour_of_people(t["hours_by"], craft_of, its, rates)
        elif t["hours_spent"] > 0:
            actual = labour(t["hours_spent"], its, rates)
        if actual is not None:
            actual += more + of_outside(t["hours_spent"] or t["hours"], t["outside"])
        planned = labour(t["hours"], its, rates) + more + outside
        out[t["work_order"]].append(TaskCost(t["number"], t["title"], planned, actual, more, outside))
    return out


def _overtime_hours(tasks: list[int]) -> dict[int, dict[str, float]]:
    """Hours by craft that people of these tasks work in overtime, by where the tasks stand in weeks."""
    rows = (
        Seat.select(Placement.task, Craft.key, Placement.start, Placement.end, Offer.start, Offer.end)
        .join(Placement)
        .join_from(Seat, Craft)
        .join_from(Seat, Offer, on=Offer.person == Seat.person)
        .where(
            Placement.task.in_(tasks or [0]) & (Offer.start < Placement.end) & (Offer.end > Placement.start)
        )
    )
    out: dict[int, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for task, craft, start, end, first, last in rows.tuples():
        out[task][craft] += (min(end, last) - max(start, first)).total_seconds() / 3600
    return out


def _main_crafts() -> dict[str, str]:
    """The first craft of each person."""
    rows = PersonCraft.select(Person.key, Craft.key).join(Person).switch(PersonCraft).join(Craft)
    return dict(rows.where(PersonCraft.rank == 0).tuples())
