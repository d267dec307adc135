"""Preventive plans as tests keep, raise and read them."""

from __future__ import annotations

from datetime import date
from typing import Any

from fastapi.testclient import TestClient

from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.base import db
from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.work_order import WorkOrder

TODAY = date(2026, 11, 23)


PLAN = {
    "title": "Brake care", "kind": "statutory", "job_plan": "JP-1002", "assets": "L1; L2", "behind": "5",
    "rungs": "monthly: 1 month; yearly: 1 year", "grid": "20=yearly", "together": "7", "notice": "14",
}  # fmt: skip


def without_the_plans_of_the_demo() -> None:
    PreventivePlan.update(state="ended").execute()
    Occurrence.delete().execute()


def saved(http: TestClient, started: str | None = None, code: int = 200, **cells: str) -> Any:
    body = {"plan": {**PLAN, **cells}, "started": started, "revision": None}
    answer = http.post("/api/preventive/plans", json=body)
    assert answer.status_code == code, answer.text
    return answer.json()["number"] if code == 200 else answer.json()


def seen(http: TestClient, number: str) -> dict[str, Any]:
    answer = http.get(f"/api/preventive/plans/{number}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def put(http: TestClient, number: str, to: str, code: int = 204) -> Any:
    body = {"to": to, "revision": seen(http, number)["revision"]}
    answer = http.post(f"/api/preventive/plans/{number}/state", json=body)
    assert answer.status_code == code, answer.text
    return answer


def raised(http: TestClient, *areas: str) -> dict[str, Any]:
    shown = {"filters": [{"column": "area", "how": "is", "values": areas}]} if areas else None
    answer = http.post("/api/preventive/raising", json={"shown": shown})
    assert answer.status_code == 200, answer.text
    return answer.json()


def running(http: TestClient, started: str = "2026-11-01", **cells: str) -> str:
    number: str = saved(http, started, **cells)
    put(http, number, "running")
    return number


def reported(order: str, ended: str | None, state: str = "done") -> None:
    """All tasks of a WO are done at a time, or open again."""
    with db.atomic():
        tasks = WorkOrder.get(WorkOrder.number == order).tasks
        wanted = {(order, t.number): {"state": state, "ended": ended and _at(ended)} for t in tasks}
        write("files", None, Edit("progress", "Told", changes_to("task", wanted)), checked=True)


def _at(day: str) -> Any:
    from datetime import UTC, datetime

    return datetime.fromisoformat(f"{day}T12:00:00").replace(tzinfo=UTC)


def next_dues(http: TestClient, number: str) -> dict[str, str]:
    return {s["asset"]: s["next_due"] for s in seen(http, number)["services"]}


def falling_due(forecast: dict[str, Any]) -> list[dict[str, Any]]:
    """The occurrences of a forecast, each with what it shares with others."""
    services, works = forecast["services"], forecast["works"]
    to_come = {"order": None, "request": None, "state": "to come", "can_raise": False}
    later = [x | {"day": day} | to_come for x in forecast["later"] for day in x["days"]]
    lines = [services[f["service"]] | works[f["work"]] | f for f in (*forecast["falls"], *later)]
    return sorted(lines, key=lambda line: (line["day"], line["plan"], line["asset"]))
