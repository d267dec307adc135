"""Permits: kinds, asked for by planners, given for a time or refused by whoever may; the gate, and the week,
keep to them."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from fastapi.testclient import TestClient

from nundine.core.timeline import week_monday
from nundine.store.reading.jobs import load_jobs
from nundine.store.week import Week as StoredWeek
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client
from tests.api.test_orders import changed, made
from tests.conftest import WEEK

ZONE = ZoneInfo("Europe/Zurich")
MONDAY = week_monday(WEEK)
TUESDAY_SIX, THURSDAY_SIX = (f"{MONDAY + timedelta(days=n)}T06:00:00+01:00" for n in (1, 3))


@pytest.fixture
def sven(client: Client) -> TestClient:
    return client("sven")


@pytest.fixture
def order(sven: TestClient) -> str:
    number = made(sven)
    changed(sven, number, permits="height; hot")
    return number


def permits(http: TestClient, number: str) -> dict[str, dict[str, Any]]:
    answer = http.get(f"/api/orders/{number}/beside")
    assert answer.status_code == 200, answer.text
    return {p["kind"]: p for p in answer.json()["permits"]}


def asked(http: TestClient, number: str, *kinds: str, code: int = 204) -> Any:
    answer = http.post(f"/api/orders/{number}/permits", json={"kinds": list(kinds)})
    assert answer.status_code == code, answer.text
    return answer


def decided(http: TestClient, number: str, kind: str, to: str, code: int = 204, **more: Any) -> Any:
    revision = permits(http, number)[kind]["revision"]
    body = {"to": to, "revision": revision, **more}
    answer = http.post(f"/api/orders/{number}/permits/{kind}", json=body)
    assert answer.status_code == code, answer.text
    return answer


def gate(number: str) -> str:
    return str(WorkOrder.get(WorkOrder.number == number).permit)


TIMES = {"valid_from": TUESDAY_SIX, "valid_to": THURSDAY_SIX}


def test_a_wo_waits_until_all_permits_that_it_needs_are_given(sven: TestClient, order: str) -> None:
    assert gate(order) == "waiting"
    assert {k: p["state"] for k, p in permits(sven, order).items()} == {"height": "needed", "hot": "needed"}
    asked(sven, order, "height", "hot")
    decided(sven, order, "height", "given", **TIMES)
    assert gate(order) == "waiting"
    decided(sven, order, "hot", "given", **TIMES)
    assert gate(order) == "granted"
    decided(sven, order, "hot", "ended")
    assert gate(order) == "waiting"


def test_a_wo_is_placed_within_the_time_of_its_permits_alone(sven: TestClient, order: str) -> None:
    asked(sven, order, "height", "hot")
    decided(sven, order, "height", "given", **TIMES)
    decided(
        sven, order, "hot", "given", valid_from=TUESDAY_SIX, valid_to=f"{MONDAY}T20:00:00+01:00", code=422
    )
    decided(sven, order, "hot", "given", **TIMES)
    week, _ = StoredWeek.get_or_create(name=WEEK)
    (job,) = load_jobs(week, ZONE, {order}, {order})
    assert job.earliest and job.earliest.isoformat() == TUESDAY_SIX
    assert job.latest and job.latest.isoformat() == THURSDAY_SIX


def test_a_refusal_says_why_and_it_can_be_asked_for_again(sven: TestClient, order: str) -> None:
    asked(sven, order, "hot")
    assert decided(sven, order, "hot", "refused", code=422).json()["field"] == "remark"
    decided(sven, order, "hot", "refused", remark="Dry grass below the tower")
    line = permits(sven, order)["hot"]
    assert (line["state"], line["remark"], line["by"]) == (
        "refused",
        "Dry grass below the tower",
        "Sven Ostrova",
    )
    asked(sven, order, "hot")
    assert permits(sven, order)["hot"]["state"] == "asked"
    assert asked(sven, order, "confined", code=422).json()["field"] == "permits"


def test_who_may_not_give_permits_is_refused(client: Client, sven: TestClient, order: str) -> None:
    asked(sven, order, "hot")
    decided(client("karl"), order, "hot", "given", code=403, **TIMES)
    decided(client("olivia"), order, "hot", "given", **TIMES)


def test_a_permit_decided_from_an_old_sight_of_it_is_refused(sven: TestClient, order: str) -> None:
    asked(sven, order, "hot")
    body = {"to": "given", "revision": permits(sven, order)["hot"]["revision"], **TIMES}
    assert sven.post(f"/api/orders/{order}/permits/hot", json=body).status_code == 204
    assert sven.post(f"/api/orders/{order}/permits/hot", json=body).status_code == 409


def test_a_kind_that_the_site_does_not_know_is_refused_where_it_is_entered(sven: TestClient) -> None:
    number = made(sven)
    now = sven.get(f"/api/orders/{number}").json()
    body = {
        "order": {**now["order"], "permits": "diving"},
        "tasks": now["tasks"],
        "revision": now["revision"],
    }
    answer = sven.post("/api/orders", json=body)
    assert answer.status_code == 422 and answer.json()["field"] == "permits"
