"""What a preventive service is raised as: a WO with the tasks of its rungs, or a request that planners decide
on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.preventive.due import EVENING
from nundine.core.timeline import at_local
from nundine.services.errors import Refused
from nundine.services.exchange import importing
from nundine.services.exchange.cells import write_cell
from nundine.services.exchange.forms import Cells, filled
from nundine.services.ledger.edits import Change
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import REQUESTS, take_own, turn
from nundine.services.wording.phrases import day_words
from nundine.services.work.asked_services import of_rungs
from nundine.services.work.job_plans import copy_for_order
from nundine.services.work.requests import OWN as OWN_REQUEST
from nundine.services.work.work_orders import OWN
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.preventive import PreventivePlan, Service
from nundine.store.request import WorkRequest
from nundine.store.site import site
from nundine.store.work_order import WorkOrder


@dataclass(frozen=True)
class Ready:
    """A service that is to be raised now, with the rungs of what falls due and its last times."""

    plan: PreventivePlan
    service: Service
    asset: Asset
    due: date
    rungs: tuple[tuple[str, date], ...]
    shutdown: str | None


class Work:
    """WOs with their tasks, as they are raised one after another."""

    def __init__(self, counter: Any) -> None:
        self._counter = counter
        self._copies: dict[str, tuple[Cells, list[Cells]]] = {}
        self._zone = ZoneInfo(site().timezone)
        self._orders: list[Cells] = []
        self._tasks: list[Cells] = []

    def add(self, one: Ready, crew: str) -> str:
        """Gives the number. Raises Refused."""
        plan = one.plan
        if plan.number not in self._copies:
            self._copies[plan.number] = _copy(plan)
        order, its = self._copies[plan.number]
        parts = of_rungs(plan, [name for name, _ in one.rungs], its)
        if not parts:
            raise Refused("tasks", "None of its tasks belongs to these rungs.")
        before = self._orders[-1]["number"] if self._orders else None
        number = _next(before) if before else take_own(self._counter, WorkOrder, OWN, 999)
        self._orders.append(_order(one, order, number, crew, self._zone))
        self._tasks += [{**t, "number": number, "state": ""} for t in parts]
        return number

    def changes(self) -> list[Change]:
        """What makes them; the counter then stands at the last. Raises Refused with the field that is
        wrong."""
        if not self._orders:
            return []
        given = {
            "work_orders": [filled(o) for o in self._orders],
            "tasks": [filled(t) for t in self._tasks],
        }
        report, changes = importing.checked_rows(given)
        if report.errors:
            first = report.errors[0]
            raise Refused("field", f"{first.file} {first.row}: {first.column}: {first.reason}")
        last, counter = int(self._orders[-1]["number"].removeprefix(OWN)), self._counter
        type(counter).update(last=last).where(type(counter).id == counter.id).execute()
        return changes


class Asked:
    """Requests, as services are raised that planners decide on."""

    def __init__(self, account: Account | None) -> None:
        self._account = account
        self._counter: Any = None
        self._rows: dict[Any, dict[str, Any]] = {}

    def add(self, one: Ready) -> str:
        """Gives the number."""
        if self._counter is None:
            self._counter = turn(REQUESTS)
        number = take_own(self._counter, WorkRequest, OWN_REQUEST, 1000)
        plan, by = one.plan, self._account
        told = f"{plan.number} falls due on {day_words(one.due)} {one.due.year}."
        self._rows[(number,)] = {
            "title": _title(one),
            "asset": one.asset.key,
            "place": "",
            "description": f"{told} {plan.description}".strip()[:4000],
            "urgency": "when it fits",
            "state": "new",
            "raised": settings().now(),
            "reporter": by.full_name if by else "Nundine",
            "account": by.name if by else None,
            "order": None,
            "talk": [],
        }
        return number

    def changes(self) -> list[Change]:
        """What makes them."""
        return changes_to("request", self._rows)


def _title(one: Ready) -> str:
    """The plan's, with the rungs where it has several."""
    rungs = ", ".join(name for name, _ in one.rungs) if len(one.plan.rungs) > 1 else ""
    return f"{one.plan.title}: {rungs}"[:200] if rungs else str(one.plan.title)


def _next(number: str) -> str:
    return f"{OWN}{int(number.removeprefix(OWN)) + 1}"


def _copy(plan: PreventivePlan) -> tuple[Cells, list[Cells]]:
    """What a WO of a plan says, and its tasks. Raises Refused."""
    if plan.job_plan is None:
        return {"description": ""}, [_typed_in(plan)]
    copied = copy_for_order(plan.job_plan.number)
    return copied.order, copied.tasks


def _typed_in(plan: PreventivePlan) -> Cells:
    """The one task of a plan whose work is typed in. Raises Refused."""
    if plan.hours is None:
        raise Refused("plan", "It has neither a job plan nor hours of its own that say what is to be done.")
    if not plan.needs:
        raise Refused("plan", "Nothing says who does it: its plan names no craft.")
    needs = write_cell("needs", tuple(tuple(n) for n in plan.needs), ZoneInfo(site().timezone))
    said = {"title": plan.title, "hours": repr(plan.hours), "asset_state": plan.asset_state}
    return {"task": "10", **said, "needs": str(needs), "after": ""}


def _order(one: Ready, copied: Cells, number: str, crew: str, zone: ZoneInfo) -> Cells:
    plan = one.plan
    due: datetime = at_local(one.due, EVENING, zone)
    return {
        **copied,
        "number": number,
        "title": _title(one),
        "asset": one.asset.key,
        "kind": plan.kind,
        "state": "approved",
        "raised": settings().day(site().timezone).isoformat(),
        "must": "yes" if plan.kind == "statutory" else "no",
        "due": due.isoformat(),
        "crew": crew,
        "correction": repr(plan.correction),
        "shutdown": one.shutdown or "",
        "description": plan.description or copied["description"],
    }
