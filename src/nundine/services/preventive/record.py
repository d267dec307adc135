"""The record of preventive work over some time: how much of what fell due was done in time, and which
services find nothing."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from peewee import fn

from nundine.core.preventive.due import compliance, is_late
from nundine.services.preventive.done_list import FOLLOWS, FOUND_KINDS
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.request import WorkRequest
from nundine.store.site import Area, site
from nundine.store.work_order import WorkOrder

ENOUGH = 6
"""Services done without finding anything, from which on a longer interval is hinted at (common practice, no
source)."""
YEAR = 365
FORMULA = (
    "Preventive compliance = services done within tolerance / services that were due (preventive maintenance "
    "compliance of the SMRP best-practice metrics, work management; name from memory)."
)


@dataclass(frozen=True)
class PlanRecord:
    """What became of a plan's services: how many were due and done in time, and after how many of those done
    corrective work followed on the asset. `longer`: enough were done, and nothing followed on any."""

    plan: str
    title: str
    due: int
    done: int
    in_time: int
    left_out: int
    found: int
    longer: bool


@dataclass(frozen=True)
class Record:
    """Of all that fell due from a day until today: `compliance` is by `formula` the share done within
    tolerance of what was due, None where nothing was; `late` were done late, `open_late` are past their
    tolerance, not done."""

    first: date
    due: int
    in_time: int
    late: int
    open_late: int
    left_out: int
    compliance: float | None
    plans: list[PlanRecord]
    formula: str = FORMULA


def record(days: int = YEAR, areas: Sequence[str] = ()) -> Record:
    """The record of so many days, of some areas or all."""
    today = settings().day(site().timezone)
    first = today - timedelta(days=days)
    rows = Occurrence.select(
        PreventivePlan.number,
        PreventivePlan.title,
        PreventivePlan.days_behind,
        Occurrence.asset,
        Occurrence.due,
        Occurrence.done,
        Occurrence.state,
    )
    rows = rows.join(PreventivePlan).where(Occurrence.due.between(first, today))
    if areas:
        chosen = Asset.select(Asset.id).join(Area).where(Area.key.in_(list(areas)))
        rows = rows.where(Occurrence.asset.in_(chosen))
    corrective = _corrective(first)
    plans: dict[str, list[int]] = defaultdict(lambda: [0] * 5)
    titles: dict[str, str] = {}
    late = open_late = 0
    all_due: list[tuple[date, date | None]] = []
    for number, title, behind, asset, due, done, state in rows.tuples():
        titles[number] = title
        of_plan = plans[number]
        owed = done is not None or state == "left out" or due + timedelta(days=behind) <= today
        if not owed:
            continue
        of_plan[0] += 1
        all_due.append((due + timedelta(days=behind), done))
        if state == "left out":
            of_plan[3] += 1
        elif done is None:
            open_late += 1
        else:
            of_plan[1] += 1
            in_time = not is_late(due, done, behind)
            of_plan[2] += in_time
            late += not in_time
            of_plan[4] += any(done <= d <= done + timedelta(days=FOLLOWS) for d in corrective[asset])
    share = compliance(all_due, 0, today)
    told = [
        PlanRecord(n, titles[n], p[0], p[1], p[2], p[3], p[4], longer=p[1] >= ENOUGH and p[4] == 0)
        for n, p in sorted(plans.items())
    ]
    left_out = sum(p.left_out for p in told)
    in_time_all = sum(p.in_time for p in told)
    return Record(first, len(all_due), in_time_all, late, open_late, left_out, share, told)


def _corrective(first: date) -> dict[int, list[date]]:
    """By asset, the days on which corrective work was raised, or asked for where no WO came of it."""
    out: dict[int, list[date]] = defaultdict(list)
    rows = WorkOrder.select(WorkOrder.asset, WorkOrder.raised)
    for asset, raised in rows.where(WorkOrder.kind.in_(FOUND_KINDS) & (WorkOrder.raised >= first)).tuples():
        out[asset].append(raised)
    asked = WorkRequest.select(WorkRequest.asset, WorkRequest.raised)
    open_ = WorkRequest.asset.is_null(False) & WorkRequest.order.is_null() & (WorkRequest.state != "declined")
    for asset, raised in asked.where(open_ & (fn.DATE(WorkRequest.raised) >= first)).tuples():
        out[asset].append(raised.date())
    return out
