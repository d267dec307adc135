"""Meters: read, corrected, refused where they can't be right, and what falls due by them."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.store.ledger import LedgerChange
from nundine.store.meter import Reading
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from tests.api.conftest import Client
from tests.api.preventive import falling_due

METER = {"meter": "KM-1", "name": "Track km", "asset": "L1", "unit": "km"}


@pytest.fixture
def sven(client: Client) -> TestClient:
    http = client("sven")
    row = {"cells": METER, "revision": None}
    assert http.post("/api/preventive/registers/meters", json=row).status_code == 200
    return http


def told(http: TestClient, *readings: tuple[str, float], code: int = 200, **more: Any) -> Any:
    rows = [{"meter": "KM-1", "day": day, "value": value, **more} for day, value in readings]
    answer = http.post("/api/preventive/readings", json={"readings": rows})
    assert answer.status_code == code, answer.text
    return answer.json()


def seen(http: TestClient) -> dict[str, Any]:
    answer = http.get("/api/preventive/meters/KM-1")
    assert answer.status_code == 200, answer.text
    return answer.json()


def plan(http: TestClient, rungs: str, assets: str = "L1", started: str = "2026-10-04") -> str:
    cells = {"title": "Wheels", "job_plan": "JP-1002", "assets": assets, "rungs": rungs, "basis": "floating"}
    body = {"plan": cells, "started": started, "revision": None}
    number: str = http.post("/api/preventive/plans", json=body).json()["number"]
    revision = http.get(f"/api/preventive/plans/{number}").json()["revision"]
    state = {"to": "running", "revision": revision}
    assert http.post(f"/api/preventive/plans/{number}/state", json=state).status_code == 204
    return number


def due_of(http: TestClient, number: str) -> str | None:
    found: str | None = http.get(f"/api/preventive/plans/{number}").json()["services"][0]["next_due"]
    return found


def test_readings_say_how_fast_a_meter_counts_and_when_a_service_falls_due(sven: TestClient) -> None:
    """10 km a day since 4 October; 1,000 km are there on the hundredth day, 12 January."""
    number = plan(sven, "wheels: 1000 km")
    assert due_of(sven, number) is None
    told(sven, ("2026-10-04", 500), ("2026-10-24", 700), ("2026-11-13", 900))
    assert due_of(sven, number) == "2027-01-12"
    (due,) = seen(sven)["dues"]
    assert (due["target"], due["day"]) == (1500, "2027-01-12")
    assert seen(sven)["rate"] == {"a_day": 10, "days": 40, "readings": 3, "spread": 0}
    told(sven, ("2026-11-23", 1000 + 100))
    assert due_of(sven, number) < "2027-01-12"


def test_with_a_calendar_beside_whichever_comes_first_counts(sven: TestClient) -> None:
    told(sven, ("2026-10-04", 500), ("2026-11-13", 900))
    assert due_of(sven, plan(sven, "wheels: 1000 km or 2 months")) == "2026-12-04"
    assert due_of(sven, plan(sven, "wheels: 1000 km or 6 months")) == "2027-01-12"


def test_a_meter_counts_for_what_is_part_of_its_asset(sven: TestClient) -> None:
    told(sven, ("2026-10-04", 500), ("2026-11-13", 900))
    assert due_of(sven, plan(sven, "wheels: 1000 km", assets="L1-1")) == "2027-01-12"


def test_a_reading_below_the_one_before_is_refused_unless_the_meter_is_new(sven: TestClient) -> None:
    told(sven, ("2026-10-04", 500), ("2026-11-13", 900))
    bad = told(sven, ("2026-11-20", 90), code=422)
    assert "lies below 900" in bad["title"] and bad["field"] == "readings.0.value"
    assert len(seen(sven)["readings"]) == 2
    told(sven, ("2026-11-20", 90), fresh=True)
    assert [r["counted"] for r in seen(sven)["readings"]] == [500, 900, 900]
    told(sven, ("2026-11-23", 120))
    assert seen(sven)["readings"][-1]["counted"] == 930


def test_a_meter_that_begins_again_counts_on(sven: TestClient) -> None:
    rows = sven.get("/api/setup/registers/meters").json()["rows"]
    row = next(r for r in rows if r["cells"]["meter"] == "KM-1")
    body = {"cells": {**row["cells"], "rollover": "1000"}, "revision": row["revision"]}
    assert sven.post("/api/preventive/registers/meters", json=body).status_code == 200
    told(sven, ("2026-10-04", 900), ("2026-11-13", 50))
    assert seen(sven)["readings"][-1]["counted"] == 1050


def test_hours_count_no_more_than_a_day_has(sven: TestClient) -> None:
    row = {"cells": {**METER, "meter": "H-1", "unit": "h"}, "revision": None}
    assert sven.post("/api/preventive/registers/meters", json=row).status_code == 200
    told(sven, ("2026-11-13", 900), meter="H-1")
    bad = told(sven, ("2026-11-15", 1900), code=422, meter="H-1")
    assert "more than 2 days have" in bad["title"]


def test_a_wrong_reading_is_corrected_or_taken_back_and_the_ledger_keeps_it(sven: TestClient) -> None:
    told(sven, ("2026-11-13", 900))
    told(sven, ("2026-11-13", 800))
    assert [r["value"] for r in seen(sven)["readings"]] == [800]
    body = {"meter": "KM-1", "day": "2026-11-13"}
    assert sven.post("/api/preventive/readings/taking-back", json=body).status_code == 204
    assert seen(sven)["readings"] == []
    kept = LedgerChange.select().where(LedgerChange.noun == "reading").order_by(LedgerChange.id.desc())
    assert [(c.before or {}).get("value") for c in kept.limit(3)] == [800, 900, None]


def test_what_is_still_to_come_or_of_no_meter_is_refused_and_nothing_is_kept(sven: TestClient) -> None:
    before = Reading.select().count()
    rows = [
        {"meter": "KM-1", "day": "2026-11-20", "value": 1},
        {"meter": "none", "day": "2026-11-20", "value": 1},
    ]
    assert sven.post("/api/preventive/readings", json={"readings": rows}).status_code == 404
    assert told(sven, ("2026-11-24", 5), code=422)["field"] == "readings.0.day"
    assert Reading.select().count() == before


def test_the_list_shows_the_last_reading(sven: TestClient) -> None:
    told(sven, ("2026-10-04", 500), ("2026-11-13", 900))
    question = {"find": "Track km"}
    answer = sven.get("/api/lists/meters/rows", params={"q": json.dumps(question)})
    assert answer.status_code == 200, answer.text
    (row,) = answer.json()["rows"]
    assert (row["cells"]["value"], row["cells"]["read"]) == (900, "2026-11-13")


def test_a_forecast_projects_meters(sven: TestClient) -> None:
    PreventivePlan.update(state="ended").execute()
    Occurrence.delete().execute()
    told(sven, ("2026-10-04", 500), ("2026-11-13", 900))
    number = plan(sven, "wheels: 1000 km")
    found = sven.get("/api/preventive/forecast", params={"first": "2026-11-23", "days": 364}).json()
    assert [line["day"] for line in falling_due(found)] == [
        "2027-01-12",
        "2027-04-22",
        "2027-07-31",
        "2027-11-08",
    ]
    assert Service.select().join(PreventivePlan).where(PreventivePlan.number == number).count() == 1


def test_each_meter_shows_only_what_hangs_on_itself(sven: TestClient) -> None:
    row = {"cells": {**METER, "meter": "KM-2", "asset": "M1"}, "revision": None}
    assert sven.post("/api/preventive/registers/meters", json=row).status_code == 200
    number = plan(sven, "wheels: 1000 km", assets="M1")
    assert seen(sven)["dues"] == []
    other = sven.get("/api/preventive/meters/KM-2").json()
    assert [d["plan"] for d in other["dues"]] == [number]
