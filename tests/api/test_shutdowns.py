"""Shutdowns: work hangs on them, moves with them, is raised for them, and its longest chain is told."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.shutdown import Shutdown
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client

ROW = {
    "shutdown": "SPR-27",
    "name": "Spring",
    "series": "spring",
    "first": "2027-04-12",
    "last": "2027-04-23",
}


@pytest.fixture
def sven(client: Client) -> TestClient:
    PreventivePlan.update(state="ended").execute()
    Occurrence.delete().execute()
    http = client("sven")
    answer = http.post("/api/preventive/registers/shutdowns", json={"cells": ROW, "revision": None})
    assert answer.status_code == 200, answer.text
    return http


def seen(http: TestClient, key: str = "SPR-27") -> dict[str, Any]:
    answer = http.get(f"/api/preventive/shutdowns/{key}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def plan(http: TestClient, rungs: str, notice: str = "14") -> str:
    cells = {"title": "Rollers", "job_plan": "JP-1002", "assets": "L1; L2", "rungs": rungs, "notice": notice}
    body = {"plan": cells, "started": "2026-11-01", "revision": None}
    number: str = http.post("/api/preventive/plans", json=body).json()["number"]
    revision = http.get(f"/api/preventive/plans/{number}").json()["revision"]
    state = {"to": "running", "revision": revision}
    assert http.post(f"/api/preventive/plans/{number}/state", json=state).status_code == 204
    return number


def moved(http: TestClient, first: str, last: str, trial: bool) -> dict[str, Any]:
    body = {"first": first, "last": last, "revision": seen(http)["revision"], "trial": trial}
    answer = http.post("/api/preventive/shutdowns/SPR-27/moving", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_services_fall_due_with_the_shutdown_and_are_raised_for_it_at_once(sven: TestClient) -> None:
    number = plan(sven, "spring: shutdown spring +2")
    assert [(s["plan"], s["due"]) for s in seen(sven)["services"]] == [(number, "2027-04-14")] * 2
    made = sven.post("/api/preventive/shutdowns/SPR-27/raising").json()["made"]
    assert len(made) == 2
    assert seen(sven)["services"] == []
    assert {j["number"] for j in seen(sven)["jobs"]} == {m["order"] for m in made}
    assert sven.post("/api/preventive/shutdowns/SPR-27/raising").json()["made"] == []
    order = WorkOrder.get(WorkOrder.number == made[0]["order"])
    assert order.shutdown.key == "SPR-27" and order.due.date().isoformat() == "2027-04-14"


def test_services_are_listed_by_the_series_with_which_they_fall_due(sven: TestClient) -> None:
    number, other = plan(sven, "a: shutdown spring +2"), plan(sven, "a: 3 months or shutdown spring")
    free = plan(sven, "a: 3 months")
    asked = {"filters": [{"column": "shutdown", "how": "is", "values": ["spring"]}]}
    rows = sven.get("/api/lists/services/rows", params={"q": json.dumps(asked)}).json()["rows"]
    assert {number, other} <= {r["cells"]["plan"] for r in rows}
    assert free not in {r["cells"]["plan"] for r in rows}


def test_a_calendar_beside_it_comes_first_where_it_does(sven: TestClient) -> None:
    number = plan(sven, "a: shutdown spring or 3 months")
    services = sven.get(f"/api/preventive/plans/{number}").json()["services"]
    assert {s["next_due"] for s in services} == {"2027-02-01"}


def test_moving_it_tells_first_and_then_moves_the_days_of_its_wos(
    sven: TestClient,
) -> None:
    plan(sven, "spring: shutdown spring +2")
    sven.post("/api/preventive/shutdowns/SPR-27/raising")
    told = moved(sven, "2027-03-22", "2027-04-02", trial=True)
    assert told["days"] == -21 and len(told["orders"]) == 2
    assert Shutdown.get(Shutdown.key == "SPR-27").first.isoformat() == "2027-04-12"
    assert moved(sven, "2027-03-22", "2027-04-02", trial=False) == told
    after = [j["due"] for j in seen(sven)["jobs"]]
    assert after == [o["to"] for o in told["orders"]]
    # 18:00 by the clock of the site on both sides of the change to summer time
    assert {due[11:16] for due in after} == {"17:00"} and told["orders"][0]["due"][11:16] == "16:00"


def test_what_is_not_raised_falls_due_with_its_new_date(sven: TestClient) -> None:
    number = plan(sven, "spring: shutdown spring +2")
    assert moved(sven, "2027-05-03", "2027-05-14", trial=True)["services"] == 2
    moved(sven, "2027-05-03", "2027-05-14", trial=False)
    services = sven.get(f"/api/preventive/plans/{number}").json()["services"]
    assert {s["next_due"] for s in services} == {"2027-05-05"}


def test_its_wos_stay_where_it_does_not_move_them(sven: TestClient) -> None:
    Shutdown.update(moves_work=False).where(Shutdown.key == "SPR-27").execute()
    plan(sven, "spring: shutdown spring +2")
    sven.post("/api/preventive/shutdowns/SPR-27/raising")
    before = [j["due"] for j in seen(sven)["jobs"]]
    assert moved(sven, "2027-05-03", "2027-05-14", trial=False)["orders"] == []
    assert [j["due"] for j in seen(sven)["jobs"]] == before


def test_the_overhaul_shows_its_jobs_their_chain_and_hours_against_availability(
    sven: TestClient,
) -> None:
    found = seen(sven, "AUT-26")
    assert len(found["jobs"]) == 60
    assert found["path"] > 0 and min(j["slack"] for j in found["jobs"]) == 0
    craft = found["crafts"][0]
    assert craft["needed"] > 0 and craft["there"] > 0 and len(craft["days"]) == 33
    (line,) = [s for s in sven.get("/api/preventive/shutdowns").json() if s["shutdown"] == "AUT-26"]
    assert line["orders"] == 60


def test_a_shutdown_that_ends_before_it_begins_is_refused(sven: TestClient) -> None:
    row = {**ROW, "shutdown": "X", "last": "2027-04-01"}
    answer = sven.post("/api/preventive/registers/shutdowns", json={"cells": row, "revision": None})
    assert answer.status_code == 422 and answer.json()["field"] == "last"
