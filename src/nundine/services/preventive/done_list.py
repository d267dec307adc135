"""What became of preventive services, as a list: raised, done or left out, in time or late."""

from __future__ import annotations

from typing import Any

from peewee import JOIN, SQL, Case, NodeList, fn

from nundine.core.lifecycle import OCCURRENCE_STATES
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.work.part_costs import used_by_order
from nundine.store.asset import Asset
from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.request import WorkRequest
from nundine.store.roster import Person
from nundine.store.site import Area
from nundine.store.work_order import Task, WorkOrder

FOLLOWS = 14
"""Days after a service in which corrective work on its asset counts as found by it (common practice, no
source)."""
FOUND_KINDS = ("corrective", "safety")


@listing("done services", "What became of services", READ)
def done_services(around: Around) -> Listing:
    """All that was ever raised; what is not done is as late as today says."""
    P = PreventivePlan
    key = fn.CONCAT(P.number, " / ", Asset.key, " / ", Occurrence.due)
    over = fn.DATEDIFF(fn.COALESCE(Occurrence.done, around.today), Occurrence.due)
    late = Case(None, [(Occurrence.state == "left out", None)], fn.GREATEST(0, over - P.days_behind))
    in_time = Case(None, [(Occurrence.state == "left out", 0), (over > P.days_behind, 0)], 1)
    of_tasks = (
        Task.select(Task.work_order, fn.SUM(Task.hours_spent).alias("hours"))
        .group_by(Task.work_order)
        .alias("of_tasks")
    )
    of_parts = used_by_order().alias("of_parts")
    columns = (
        Column("key", "Occurrence", "text", key, shown=False),
        Column("plan", "Plan", "text", P.number, find=True, group=True, width=80, weight=4),
        Column("title", "Work", "text", P.title, find=True, group=True, width=200, weight=1),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=160, weight=1),
        Column("area", "Area", "choice", Area.key, group=True, width=96, weight=4, choices=areas),
        Column("due", "Fell due", "day", Occurrence.due, width=96, weight=2),
        Column("done", "Done", "day", Occurrence.done, width=100, weight=1),
        Column("state", "State", "choice", Occurrence.state, group=True, width=84, weight=2,
               choices=words(*OCCURRENCE_STATES)),
        Column("in_time", "In time", "yes", in_time, group=True, width=76, weight=2,
               hint="Done within its tolerance, or not late yet"),
        Column("late", "Days late", "number", late, width=84, weight=2, hint="After its tolerance"),
        Column("order", "WO", "text", WorkOrder.number, find=True, width=92, weight=2),
        Column("hours", "Spent", "hours", of_tasks.c.hours, ("of_tasks",), total=True, width=80, weight=3),
        Column("parts", "Cost of parts", "money", fn.COALESCE(of_parts.c.amount, 0), ("of_parts",),
               total=True, width=80, weight=4, filled=True,
               hint="Of what its WO got, in the site's currency"),
        Column("by", "Done by", "text", fn.COALESCE(_by(), ""), find=True, width=150, weight=2),
        Column("found", "Followed by", "number", _followed(), width=90, weight=4, filled=True,
               hint=f"Corrective and safety WOs, and requests, raised on the asset within {FOLLOWS} days"),
        Column("kind", "Kind", "choice", P.kind, group=True, width=96, weight=4,
               choices=words("preventive", "statutory")),
        Column("request", "Request", "text", WorkRequest.number, find=True, width=92, shown=False),
        Column("reason", "Reason", "text", Occurrence.reason, find=True, width=180, shown=False),
    )  # fmt: skip
    joins = {
        "of_tasks": lambda q: q.join_from(
            Occurrence, of_tasks, JOIN.LEFT_OUTER, on=(of_tasks.c.work_order_id == Occurrence.order)
        ),
        "of_parts": lambda q: q.join_from(
            Occurrence, of_parts, JOIN.LEFT_OUTER, on=(of_parts.c.order_id == Occurrence.order)
        ),
    }
    query = (
        Occurrence.select()
        .join(P)
        .join_from(Occurrence, Asset)
        .join_from(Asset, Area)
        .join_from(Occurrence, WorkOrder, JOIN.LEFT_OUTER)
        .join_from(Occurrence, WorkRequest, JOIN.LEFT_OUTER)
    )
    return Listing(columns, query, Occurrence.id, "key", joins, (Sort("done", down=True),))


def _by() -> Any:
    """The names of those who did its tasks."""
    names = NodeList((SQL("DISTINCT"), Person.name, SQL("ORDER BY"), Person.name, SQL("SEPARATOR ', '")))
    keys = SQL("'$[*]' COLUMNS (`key` VARCHAR(40) PATH '$')) AS `did`")
    did = NodeList((SQL("JSON_TABLE("), Task.done_by, SQL(","), keys))
    found = Task.select(fn.GROUP_CONCAT(names)).from_(Task, did, Person)
    of_it = (Task.work_order == Occurrence.order) & Person.mine()
    return found.where(of_it & (Person.key == SQL("`did`.`key` COLLATE utf8mb4_nopad_bin")))


def _followed() -> Any:
    """How much corrective work, and how many requests of which no WO came, followed on the same asset."""
    later, asked = WorkOrder.alias("later"), WorkRequest.alias("asked")
    work = later.select(fn.COUNT(later.id)).where(
        (later.asset == Occurrence.asset) & later.kind.in_(FOUND_KINDS) & _soon(later.raised)
    )
    requests = asked.select(fn.COUNT(asked.id)).where(
        (asked.asset == Occurrence.asset)
        & asked.order.is_null()
        & (asked.state != "declined")
        & _soon(asked.raised)
    )
    return fn.COALESCE(work, 0) + fn.COALESCE(requests, 0)


def _soon(raised: Any) -> Any:
    """Raised within the days after a service in which it counts as found by it."""
    return raised.between(Occurrence.done, NodeList((Occurrence.done, SQL(f"+ INTERVAL {FOLLOWS} DAY"))))
